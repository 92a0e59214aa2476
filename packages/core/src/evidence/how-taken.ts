import type { Reference, Trust } from '../terms/references.js';

/** How a reading was taken, as far as it isn't the usual way: from battery -, loaded, trusted as usual. */
export interface HowTaken {
  readonly reference?: Reference;
  /** The connector was open: no current flowed. */
  readonly unloaded?: boolean;
  readonly trust?: Trust;
  /** The circuit was helped while it was read. */
  readonly helped?: Helped;
  /** A charger or jump pack was on, or was taken off, for this one; as the case says when absent. */
  readonly boosted?: boolean;
  /** The insulation was pierced for it: that spot is sealed before the vehicle leaves. */
  readonly pierced?: boolean;
  /** Duty that was commanded meanwhile, by scan tool or by how it was driven, %. */
  readonly commandPercent?: number;
}

/** How a circuit may be helped while something is read of it: the relay bridged, the pump fed and grounded, the module passed by. */
export const HELPS = ['bridged', 'fed', 'module-bypassed'] as const;
export type Helped = (typeof HELPS)[number];

/**
 * Whether the circuit was as it is while it was read: not helped, not on another battery, under no command of its own. Only
 * such readings are compared with one another: a drop is no drop when a jump pack was joined between its two ends.
 */
export function isAsItIs({ helped, boosted, commandPercent }: HowTaken): boolean {
  return helped === undefined && boosted === undefined && commandPercent === undefined;
}
