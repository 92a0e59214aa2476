import { InputError } from '../../errors.js';
import { fitHold, judgeHold } from '../../measure/pressure/hold.js';
import { HOLD_BLOCKS, type HoldRecord } from '../../measure/pressure/hold-record.js';
import { onTheLine } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { told } from '../told.js';
import { refuseOthers } from '../values.js';
import { GAUGE } from './pressure.js';

/** Pressure watched after shut-down. */
export const hold: EvidenceKind = {
  key: 'Hold',
  places: [
    {
      at: 'rail',
      title: 'Hold after shut-down',
      stage: 'pressure',
      states: ['after-off', 'off', 'prime', 'cranking', 'idle', 'loaded'],
      value: {
        type: 'record',
        holds: '`{"points":[[s, Pa], …],"blocked":"none"}`: three points or more; or `falls-at-once`, `holds`',
        words: ['holds', 'falls-at-once'],
        read: readHold,
        schema: {
          type: 'object',
          required: ['points'],
          properties: {
            points: {
              type: 'array',
              minItems: 3,
              maxItems: 2000,
              items: { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 },
            },
            blocked: { enum: HOLD_BLOCKS },
          },
        },
      },
    },
  ],
  anyState: true,
  title: () => 'Watch the pressure after shut-down',
  minutes: () => 11,
  cautions: onTheLine,
  danger: () => 'pressure',
  foresee: holdParts,
  probe: {
    points: [
      [0, 3e5],
      [60, 2.9e5],
      [120, 2.8e5],
      [240, 2.7e5],
    ],
    blocked: 'none',
  },
  example: {
    value: {
      points: [
        [0, 380000],
        [120, 300000],
        [300, 210000],
      ],
      blocked: 'none',
    },
    state: 'after-off',
  },
};

export const FEWEST_HOLD_POINTS = 3;
const MOST_HOLD_POINTS = 2000;
/** A night. */
const LONGEST_HOLD_S = 86_400;

function readHold(value: unknown): HoldRecord {
  const { points, blocked = 'none' } = (value ?? {}) as Partial<HoldRecord>;
  if (!Array.isArray(points) || points.length < FEWEST_HOLD_POINTS || points.length > MOST_HOLD_POINTS) {
    throw new InputError(`A hold test needs at least ${FEWEST_HOLD_POINTS} points over its time.`);
  }
  refuseOthers(value, ['points', 'blocked']);
  if (!HOLD_BLOCKS.includes(blocked)) throw new InputError('Say which line was blocked, or none.');
  let last = -Infinity;
  for (const point of points as unknown[]) {
    const [atS, pascal] = Array.isArray(point) ? (point as unknown[]) : [];
    if (typeof atS !== 'number' || typeof pascal !== 'number' || !Number.isFinite(atS) || !Number.isFinite(pascal)) {
      throw new InputError('Each point of a hold test is a time and a pressure.');
    }
    if (Math.abs(atS) > LONGEST_HOLD_S)
      throw new InputError('A hold test lasts up to a day; its times are in seconds.');
    if (atS <= last) throw new InputError('The times of a hold test must rise from point to point.');
    if (pascal < GAUGE.least || pascal > GAUGE.most) throw new InputError(`Hold: ${GAUGE.beyond}`);
    last = atS;
  }
  return { points: points as HoldRecord['points'], blocked };
}

const rates = new WeakMap<HoldRecord, { readonly perMin: number | undefined }>();

/** Share of its pressure that a rail loses in a minute; the fit is the same whatever the hypothesis, so made once a record. */
function rateOf(record: HoldRecord): number | undefined {
  let known = rates.get(record);
  if (!known) {
    const result = fitHold(record);
    const told = 'fit' in result && judgeHold(result.fit).standing !== 'too-short';
    const start = Math.max(LEAST_START_PA, record.points[0][1]);
    rates.set(record, (known = { perMin: told ? Math.max(LEAST_RATE, result.fit.ratePaPerMin / start) : undefined }));
  }
  return known.perMin;
}

const LEAST_START_PA = 20e3;
const LEAST_RATE = 1e-3;
/** A sound rail loses some per cent a minute, a leaking one some tens (common practice, no published source). */
const SOUND_LOSS = 0.02;
const SOUND_SPREAD = 0.9;
const LEAK_SPREAD = 0.6;

/** How fast the rail loses its pressure after shut-down, as the logarithm of the share lost a minute. */
function holdParts({ value }: Reading, { fault, vehicle }: Scene): Part[] {
  if (typeof value === 'string') {
    return told(value, answers({ 'falls-at-once': fault.leaksDown === undefined ? 0.03 : 0.85 }, 'holds'));
  }
  const rate = rateOf(value as HoldRecord);
  if (rate === undefined) return [];
  const leaks = fault.leaksDown === undefined ? undefined : fault.leaksDown / vehicle.profile.pump.pressurePa;
  const mean = Math.log(leaks ?? SOUND_LOSS);
  return [{ value: Math.log(rate), of: () => mean, sd: leaks === undefined ? SOUND_SPREAD : LEAK_SPREAD, range: 9 }];
}
