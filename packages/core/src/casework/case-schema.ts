import { HELPS } from '../evidence/how-taken.js';
import { NOT_POSSIBLE } from '../evidence/entry.js';
import { READING_KINDS, type ReadingKind } from '../evidence/reading.js';
import { EVIDENCE } from '../evidence/registry.js';
import { FILE_UNITS, schemaOf, type ValueSchema } from '../evidence/values.js';
import { NUMBER_RULES, SCHOOL_RULES } from '../rules/house-rules.js';
import { KEY_STATES } from '../terms/key-states.js';
import { REFERENCES, TRUSTS } from '../terms/references.js';
import { VERDICTS } from '../terms/verdicts.js';
import { PATHS } from '../vehicle/templates.js';

/**
 * JSON Schema (draft-07) of a case file, made of what the evidence's registry and the house rules say.
 * @param system the schema of `jarro.system/1`
 */
export function caseSchema(system: object): object {
  const rules = {
    ...Object.fromEntries(
      Object.entries(NUMBER_RULES).map(([name, { title, least, most, unit }]) => [
        name,
        {
          type: 'number',
          minimum: least,
          maximum: most,
          description: `${title}, ${unit === 'share' ? '0 to 1' : unit}`,
        },
      ]),
    ),
    ...Object.fromEntries(
      Object.entries(SCHOOL_RULES).map(([name, { title, schools }]) => [
        name,
        { enum: Object.keys(schools), description: title },
      ]),
    ),
  };
  const { supplyDropV, groundDropV, order } = rules as Record<string, object>;
  return {
    $schema: 'http://json-schema.org/draft-07/schema#',
    $id: 'jarro.case/1',
    title: 'A case: the supply path, and everything read on it',
    type: 'object',
    required: ['format', 'system', 'readings'],
    definitions: { profile: system },
    properties: {
      format: { const: 'jarro.case/1' },
      system: {
        anyOf: [
          { $ref: '#/definitions/profile' },
          {
            type: 'object',
            required: ['template'],
            properties: { template: { enum: PATHS } },
            description: 'A shipped path; whatever else is given replaces the template’s',
          },
        ],
      },
      complaint: { type: 'string', description: 'In the customer’s words' },
      batterySupport: { enum: ['none', 'charger', 'jump-pack'] },
      order,
      limits: {
        type: 'object',
        description: 'Short for the two drops of `rules`',
        properties: { supplyDropV, groundDropV },
      },
      closedCases: {
        type: 'object',
        description: 'The shop’s own closed cases by verdict; they count where the rule ownCases says so',
        propertyNames: { enum: Object.keys(VERDICTS) },
        additionalProperties: { type: 'integer', minimum: 0 },
      },
      readings: { type: 'array', maxItems: 2000, items: readingSchema() },
      rules: { type: 'object', description: 'House rules; what is absent is usual', properties: rules },
    },
  };
}

function readingSchema(): object {
  const text = (description: string) => ({ type: 'string', description });
  return {
    type: 'object',
    required: ['kind', 'state', 'value'],
    properties: {
      id: text('Unique; r1, r2 … when absent'),
      kind: { enum: READING_KINDS },
      at: text('A station’s id, or what was read; see the page of reading kinds'),
      value: { description: `By kind; "${NOT_POSSIBLE}" answers any question` },
      unit: {
        enum: [...new Set(Object.values(FILE_UNITS).flatMap((units) => Object.keys(units)))],
        description: 'SI when absent: V, A, ohm, Pa, s; duties and trims in %',
      },
      state: { enum: KEY_STATES, description: 'Key state' },
      reference: {
        enum: REFERENCES,
        description:
          'Where the other lead was; battery- is meant when absent, but only a stated battery post rules out the meter’s own ground',
      },
      fault: {
        enum: ['present', 'absent'],
        description: 'Whether the fault showed at that moment; present when absent',
      },
      trust: { enum: TRUSTS },
      unloaded: { type: 'boolean', description: 'The connector was off: no current flowed' },
      helped: {
        enum: HELPS,
        description:
          'How the circuit was helped while it was read: relay bridged, pump fed and grounded directly, module passed by',
      },
      boosted: {
        type: 'boolean',
        description: 'A charger or jump pack was on for this one, or was off; as batterySupport says when absent',
      },
      pierced: { type: 'boolean', description: 'The insulation was pierced for it' },
      commandPercent: { type: 'number', minimum: 0, maximum: 100, description: 'Duty commanded meanwhile, %' },
    },
    allOf: READING_KINDS.map((kind) => ({
      if: { properties: { kind: { const: kind } } },
      then: { properties: { value: { anyOf: [...valuesOf(kind).map(schemaOf), { const: NOT_POSSIBLE }] } } },
    })),
  };
}

/** Everything that a kind's value may be, wherever it is read; each once. */
export function valuesOf(kind: ReadingKind): readonly ValueSchema[] {
  const { places = [], shaped, stations } = EVIDENCE[kind];
  const all = [
    ...(stations ? [stations.value] : []),
    ...places.map(({ value }) => value),
    ...(shaped ? [shaped.value] : []),
  ];
  return [...new Set(all)];
}
