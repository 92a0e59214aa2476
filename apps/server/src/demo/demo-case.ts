import type { Capture, CaptureSpec, EntryKind, EntryValue, Intake, KeyState, Stage, Verdict } from '@jarro/core';

/** What was read of a vehicle. */
export interface DemoEvidence {
  readonly entries: readonly [EntryKind, string, EntryValue, KeyState][];
  readonly captures: readonly {
    label: string;
    fileName: string;
    keyState: KeyState;
    /** From the motor model; or a record of several channels. */
    spec?: Partial<CaptureSpec>;
    record?: () => Capture;
  }[];
}

export interface DemoCase extends DemoEvidence {
  readonly vehicle: { model: string; year: number; engine: string; plate: string };
  readonly complaint: string;
  readonly daysAgo: number;
  readonly by: string;
  readonly intake?: Partial<Intake>;
  /** Name of one of the shop's own systems. */
  readonly system?: string;
  readonly notes?: readonly [Stage, string][];
  readonly verdict?: { kind: Verdict; statement: string };
  /** What followed the verdict; absent while nobody began with it. */
  readonly repair?: DemoRepair;
}

/** A repair that is finished, and its recheck. */
export interface DemoRepair extends DemoEvidence {
  readonly what: string;
  readonly minutes: number;
  readonly parts: readonly { readonly name: string; readonly number: string }[];
  /** Particulars that were left out, with the reason, by their step. */
  readonly leftOut?: Readonly<Record<string, string>>;
  /** What the service information states, for the steps that ask it. */
  readonly stated?: string;
  /** Loose ends that were put right, and how. */
  readonly takenOut?: Readonly<Record<string, string>>;
  readonly closed?: boolean;
  /** What its capture is called on the shelf of known-goods. */
  readonly shelf?: string;
}

export const kPa = (value: number) => value * 1e3;

/** Loaded voltages down a path: battery, fuse, relay, cut-off switch, pump, its ground pin; a gap was not read. */
export function path(keyState: KeyState, ...volts: (number | undefined)[]): DemoEvidence['entries'] {
  const stations = ['battery', 'fuse', 'relay', 'cutoff', 'pump', 'ground-pin'];
  return stations.flatMap((at, i): [EntryKind, string, EntryValue, KeyState][] => {
    const value = volts[i];
    return value === undefined ? [] : [['voltage', at, value, keyState]];
  });
}

export const check = (at: string, value: string, keyState: KeyState): [EntryKind, string, EntryValue, KeyState] => [
  'check',
  at,
  value,
  keyState,
];
