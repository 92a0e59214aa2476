import { ENTRY_KINDS, type EntryKind } from '../evidence/entry.js';
import type { HowTaken } from '../evidence/how-taken.js';
import type { Reading } from '../evidence/reading.js';
import { EMPTY_INTAKE, type Intake } from '../intake/intake.js';
import type { CaseSystem } from '../intake/case-system.js';
import type { KeyState } from '../terms/key-states.js';
import type { CaseFile } from './case-file.js';

/** A link of a case that is made from a file. */
export interface FiledLink {
  readonly kind: EntryKind | 'system' | 'intake';
  readonly at: string;
  readonly value: unknown;
  readonly keyState?: KeyState;
  readonly faultPresent?: boolean;
  readonly how?: HowTaken;
}

/**
 * A case file as the links of a new case, in their order.
 * @returns left: readings that a case file can't bring in, since their samples aren't in it
 */
export function linksOfFile({ system, batterySupported, readings }: CaseFile): {
  readonly links: readonly FiledLink[];
  readonly left: readonly Reading[];
} {
  const chosen: CaseSystem = { shipped: false, name: system.name, profile: system };
  const intake: Intake = { ...EMPTY_INTAKE, batterySupport: 'charger' };
  return {
    links: [
      ...(batterySupported ? [{ kind: 'intake' as const, at: 'intake', value: intake }] : []),
      { kind: 'system', at: 'path', value: chosen },
      ...readings.filter(isEntry).map(entryOf),
    ],
    left: readings.filter((reading) => !isEntry(reading)),
  };
}

function isEntry({ kind }: Reading): boolean {
  return (ENTRY_KINDS as readonly string[]).includes(kind);
}

function entryOf({ id: _, kind, at, value, keyState, faultPresent, reference, ...how }: Reading): FiledLink {
  // What is usual isn't written down.
  const taken = { ...how, ...(reference && reference !== 'battery-' && { reference }) };
  return {
    ...{ kind: kind as EntryKind, at, value, keyState, faultPresent },
    ...(Object.keys(taken).length > 0 && { how: taken }),
  };
}
