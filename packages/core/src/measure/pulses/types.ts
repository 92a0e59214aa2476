/** What one switched line shows. Volts as measured, seconds on the record's clock. */
export interface PulseTrain {
  /** Pulses a second of the clock behind them; 0 when the line is stuck. */
  readonly frequencyHz: number;
  readonly frequencyInterval?: readonly [number, number];
  /** Share of the whole periods in which the line is switched that it is high: a missing pulse counts as low. */
  readonly dutyPercent: number;
  /** The same of whole, regular pulses. */
  readonly usualDutyPercent?: number;
  readonly usualDutyInterval?: readonly [number, number];
  /** High time of a regular pulse. */
  readonly onTimeMs?: number;
  readonly highV?: number;
  readonly lowV?: number;
  /** Whole, regular periods. */
  readonly cycles: number;
  readonly missing: number;
  readonly gaps: readonly { readonly startS: number; readonly missing: number }[];
  /** When pulses began that the clock has no place for. */
  readonly extra?: readonly number[];
  /** When it begins to switch, and when it ceases to, where the record shows it rest before or after. */
  readonly fromS?: number;
  readonly untilS?: number;
  /** When it rests amid the record for so long that it isn't switched. */
  readonly rests?: readonly { readonly fromS: number; readonly untilS: number }[];
  /** Scatter of single periods, rms, s. */
  readonly jitterS?: number;
  /** Set when the line never leaves one level. */
  readonly stuck?: 'high' | 'low' | 'between';
  /** How duty and frequency went, by equal stretches of the record. */
  readonly trend?: readonly PulseMoment[];
}

/** Duty and frequency of a short part of a pulse train, at its middle. */
export interface PulseMoment {
  readonly atS: number;
  readonly dutyPercent: number;
  readonly frequencyHz: number;
}
