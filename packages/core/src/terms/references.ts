/** Where the other lead was. */
export const REFERENCES = ['battery-', 'battery+', 'chassis', 'local-ground'] as const;
export type Reference = (typeof REFERENCES)[number];

/** How far a reading is trusted by whoever took it. */
export const TRUSTS = ['high', 'normal', 'low'] as const;
export type Trust = (typeof TRUSTS)[number];
