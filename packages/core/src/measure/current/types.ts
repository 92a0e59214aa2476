import type { CannotTell } from '../../errors.js';
import type { Finding } from '../../limits/limits.js';
import type { Dropout } from './dropouts.js';
import type { Alternative, Basis, Counted } from './revolution.js';
import type { Bar } from './rotor-map.js';

/** What can be seen in a pump current; `analyze` prints one of these. */
export const PATTERNS = [
  'even',
  'locked-notch',
  'burnt-bars',
  'dead-stretch',
  'random-dropouts',
  'brush-bounce',
  'locked-rotor',
  'no-current',
  'pulsed',
  'irregular',
] as const;
export type Pattern = (typeof PATTERNS)[number];

/** The steady part of a run. Seconds from the start of the capture; A unless said otherwise. */
export interface Steady {
  readonly fromS: number;
  readonly toS: number;
  readonly meanA: number;
  readonly minA: number;
  readonly maxA: number;
  /** Peak to peak with the recorder's noise taken out. */
  readonly rippleA: number;
  readonly ripplePercent: number;
}

/** One stretch in which the pump is powered. Seconds on the record's clock. */
export interface RunResult {
  readonly fromS: number;
  readonly toS: number;
  readonly onsetS?: number;
  readonly offS?: number;
  readonly inrushPeakA?: number;
  readonly inrushPeakS?: number;
  readonly steady?: Steady;
  readonly rpm?: number;
  /** How the humps of a turn are known that its speed rests on; not in what earlier versions measured. */
  readonly basis?: Basis;
  readonly pattern: Pattern;
}

/** All that a pump current record tells. Absent fields could not be measured; `cannotTell` says why. */
export interface RampResult {
  /** The clamp's reading at no current, A. */
  readonly zeroOffsetA?: number;
  readonly inverted: boolean;
  /** The pump changes its level while it runs; the numbers are those of the longest. */
  readonly stepped?: true;
  readonly onsetS?: number;
  readonly offS?: number;
  readonly inrushPeakA?: number;
  readonly inrushPeakS?: number;
  readonly steady?: Steady;
  readonly humps?: {
    readonly rateHz: number;
    readonly perRevolution: number;
    readonly basis: Basis;
    readonly confidence: number;
    readonly alternatives?: readonly Alternative[];
  };
  readonly revolutionMs?: number;
  readonly rpm?: number;
  /** 95 %; holds for the stated basis. */
  readonly rpmInterval?: readonly [number, number];
  readonly bars?: readonly Bar[];
  readonly dropouts: readonly Dropout[];
  readonly pattern: Pattern;
  /** All stretches in which the pump is powered, in order. The numbers above are those of the longest. */
  readonly runs?: readonly RunResult[];
}

/** The ramp result with what to draw beside it. */
export interface RampAnalysis {
  readonly ramp: RampResult;
  readonly findings: readonly Finding[];
  readonly cannotTell: readonly CannotTell[];
  /** One turn's average current by angle, A; what the rotor map draws. */
  readonly turnA?: Float64Array;
  /** Turns averaged for it. */
  readonly turns?: number;
  /** What each run says of the humps in a turn. */
  readonly counted?: readonly (Counted & { readonly fromS: number; readonly toS: number })[];
}
