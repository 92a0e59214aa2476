import type { PressureUnitName } from '@jarro/api-types';

/** What a step of a sweep may have, in the order of the sheet. */
export const SWEEP_COLUMNS = ['commandPercent', 'outputPercent', 'currentA', 'pressurePa', 'supplyV', 'rpm'] as const;
export type SweepColumn = (typeof SWEEP_COLUMNS)[number];

const SWEEP_TITLES: Readonly<Record<SweepColumn, string>> = {
  commandPercent: 'Command, %',
  outputPercent: 'Output, %',
  currentA: 'Current, A',
  pressurePa: 'Pressure',
  supplyV: 'Module supply, V',
  rpm: 'Pump speed, rpm',
};

/** With the unit that pressures are shown in. */
export function sweepTitle(column: SweepColumn, unit: PressureUnitName): string {
  return column === 'pressurePa' ? `Pressure, ${unit}` : SWEEP_TITLES[column];
}
