import type { Range } from '../../signal/ranges.js';

/** Half-open range of samples. */
export type SampleRange = Range;

/** One stretch in which the pump is powered. */
export interface Run extends SampleRange {
  /** First sample of rising current, if its start was recorded. */
  readonly onset?: number;
  /** First sample after the current went, if its end was recorded. */
  readonly off?: number;
  /** A part that begins where something else ended, and comes to its own level by and by. */
  readonly settles?: true;
}

/** Where the pump is off and where it runs, with the zero and polarity that follow from it. */
export interface Segments {
  /** Level of the clamp with the pump off; absent when nothing in the record shows it. */
  readonly quietLevel?: number;
  /** Sample-to-sample noise while off. */
  readonly noise?: number;
  /** The longest stretch in which the pump is off. */
  readonly quiet?: SampleRange;
  /** Where the pump is off and drives a current backwards as it coasts. */
  readonly coasting?: readonly SampleRange[];
  /** Running current reads below the zero: the clamp is the wrong way round. */
  readonly inverted: boolean;
  /** In order; empty when no current flows at all. */
  readonly runs: readonly Run[];
  /** The record holds a level that no clamp is off by: its input passes steady current. */
  readonly passesSteady: boolean;
  /** Nothing that a clamp on a pump's feed can show explains the record. */
  readonly isUnexplained?: boolean;
}
