import { isAsItIs } from '../evidence/how-taken.js';
import { LOADED_STATES, type KeyState } from '../terms/key-states.js';
import { canBeAmperes, canBeVolts } from '../limits/limits.js';
import { SOUND } from '../physics/fault.js';
import { BATTERY } from '../physics/parameters.js';
import { solve, UNHELPED } from '../physics/solve.js';
import { makeVehicle, usualParameters } from '../physics/vehicle.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { SystemProfile } from '../vehicle/profile.js';
import type { CaptureResult } from '../evidence/records.js';
import type { Reading } from '../evidence/reading.js';
import { dropLedger, type DropLedger } from '../verdict/drop-ledger.js';
import { voltageLadder, type Rung } from '../verdict/ladder.js';

/** The staircase of one key state, and the drops that it amounts to. */
export interface CaseLadder {
  readonly keyState: KeyState;
  readonly rungs: readonly Rung[];
  readonly currentA?: number;
  readonly ledger: DropLedger;
}

/** Key states in which something of the path was read with the fault present, the newest last. */
export function ladderStates(readings: readonly Reading[]): KeyState[] {
  const states = readings.filter(counts).map(({ keyState }) => keyState);
  return [...new Set(states.reverse())].reverse();
}

/** The newest loaded volts of each station in one key state, beside what a healthy path would show on the same battery. */
export function caseLadder(
  profile: SystemProfile,
  readings: readonly Reading[],
  keyState: KeyState,
  rules: HouseRules,
): CaseLadder {
  const path = makeVehicle(profile);
  const { stations } = profile;
  const { pumpAt } = path;
  const own = readings.filter((reading) => counts(reading) && reading.keyState === keyState);
  const newest = (kind: Reading['kind'], at: string) =>
    own.filter((reading) => reading.kind === kind && reading.at === at).at(-1)?.value;
  const duty = newest('duty', 'output');
  const batteryRead =
    newest('voltage', stations[0].id) ?? newest('battery', keyState === 'cranking' ? 'cranking' : 'charging');
  const batteryV = typeof batteryRead === 'number' ? batteryRead : undefined;
  const usual = usualParameters(path, keyState, typeof duty === 'number' ? { duty: duty / 100 } : undefined);
  const sound = solve(path, { ...usual, batteryV: batteryV ?? usual.batteryV }, SOUND, keyState, UNHELPED);
  const healthy = Object.fromEntries(stations.map(({ id }, i) => [id, sound.volts[i]]));
  const volts: Record<string, number> = batteryV === undefined ? {} : { [stations[0].id]: batteryV };
  for (const { kind, at, value, reference } of own) {
    if (kind !== 'voltage' || typeof value !== 'number') continue;
    // Read from battery + a number is what is lost on the way.
    volts[at] = reference === 'battery+' ? (batteryV ?? BATTERY[keyState].volts) - value : value;
  }
  const currentA = currentOf(own);
  const dutyKnown = typeof duty === 'number' || sound.output === 1;
  const loadA = currentA !== undefined && canBeAmperes(currentA) ? currentA : undefined;
  const sensible = Object.fromEntries(Object.entries(volts).filter(([, value]) => canBeVolts(value)));
  const supplyA = loadA === undefined ? undefined : loadA * sound.output;
  const amperes = { ...(loadA !== undefined && { currentA: loadA }), ...(supplyA !== undefined && { supplyA }) };
  const given = { volts: sensible, healthy, dutyKnown, ...amperes };
  // Behind a module the mean follows its duty: the supply side ends at the module's own supply.
  const feeds = path.moduleAt > 0 ? [path.moduleAt - 1] : [pumpAt, pumpAt - 1];
  const feed = feeds.map((i) => volts[stations[i].id]).find((value) => value !== undefined);
  const ground = volts[stations[pumpAt + 1].id];
  const ledger = dropLedger(
    {
      ...(batteryV !== undefined && { batteryV }),
      ...(feed !== undefined && { pumpFeedV: feed }),
      ...(ground !== undefined && { pumpGroundV: ground }),
      ...(currentA !== undefined && { currentA }),
      ...(supplyA !== undefined && path.moduleAt > 0 && { supplyA }),
      ratedA: profile.pump.amperes,
    },
    rules,
  );
  return {
    keyState,
    rungs: voltageLadder(path, given, rules),
    ...(loadA !== undefined && { currentA: loadA }),
    ledger,
  };
}

/** Whether a reading says something of the path under load. */
function counts(reading: Reading): boolean {
  const { kind, keyState, faultPresent, unloaded } = reading;
  const loaded = faultPresent && !unloaded && isAsItIs(reading) && LOADED_STATES.has(keyState);
  return loaded && ['voltage', 'current', 'capture', 'battery', 'duty'].includes(kind);
}

function currentOf(own: readonly Reading[]): number | undefined {
  return own
    .flatMap(({ kind, value }) => {
      if (kind === 'current') return [Number(value)];
      const mean = kind === 'capture' ? (value as CaptureResult).meanA : undefined;
      return mean === undefined ? [] : [mean];
    })
    .at(-1);
}
