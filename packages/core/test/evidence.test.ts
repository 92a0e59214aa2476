import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Ajv from 'ajv';
import fc from 'fast-check';
import {
  caseSchema,
  cautionsFor,
  checkCase,
  checkEntry,
  ENTRY_KINDS,
  EVIDENCE,
  findMeasure,
  templateProfile,
  type EntryKind,
  type Family,
  type PathKind,
  type Reading,
  type ValueSchema,
} from '../src/index.js';
import { read, volts, weigh, weightOf } from './support/readings.js';

const system = JSON.parse(
  readFileSync(join(__dirname, '../../../docs/formats/jarro.system-1.schema.json'), 'utf8'),
) as Record<string, unknown>;
const validate = new Ajv().compile(caseSchema({ ...system, $schema: undefined, $id: undefined }));

/** Every place that a kind can be read at on a path with a driver module. */
function placesOf(kind: EntryKind): readonly string[] {
  const { places = [], stations, shaped } = EVIDENCE[kind];
  const onPath = stations ? templateProfile('P4').stations.map(({ id }) => id) : [];
  return [...places.map(({ at }) => at), ...onPath, ...(shaped ? ['P0231', 'U0109'] : [])];
}

/** Values of all sorts: such as the schema allows, and such as nothing does. */
function valuesFor(schema: ValueSchema): fc.Arbitrary<unknown> {
  const junk = fc.constantFrom<unknown>('maybe', null, true, [], {}, { points: 3 }, Number.NaN, 'yes');
  const words = schema.words?.length ? fc.constantFrom<unknown>(...schema.words) : junk;
  if (schema.type !== 'number') return fc.oneof(words, junk);
  const { least, most } = schema;
  const share = fc.integer({ min: -200, max: 1200 }).map((thousandths) => thousandths / 1000);
  return fc.oneof(
    share.map((of) => least + of * (most - least)),
    words,
    junk,
  );
}

describe('one kind of evidence is one thing everywhere', () => {
  const anything = fc.constantFrom(...ENTRY_KINDS).chain((kind) =>
    fc.constantFrom(...placesOf(kind)).chain((at) => {
      const measure = findMeasure(kind, at);
      if (!measure) throw new Error(`${kind} of ${at}`);
      return fc.record({ kind: fc.constant(kind), at: fc.constant(at), value: valuesFor(measure.value) });
    }),
  );

  it('what the bench keeps, a case file takes and its published schema describes', () => {
    let kept = 0;
    fc.assert(
      fc.property(anything, ({ kind, at, value }) => {
        const [state] = findMeasure(kind, at)?.states ?? [];
        try {
          checkEntry(kind, at, value, state);
        } catch {
          return;
        }
        kept++;
        const content = {
          format: 'jarro.case/1',
          system: { template: 'P4' },
          readings: [{ kind, at, value, state }],
        };
        expect(checkCase(content)).not.toHaveProperty('problems');
        expect({ valid: validate(content), errors: validate.errors }).toMatchObject({ valid: true });
      }),
      { numRuns: 1500 },
    );
    expect(kept).toBeGreaterThan(450);
  });

  it('every kind says what to do, how long it takes and what can hurt, at every place', () => {
    const profile = templateProfile('P4');
    for (const kind of ENTRY_KINDS) {
      for (const at of placesOf(kind)) {
        const cautions = cautionsFor({ kind, at, keyState: 'prime' }, profile);
        expect(cautions.every((text) => text.length > 10)).toBe(true);
      }
    }
    // Fuel under pressure, and power on a lead, always warn.
    for (const [kind, at] of [
      ['pressure', 'rail'],
      ['hold', 'rail'],
      ['volume', 'rail'],
      ['bridge', 'relay'],
      ['direct-feed', 'pump'],
      ['module-bypass', 'module'],
      ['new-fuse', 'fuse'],
      ['sweep', 'module'],
    ] as const) {
      expect(cautionsFor({ kind, at, keyState: 'prime' }, profile)).not.toEqual([]);
    }
  });
});

describe('what real jobs bring moves the weights the way it should', () => {
  const dead = read('capture', 'pump', { pattern: 'no-current', meanA: 0 }, 'prime');
  const starved = [
    read('pressure', 'rail', 150e3, 'idle'),
    volts('pump', 13.2, 'idle'),
    read('current', 'pump', 4, 'idle'),
  ];

  it.each<[string, PathKind, readonly Reading[], Reading, Family, Family]>([
    ['the scan tool runs it', 'P4', [dead], read('actuator', 'pump', 'runs'), 'module-command', 'module'],
    ['the scan tool doesn’t', 'P4', [dead], read('actuator', 'pump', 'dead'), 'module', 'module-command'],
    ['volts fell first', 'P1', [], read('fell-first', 'stall', 'voltage', 'idle'), 'relay-contact', 'pump-mechanical'],
    ['pressure fell first', 'P1', [], read('fell-first', 'stall', 'pressure', 'idle'), 'hydraulic', 'relay-contact'],
    [
      'the current went with the volts there',
      'P1',
      [],
      read('fell-first', 'current', 'gone', 'idle'),
      'pump-electrical',
      'relay-contact',
    ],
    [
      'the current went with the volts',
      'P1',
      [],
      read('fell-first', 'current', 'with-volts', 'idle'),
      'relay-contact',
      'pump-electrical',
    ],
    [
      'the current broke off by itself',
      'P1',
      [],
      read('fell-first', 'current', 'broke-off', 'idle'),
      'relay-contact',
      'pump-mechanical',
    ],
    ['the current rose', 'P1', [], read('fell-first', 'current', 'more', 'idle'), 'pump-mechanical', 'relay-contact'],
    ['volts are lost on the way', 'P1', [], read('source', 'feed', 0.9), 'feed-wiring', 'pump-mechanical'],
    ['hardly any are', 'P1', starved, read('source', 'feed', 0.1, 'idle'), 'pump-mechanical', 'feed-wiring'],
    [
      'they are lost behind the pump',
      'P1',
      [],
      read('source', 'feed', 0.9, 'prime', { reference: 'local-ground' }),
      'ground-wiring',
      'pump-mechanical',
    ],
    [
      'one injector differs',
      'P1',
      [],
      read('injectors', 'balance', 'one-differs', 'idle'),
      'not-fuel',
      'pump-mechanical',
    ],
    ['the engine died first', 'P1', [], read('fell-first', 'stall', 'engine', 'idle'), 'not-fuel', 'hydraulic'],
    ['a code of its own', 'P4', [dead], read('code', 'U0109', 'stored', 'off'), 'module', 'pump-electrical'],
    ['"none" at the feed', 'P1', [dead], read('voltage', 'pump', 'none'), 'feed-wiring', 'pump-electrical'],
    ['"full" at the feed', 'P1', [dead], read('voltage', 'pump', 'full'), 'pump-electrical', 'feed-wiring'],
    ['it falls at once', 'P1', [], read('hold', 'rail', 'falls-at-once', 'after-off'), 'hydraulic', 'healthy'],
    ['nothing squirts', 'P1', [], read('pressure', 'rail', 'none', 'prime'), 'fuse', 'healthy'],
    [
      'a dark lamp through the load',
      'P1',
      [dead],
      read('test-light', 'relay', 'off', 'off', { reference: 'battery+', unloaded: true }),
      'pump-electrical',
      'relay-contact',
    ],
    [
      'a lit one',
      'P1',
      [dead],
      read('test-light', 'relay', 'bright', 'off', { reference: 'battery+', unloaded: true }),
      'relay-contact',
      'pump-electrical',
    ],
    ['the neighbour’s fuse is full', 'P1', [volts('fuse', 6)], volts('neighbour_fuse', 12.4), 'fuse', 'supply'],
    ['burnt bars on a screen', 'P1', [], read('pattern', 'pump', 'burnt-bars', 'idle'), 'pump-electrical', 'hydraulic'],
    ['a kick at the injector', 'P1', [], volts('injector_kick', 37, 'cranking'), 'pump-electrical', 'not-fuel'],
    ['no on-time', 'P1', [], read('timing', 'injector_on_time', 0, 'cranking'), 'not-fuel', 'pump-electrical'],
    [
      'replaced before',
      'P1',
      starved,
      read('check', 'pump_replaced', 'for-this', 'off'),
      'hydraulic',
      'pump-mechanical',
    ],
    ['no coil feed', 'P1', [dead], volts('coil_feed', 0), 'relay-control', 'relay-contact'],
    ['the module’s ground hangs', 'P4', [dead], volts('module_ground', 11), 'ground-wiring', 'module'],
    ['a dead lift pump', 'P8', [dead], read('heard', 'lift_pump', 'silent'), 'relay-contact', 'hydraulic'],
  ])('%s', (_name, path, before, reading, up, down) => {
    const odds = (readings: readonly Reading[]) => {
      const weighed = weigh(path, readings);
      return weightOf(weighed, up) / Math.max(1e-12, weightOf(weighed, down));
    };
    expect(odds([...before, reading])).toBeGreaterThan(1.25 * odds(before));
  });

  it('half the current at every step, well fed and well asked, is the module (common practice: 53 % gives 1.5 A and 8 psi)', () => {
    const steps = [40, 53, 66].map((commandPercent) => ({
      commandPercent,
      outputPercent: commandPercent / 2,
      currentA: 1.5,
      pressurePa: 55e3,
      supplyV: 13.8,
    }));
    const asked = read('duty', 'command', 53, 'idle', { commandPercent: 53 });
    const [first] = weigh('P4', [read('sweep', 'module', { steps }, 'idle'), asked]).families;
    expect(first).toMatchObject({ family: 'module' });
    expect(first.probability).toBeGreaterThan(0.9);
  });

  it('a jump pack taken off for one reading shows the battery that it hid', () => {
    const cranking = (boosted: boolean) =>
      weightOf(weigh('P1', [read('battery', 'cranking', 8.2, 'cranking', { boosted })]), 'supply');
    expect(cranking(false)).toBeGreaterThan(2 * cranking(true));
  });

  it('what was read on a jump pack, or under a command of its own, proves no drop', () => {
    const proven = (how: Partial<Reading>) =>
      weigh('P1', [
        volts('battery', 12.4),
        volts('pump', 12.2, 'prime', how),
        volts('ground-pin', 0.06),
        read('current', 'pump', 4.4),
        read('capture', 'pump', { meanA: 4.4, pattern: 'burnt-bars', ripplePercent: 34, badBars: 2 }),
      ]).gate['replace-pump'].allowed;
    expect(proven({})).toBe(true);
    expect(proven({ boosted: true })).toBe(false);
    expect(proven({ commandPercent: 40 })).toBe(false);
  });

  it('of two pumps the one that is dead on its own feed is condemned, and named', () => {
    const readings = [
      read('heard', 'lift_pump', 'silent'),
      volts('lift_pump', 12.1),
      volts('battery', 12.4),
      read('current', 'lift_pump', 0),
      read('direct-feed', 'lift_pump', 'dead'),
      read('pressure', 'rail', 10e3, 'prime'),
      read('check', 'restraint_event', 'none', 'off'),
      read('check', 'fuel_in_tank', 'yes', 'off'),
    ];
    const { gate } = weigh('P8', readings);
    expect(gate['replace-pump']).toMatchObject({ allowed: true, station: 'lift_pump' });
  });
});
