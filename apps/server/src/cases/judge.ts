import {
  dropLedger,
  LOADED_STATES,
  pointersFrom,
  pressureSheet,
  pumpGate,
  type DropLedger,
  type Entry,
  type EntryKind,
  type HouseLimits,
  type Intake,
  type Pointer,
  type PressureSheet,
  type PumpGate,
  type RampResult,
} from '@jarro/core';

export interface Judgement {
  readonly ledger: DropLedger;
  readonly gate: PumpGate;
  readonly sheet: PressureSheet;
  readonly pointers: readonly Pointer[];
}

/** What a case's standing evidence amounts to. For the path: the newest loaded reading of each kind, fault present. */
export function judge(
  entries: readonly Entry[],
  ramps: readonly RampResult[],
  intake: Intake,
  limits: HouseLimits,
): Judgement {
  const newest = (kind: EntryKind, at: string) => {
    const value = entries
      .filter((e) => e.kind === kind && e.at === at && e.faultPresent && LOADED_STATES.has(e.keyState))
      .at(-1)?.value;
    return typeof value === 'number' ? value : undefined;
  };
  const batteryV = newest('voltage', 'battery');
  const pumpFeedV = newest('voltage', 'pump_feed');
  const pumpGroundV = newest('voltage', 'pump_ground');
  const currentA = newest('current', 'pump') ?? ramps.at(-1)?.steady?.meanA;
  const ledger = dropLedger(
    {
      ...(batteryV !== undefined && { batteryV }),
      ...(pumpFeedV !== undefined && { pumpFeedV }),
      ...(pumpGroundV !== undefined && { pumpGroundV }),
      ...(currentA !== undefined && { currentA }),
    },
    limits,
  );
  const gate = pumpGate({
    ledger,
    ramps,
    ...(batteryV !== undefined && { batteryV }),
    ...(currentA !== undefined && { loadA: currentA }),
  });
  const sheet = pressureSheet(entries, intake);
  return { ledger, gate, sheet, pointers: pointersFrom(entries, intake, sheet) };
}
