import { ELECTRICAL_SUMS } from './electrical-sums.js';
import { PRESSURE_SUMS } from './pressure-sums.js';
import { SPEED_SUMS } from './speed-sums.js';
import type { Sum } from './sum.js';

/** The arithmetic of the job, most used first. */
export const SUMS: readonly Sum[] = [...SPEED_SUMS, ...ELECTRICAL_SUMS, ...PRESSURE_SUMS];

export type { Sum, SumField, SumInput, SumResult } from './sum.js';
