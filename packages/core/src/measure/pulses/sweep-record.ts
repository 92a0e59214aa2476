/** What a pump did at one command, as far as it was read; duties in per cent, the rest SI. */
export interface SweepStep {
  readonly commandPercent: number;
  readonly outputPercent?: number;
  readonly currentA?: number;
  readonly pressurePa?: number;
  /** At the module's supply. */
  readonly supplyV?: number;
  /** The pump's own speed. */
  readonly rpm?: number;
}

/** A duty sweep: what was read at each command, in the order it was stepped through. */
export interface SweepRecord {
  readonly steps: readonly SweepStep[];
}
