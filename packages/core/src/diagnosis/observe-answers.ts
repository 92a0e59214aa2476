import { answers, type Options } from './expectation.js';
import type { Question, Situation } from './situation.js';
import type { Fault } from './suspects.js';

// Shares of answers: common practice, no published source. None is zero or one: people mishear and mistype.

/** What a question without a number should be answered with. */
export function answerExpected({ kind, at }: Question, situation: Situation): Options | undefined {
  const { fault, world, path } = situation;
  const runs = Math.min(0.96, Math.max(0.02, (world.speed - 0.1) / 0.3));
  switch (kind) {
    case 'heard':
      return heard(situation);
    case 'bridge':
    case 'direct-feed':
    case 'module-bypass':
      return answers({ runs }, 'dead');
    case 'swap':
      return answers({ changed: fault.at === path.profile.stations[path.relayAt]?.id ? 0.95 : 0.02 }, 'unchanged');
    case 'disturb':
      return answers({ changed: disturbed(at, situation) }, 'unchanged');
    case 'visual':
      return answers({ clean: looksClean(at, fault), 'wrong-part': WRONG_PART }, 'damaged');
    case 'check':
      return CHECKS[at]?.(situation);
    default:
      return undefined;
  }
}

/** A wrong part says nothing of the fault; what it spoils is told by the contradictions. */
const WRONG_PART = 0.01;

function heard({ world, fault }: Situation): Options {
  if (world.speed < 0.08) return answers({ steady: 0.02, rough: 0.02 }, 'silent');
  const strained = fault.commutator || fault.pump?.drag ? 0.4 : world.speed < 0.6 ? 0.35 : 0.07;
  return answers({ silent: 0.03, rough: strained }, 'steady');
}

function disturbed(at: string, { path, fault }: Situation): number {
  if (fault.at === at) return fault.ohm === Infinity ? 0.2 : 0.35;
  if (fault.relayOff && path.profile.stations[path.relayAt]?.id === at) return 0.06;
  const pump = path.profile.stations[path.pumpAt].id;
  return at === pump && wakes(fault) ? 0.35 : 0.015;
}

/** A tap moves brushes and stuck rotors. */
function wakes({ commutator, pump }: Fault): boolean {
  return commutator !== undefined || pump?.drag === Infinity || pump?.addedOhm === Infinity;
}

function looksClean(at: string, fault: Fault): number {
  return fault.at === at && (fault.ohm ?? 0) > 0.1 ? 0.5 : 0.97;
}

const CHECKS: Readonly<Record<string, (situation: Situation) => Options>> = {
  prime_heard: heard,
  fuel_in_tank: ({ fault }) =>
    fault.fuel === 'empty' ? answers({ yes: 0.04, gauge: 0.2 }, 'no') : answers({ no: 0.01, gauge: 0.2 }, 'yes'),
  fuel_fresh: ({ fault }) => answers({ stale: fault.fuel === 'stale' ? 0.8 : 0.03, wrong: 0.01 }, 'fresh'),
  cutoff_button: ({ path, fault }) => {
    const cutoff = path.profile.stations.find(({ kind }) => kind === 'cutoff-switch');
    const open = cutoff !== undefined && fault.at === cutoff.id && fault.ohm === Infinity;
    return answers({ tripped: open ? 0.55 : 0.008, none: 0.05 }, 'set');
  },
  restraint_event: ({ fault }) =>
    answers({ stored: fault.relayOff || fault.commanded === 0 ? 0.15 : 0.01, 'not-fitted': 0.2 }, 'none'),
  immobiliser: ({ fault }) => answers({ blocks: fault.lacks === 'immobiliser' ? 0.92 : 0.01 }, 'clear'),
  crank_speed: ({ fault }) => answers({ zero: fault.lacks === 'injection' ? 0.4 : 0.01 }, 'seen'),
  spark: ({ fault }) => {
    if (fault.lacks === 'spark') return answers({ strong: 0.04, weak: 0.3 }, 'none');
    return answers(
      { weak: fault.batteryLow ? 0.25 : 0.03, none: fault.lacks === 'immobiliser' ? 0.3 : 0.01 },
      'strong',
    );
  },
  injector_pulse: ({ fault }) => {
    const absent = fault.lacks === 'injection' ? 0.9 : fault.lacks === 'immobiliser' ? 0.7 : 0.015;
    return answers({ absent }, 'present');
  },
  spray_mild: (situation) => sprayed(situation),
  spray_volatile: (situation) => sprayed(situation),
  tap_test: ({ fault }) => answers({ wakes: wakes(fault) ? 0.35 : 0.015 }, 'nothing'),
  hose_fuel: ({ fault }) => answers({ wet: (fault.regulator ?? 1) < 1 ? 0.3 : 0.01 }, 'dry'),
};

/** It fires on what is sprayed in if fuel is all that it lacks. */
function sprayed({ fault, world, path }: Situation): Options {
  if (fault.lacks && fault.lacks !== 'injection') return answers({ fires: 0.06 }, 'nothing');
  const starved = world.pressurePa < 0.5 * path.profile.pump.pressurePa || fault.lacks || fault.fuel;
  return answers({ fires: starved ? 0.85 : 0.5 }, 'nothing');
}
