/** The working order of a case. A technician is free to jump. */
export const STAGES = [
  'intake',
  'first-checks',
  'pressure',
  'power-path',
  'current',
  'control',
  'verdict',
  'repair',
  'recheck',
  'closed',
] as const;

export type Stage = (typeof STAGES)[number];
