import { InputError } from '../../errors.js';
import type { EvidenceKind } from '../kind.js';
import type { SoakRecord } from '../records.js';
import { refuseOthers } from '../values.js';

/** Two weeks of driving with a recorder on. */
const MOST_MINUTES = 20_160;
const MOST_DROPS = 10_000;

/** Run, or driven, until a fault that comes and goes would have shown. It weighs nothing by itself: its worth is its rate. */
export const soak: EvidenceKind = {
  key: 'Soak',
  places: [
    {
      at: 'vehicle',
      title: 'Soak',
      stage: 'recheck',
      states: ['idle', 'loaded', 'cranking', 'prime'],
      howTo:
        'As it failed before: hot, loaded, over bumps. Count every drop, and the minutes under those conditions only.',
      value: {
        type: 'record',
        holds: '`{"minutes","drops"}`: how long it ran as it failed before, and how often the fault came',
        read: readSoak,
        schema: {
          type: 'object',
          required: ['minutes', 'drops'],
          properties: {
            minutes: { type: 'number', exclusiveMinimum: 0, maximum: MOST_MINUTES },
            drops: { type: 'integer', minimum: 0, maximum: MOST_DROPS },
          },
        },
      },
    },
  ],
  anyState: true,
  title: () => 'Let it run as it failed before, and count the drops',
  minutes: () => 30,
  danger: () => undefined,
  foresee: () => [],
  probe: { minutes: 30, drops: 0 },
  example: { value: { minutes: 45, drops: 3 }, state: 'idle' },
};

function readSoak(value: unknown): SoakRecord {
  const { minutes, drops } = (value ?? {}) as Partial<SoakRecord>;
  refuseOthers(value, ['minutes', 'drops']);
  if (typeof minutes !== 'number' || !(minutes > 0 && minutes <= MOST_MINUTES)) {
    throw new InputError('A soak lasts minutes to two weeks; enter its minutes.');
  }
  if (typeof drops !== 'number' || !Number.isInteger(drops) || drops < 0 || drops > MOST_DROPS) {
    throw new InputError('Enter how often the fault came: a whole number, or 0.');
  }
  return { minutes, drops };
}
