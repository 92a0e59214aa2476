import type { Link } from './one-case';

const volts = (at: string, value: number): Link => ({ kind: 'voltage', at, value, how: { reference: 'battery-' } });

/** 8 V lost over the relay’s contact, and next to nothing anywhere else: read with current flowing. */
export const BAD_CONTACT: readonly Link[] = [
  ...[volts('battery', 12.5), volts('fuse', 12.45), volts('relay', 4.2)],
  ...[volts('connector', 4.15), volts('pump', 4.1), volts('ground-pin', 0.02)],
];
