/** A column that the database fills with the time, to the millisecond. */
export const NOW = { precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' } as const;
