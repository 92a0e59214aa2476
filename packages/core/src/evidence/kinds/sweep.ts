import { InputError } from '../../errors.js';
import { LARGEST_CURRENT_A, LARGEST_SPEED_RPM, LARGEST_VOLTAGE_V, LOW_SIDE_MOST_PA } from '../../limits/limits.js';
import { onTheLine } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import type { Reading } from '../reading.js';
import type { SweepRecord, SweepStep } from '../../measure/pulses/sweep-record.js';
import { minutesToClamp } from '../site.js';
import { refuseOthers } from '../values.js';

/** What may stand in a step beside its command, with the most it can be, SI. */
const READ = {
  outputPercent: 100,
  currentA: LARGEST_CURRENT_A,
  pressurePa: LOW_SIDE_MOST_PA,
  supplyV: LARGEST_VOLTAGE_V,
  rpm: LARGEST_SPEED_RPM,
} as const satisfies Partial<Record<keyof SweepStep, number>>;
const MOST_STEPS = 20;

/** The command stepped by scan tool, or by how it is driven: what the pump does at each. */
export const sweep: EvidenceKind = {
  key: 'Duty sweep',
  places: [
    {
      at: 'module',
      title: 'Duty sweep',
      stage: 'control',
      states: ['idle', 'prime', 'cranking', 'loaded'],
      value: {
        type: 'record',
        holds: `\`{"steps":[{"commandPercent", …}]}\`: each with any of ${Object.keys(READ).join(', ')}`,
        read: readSweep,
        schema: {
          type: 'object',
          required: ['steps'],
          properties: {
            steps: {
              type: 'array',
              minItems: 1,
              maxItems: MOST_STEPS,
              items: {
                type: 'object',
                required: ['commandPercent'],
                properties: {
                  commandPercent: { type: 'number', minimum: 0, maximum: 100 },
                  ...Object.fromEntries(
                    Object.entries(READ).map(([name, maximum]) => [name, { type: 'number', minimum: 0, maximum }]),
                  ),
                },
              },
            },
          },
        },
      },
    },
  ],
  title: ({ state }) => `Step the command by scan tool and read current and pressure at each, ${state}`,
  minutes: (site) => minutesToClamp(site) + 15,
  cautions: onTheLine,
  danger: () => 'power-path',
  // It is weighed step by step: see `stepsOf`.
  foresee: () => [],
  probe: { steps: [{ commandPercent: 50 }] },
  example: { value: { steps: [{ commandPercent: 50, currentA: 4.1, pressurePa: 300000 }] }, state: 'idle' },
};

function readSweep(value: unknown): SweepRecord {
  const { steps } = (value ?? {}) as Partial<SweepRecord>;
  if (!Array.isArray(steps) || steps.length === 0 || steps.length > MOST_STEPS) {
    throw new InputError(`A duty sweep has 1 to ${MOST_STEPS} steps.`);
  }
  refuseOthers(value, ['steps']);
  for (const step of steps as readonly unknown[]) {
    refuseOthers(step, ['commandPercent', ...Object.keys(READ)]);
    const numbers = (step ?? {}) as Readonly<Record<string, unknown>>;
    if (!isWithin(numbers.commandPercent, 100)) throw new InputError('Each step names its command, 0 to 100 %.');
    for (const [name, most] of Object.entries(READ)) {
      if (numbers[name] !== undefined && !isWithin(numbers[name], most)) {
        throw new InputError(`${name} of a step lies between 0 and ${most}.`);
      }
    }
  }
  return { steps: steps as readonly SweepStep[] };
}

function isWithin(value: unknown, most: number): boolean {
  return typeof value === 'number' && value >= 0 && value <= most;
}

/** Between the id of a sweep and what names its steps. */
export const STEP = ' step ';

/** A sweep as the readings that it is made of, each under its own command; any other reading as itself. */
export function stepsOf(reading: Reading, { pump, supply }: { pump: string; supply: string | undefined }): Reading[] {
  if (reading.kind !== 'sweep' || typeof reading.value !== 'object' || !('steps' in reading.value)) return [reading];
  return reading.value.steps.flatMap((step, i): Reading[] => {
    const { commandPercent, outputPercent, currentA, pressurePa, supplyV } = step;
    const at = (kind: Reading['kind'], place: string | undefined, value: number | undefined): Reading[] =>
      value === undefined || place === undefined
        ? []
        : [{ ...reading, id: `${reading.id}${STEP}${i}/${kind}`, kind, at: place, value, commandPercent }];
    return [
      ...at('duty', 'output', outputPercent),
      ...at('current', pump, currentA),
      ...at('pressure', 'rail', pressurePa),
      ...at('voltage', supply, supplyV),
    ];
  });
}
