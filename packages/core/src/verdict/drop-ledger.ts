import { canBeAmperes, canBeVolts, LIMITS, type Limit } from '../limits/limits.js';
import type { HouseRules } from '../rules/house-rules.js';
import { judgeDrop } from './drop.js';

/** A loaded reading pair at the pump, volts from battery -, with the battery's own voltage at the same time. */
export interface LoadedReadings {
  readonly batteryV?: number;
  readonly pumpFeedV?: number;
  readonly pumpGroundV?: number;
  /** Current while the voltages were read, A: through the pump's ground, and through its supply where a module chops it. */
  readonly currentA?: number;
  readonly supplyA?: number;
  /** The pump's rated draw, A: what the limits are meant at. */
  readonly ratedA: number;
}

/** What one side of the path loses under load, against the shop’s limit. */
export interface LedgerLine {
  readonly side: 'supply' | 'ground';
  readonly dropV: number;
  /** Absent without a current. */
  readonly resistanceOhm?: number;
  readonly powerW?: number;
  readonly limitV: number;
  readonly within: boolean;
  readonly rule: string;
  readonly source: string;
}

/** What is lost on the way to the pump and behind it. */
export interface DropLedger {
  readonly lines: readonly LedgerLine[];
  /** Voltage the pump really works with. */
  readonly acrossPumpV?: number;
  /** Readings that can't all be true, in plain words. */
  readonly doubts: readonly string[];
}

/** A meter's own error, V: a drop slightly below zero is a zero drop. */
const METER_V = 0.05;

/**
 * Works out what is lost on the way to the pump and back, loaded: dV = V1 - V2, R = dV / I, P = dV I.
 * A number that can't be is left out and told as a doubt: a case must open, so that the wrong entry can be voided.
 */
export function dropLedger(
  readings: LoadedReadings,
  limits: Pick<HouseRules, 'supplyDropV' | 'groundDropV'>,
): DropLedger {
  const doubts: string[] = [];
  const usable = (name: string, value: number | undefined, canBe: (value: number) => boolean) => {
    if (value === undefined || canBe(value)) return value;
    doubts.push(`The ${name} can't be: check the decimal point or the probe's factor, void that entry and repeat it.`);
    return undefined;
  };
  const batteryV = usable('battery voltage', readings.batteryV, canBeVolts);
  const pumpFeedV = usable('pump feed voltage', readings.pumpFeedV, canBeVolts);
  const pumpGroundV = usable('pump ground voltage', readings.pumpGroundV, canBeVolts);
  const currentA = usable('current', readings.currentA, canBeAmperes);
  const lines: LedgerLine[] = [];
  const add = (side: LedgerLine['side'], dropV: number, limitV: number, limit: Limit) => {
    if (dropV < -METER_V) {
      doubts.push(
        side === 'supply'
          ? 'The feed reads above the battery: repeat both from the battery posts, one straight after the other.'
          : 'The pump ground reads below battery -: check where the meter lead is and repeat.',
      );
    }
    const through = side === 'supply' ? (readings.supplyA ?? currentA) : currentA;
    const { within, allowedV, ...loaded } = judgeDrop({ dropV, currentA: through, limitV, ratedA: readings.ratedA });
    lines.push({
      side,
      dropV,
      ...loaded,
      limitV: allowedV,
      within,
      rule: limit.rule,
      source: limit.source,
    });
  };
  if (batteryV !== undefined && pumpFeedV !== undefined) {
    add('supply', batteryV - pumpFeedV, limits.supplyDropV, LIMITS.supplyDropV);
  }
  if (pumpGroundV !== undefined) add('ground', pumpGroundV, limits.groundDropV, LIMITS.groundDropV);
  if (pumpFeedV !== undefined && pumpGroundV !== undefined && pumpFeedV > 6 && pumpGroundV > 0.8 * pumpFeedV) {
    doubts.push('Feed and ground pin both stand at feed voltage: the ground is open, and the pump is not proven bad.');
  }
  return {
    lines,
    ...(pumpFeedV !== undefined && pumpGroundV !== undefined && { acrossPumpV: pumpFeedV - pumpGroundV }),
    doubts,
  };
}
