import { dropLedger, pumpGate, type DropLedger, type HouseLimits, type PumpGate, type RampResult } from '@jarro/core';
import type { Reading, ReadingKind } from '../database/entities.js';

export interface Judgement {
  readonly ledger: DropLedger;
  readonly gate: PumpGate;
}

/** States in which the pump draws its current, so that a voltage is a loaded one. */
const LOADED = new Set(['prime', 'cranking', 'idle']);

/** What a case's standing evidence amounts to: the newest loaded reading of each kind with the fault present. */
export function judge(readings: readonly Reading[], ramps: readonly RampResult[], limits: HouseLimits): Judgement {
  const newest = (kind: ReadingKind) =>
    readings.filter((r) => r.kind === kind && !r.voidedAt && r.faultPresent && LOADED.has(r.keyState)).at(-1)?.value;
  const batteryV = newest('battery');
  const pumpFeedV = newest('pump_feed');
  const pumpGroundV = newest('pump_ground');
  const currentA = newest('current') ?? ramps.at(-1)?.steady?.meanA;
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
  return { ledger, gate };
}
