import { fitHold, judgeHold } from '../../measure/pressure/hold.js';
import type { HoldRecord } from '../../measure/pressure/hold-record.js';
import type { VolumeRecord } from '../entry.js';
import { slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import type { Snapshot } from '../../physics/solve.js';

/** A needle's width and its trembling (common practice, no published source); the gauge's own class is one unknown for all of it. */
const NEEDLE_SHARE = 0.008;
const NEEDLE_PA = 2e3;
const LAWS = 0.08;

const READ: Readonly<Record<string, (s: Snapshot) => number>> = {
  rail: ({ railPa, gauge }) => railPa * gauge,
  rail_snap: ({ railPa, gauge }) => railPa * gauge,
  after_filter: ({ railPa, gauge }) => railPa * gauge,
  dead_head: ({ railPa, gauge }) => railPa * gauge,
  before_filter: ({ beforeFilterPa, gauge }) => beforeFilterPa * gauge,
  rail_hose_off: ({ hoseOffPa, gauge }) => hoseOffPa * gauge,
  manifold_vacuum: ({ vacuumPa }) => vacuumPa,
};

/** A gauge, wherever it is fitted. Engine off, what is left in the rail follows the last run and says little. */
export function pressureParts({ at, value, keyState }: Reading, scene: Scene): Part[] {
  const of = READ[at];
  if (!of || typeof value !== 'number' || keyState === 'off' || keyState === 'after-off') return [];
  const { sd, range } = gauged(of, scene);
  return [{ value, of, sd: at === 'dead_head' ? Math.hypot(sd, RELIEF_SHARE * of(scene.now)) : sd, range }];
}

/** Where a relief valve in the pump opens differs by so much from maker to maker (common practice, no published source). */
const RELIEF_SHARE = 0.3;

/** Spread of a pressure however it is read. */
export function gauged(of: NumberPart['of'], scene: Scene): Pick<NumberPart, 'sd' | 'range'> {
  const sd = Math.hypot(NEEDLE_PA, NEEDLE_SHARE * of(scene.now), slack(of, scene, LAWS));
  return { sd, range: 2 * scene.vehicle.profile.pump.pressurePa };
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
export function holdParts({ value }: Reading, { fault, vehicle }: Scene): Part[] {
  const rate = rateOf(value as HoldRecord);
  if (rate === undefined) return [];
  const leaks = fault.leaksDown === undefined ? undefined : fault.leaksDown / vehicle.profile.pump.pressurePa;
  const mean = Math.log(leaks ?? SOUND_LOSS);
  return [{ value: Math.log(rate), of: () => mean, sd: leaks === undefined ? SOUND_SPREAD : LEAK_SPREAD, range: 9 }];
}

/** Of the usual flow; less counts as none. */
const LEAST_FLOW = 1e-6;

/** Into a measuring jar, with next to no pressure to work against: what slips back inside a worn pump hardly shows. */
export function volumeParts({ value }: Reading, scene: Scene): Part[] {
  const { volumeM3, durationS } = value as VolumeRecord;
  const of: NumberPart['of'] = ({ freeFlow }) => Math.log(Math.max(LEAST_FLOW, freeFlow));
  const sd = Math.hypot(0.2, slack(of, scene, 0.2), scene.fault.clogged ? 0.4 : 0);
  return [{ value: Math.log(Math.max(LEAST_FLOW, volumeM3 / durationS)), of, sd: Math.min(1.5, sd), range: 5 }];
}

/** Seconds to prime pressure: short of it, leaked empty before, sound (common practice, no published source). */
const RISES = { short: 4, empty: 1.6, sound: 0.8 } as const;

export function timingParts({ at, value }: Reading, { fault, now }: Scene): Part[] {
  if (at !== 'rise_time' || typeof value !== 'number') return [];
  const short = now.railPa < 0.9 * now.desiredPa;
  const usual = short ? RISES.short : fault.leaksDown ? RISES.empty : RISES.sound;
  return [{ value: Math.log(Math.max(0.05, value)), of: () => Math.log(usual), sd: 0.6, range: 6 }];
}
