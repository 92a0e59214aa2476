import { LOADED_STATES, type KeyState } from '../evidence/entry.js';
import { canBeAmperes, canBeVolts } from '../limits/limits.js';
import { dropLedger, type DropLedger } from '../path/drop-ledger.js';
import { voltageLadder, type Rung } from '../path/ladder.js';
import { makePath } from '../path/solve-path.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { SystemProfile } from '../systems/profile.js';
import type { CaptureResult, Reading } from './reading.js';
import { BATTERY, foretell } from './world.js';

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
  const path = makePath(profile);
  const { stations } = profile;
  const { pumpAt } = path;
  const own = readings.filter((reading) => counts(reading) && reading.keyState === keyState);
  const newest = (kind: Reading['kind'], at: string) =>
    own.filter((reading) => reading.kind === kind && reading.at === at).at(-1)?.value;
  const duty = newest('duty', 'output');
  const batteryRead =
    newest('voltage', stations[0].id) ?? newest('battery', keyState === 'cranking' ? 'cranking' : 'charging');
  const batteryV = typeof batteryRead === 'number' ? batteryRead : undefined;
  const { state } = foretell(path, {}, keyState, 'no', typeof duty === 'number' ? duty / 100 : undefined, batteryV);
  const volts: Record<string, number> = batteryV === undefined ? {} : { [stations[0].id]: batteryV };
  for (const { kind, at, value, reference } of own) {
    if (kind !== 'voltage' || typeof value !== 'number') continue;
    // Read from battery + a number is what is lost on the way.
    volts[at] = reference === 'battery+' ? (batteryV ?? BATTERY[keyState].volts) - value : value;
  }
  const currentA = currentOf(own);
  const dutyKnown = typeof duty === 'number' || state.duty === 1;
  const loadA = currentA !== undefined && canBeAmperes(currentA) ? currentA : undefined;
  const sensible = Object.fromEntries(Object.entries(volts).filter(([, value]) => canBeVolts(value)));
  const given = { volts: sensible, healthy: state.volts, dutyKnown, ...(loadA !== undefined && { currentA: loadA }) };
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
function counts({ kind, keyState, faultPresent, unloaded }: Reading): boolean {
  const loaded = faultPresent && !unloaded && LOADED_STATES.has(keyState);
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
