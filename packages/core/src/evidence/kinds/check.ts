import { RESTRAINT, SWITCH, VAPOUR } from '../dangers.js';
import { FIRST_CHECKS, type Check } from '../first-checks.js';
import type { EvidenceKind, NamedPlace } from '../kind.js';
import { answers, type Answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { RECHECK_CHECKS } from '../recheck-checks.js';
import { heardShares, isStrained, told, wakes } from '../told.js';
import { wordsOf } from '../values.js';

/** Yes-or-no matters that the pressure sheet asks, beside the first checks. */
const SHEET_CHECKS: readonly NamedPlace[] = [
  { at: 'gauge_bled', title: 'Gauge bled', stage: 'pressure', value: wordsOf('yes', 'no'), states: ['prime'] },
  { at: 'hose_fuel', title: 'Vacuum hose', stage: 'pressure', value: wordsOf('dry', 'wet'), states: ['idle'] },
];

const KNOWN = new Map([...FIRST_CHECKS, ...RECHECK_CHECKS].map((check) => [check.at, check]));

function placeOf({ at, title, howTo, keyState, answers: given }: Check, stage: NamedPlace['stage']): NamedPlace {
  return { at, title, stage, howTo, value: wordsOf(...given.map(({ value }) => value)), states: [keyState] };
}

/** A question answered at the car in seconds. */
export const check: EvidenceKind = {
  key: 'Checked',
  places: [
    ...FIRST_CHECKS.map((asked) => placeOf(asked, 'first-checks')),
    ...RECHECK_CHECKS.map((asked) => placeOf(asked, 'recheck')),
    ...SHEET_CHECKS,
  ],
  anyState: true,
  title: ({ at }) => KNOWN.get(at)?.title ?? at,
  minutes: ({ at }) => KNOWN.get(at)?.minutes ?? 2,
  cautions: ({ at }) => [
    ...(at === 'restraint_event' ? [RESTRAINT] : []),
    ...(at === 'cutoff_button' ? [SWITCH] : []),
    ...(at.startsWith('spray') ? [VAPOUR] : []),
  ],
  danger: (at) =>
    SHEET_CHECKS.some((asked) => asked.at === at) ? 'pressure' : KNOWN.get(at)?.risky ? 'first-checks' : undefined,
  foresee: checkParts,
  probe: 'yes',
  example: { at: 'fuel_in_tank', value: 'yes', state: 'off' },
};

// Shares of answers: common practice, no published source. None is zero or one: people mishear and mistype.

function checkParts({ at, value }: Reading, scene: Scene): Part[] {
  const shares = CHECKS[at]?.(scene);
  return shares ? told(value, shares) : [];
}

const CHECKS: Readonly<Record<string, (scene: Scene) => Answers>> = {
  prime_heard: ({ now, fault }) => heardShares(now.speed, isStrained(fault)),
  fuel_in_tank: ({ fault }) =>
    fault.fuel === 'empty' ? answers({ yes: 0.04, gauge: 0.2 }, 'no') : answers({ no: 0.01, gauge: 0.2 }, 'yes'),
  fuel_fresh: ({ fault }) => answers({ stale: fault.fuel === 'stale' ? 0.8 : 0.03, wrong: 0.01 }, 'fresh'),
  cutoff_button: ({ vehicle, fault }) => {
    const cutoff = vehicle.profile.stations.find(({ kind }) => kind === 'cutoff-switch');
    if (!cutoff) return answers({ tripped: 0.01, set: 0.1 }, 'none');
    const open = fault.at === cutoff.id && fault.ohm === Infinity;
    return answers({ tripped: open ? 0.6 : 0.006, none: 0.03 }, 'set');
  },
  restraint_event: ({ fault }) =>
    answers(
      { stored: fault.relayOff === 'control' || fault.command?.notAsked ? 0.15 : 0.01, 'not-fitted': 0.2 },
      'none',
    ),
  immobiliser: ({ fault }) => answers({ blocks: fault.lacks === 'immobiliser' ? 0.92 : 0.01 }, 'clear'),
  crank_speed: ({ fault }) => answers({ zero: fault.lacks === 'injection' ? 0.3 : 0.01 }, 'seen'),
  spark: ({ fault }) => {
    if (fault.lacks === 'spark') return answers({ strong: 0.04, weak: 0.3 }, 'none');
    return answers({ weak: fault.battery ? 0.2 : 0.03, none: fault.lacks === 'immobiliser' ? 0.3 : 0.01 }, 'strong');
  },
  injector_pulse: ({ fault }) => {
    const absent = fault.lacks === 'injection' ? 0.9 : fault.lacks === 'immobiliser' ? 0.7 : 0.015;
    return answers({ absent }, 'present');
  },
  spray_mild: sprayed,
  spray_volatile: sprayed,
  tap_test: ({ fault }) => answers({ wakes: wakesShare(fault) }, 'nothing'),
  relay_click: ({ fault, now }) => {
    const pulls = now.powered && fault.relayOff === undefined && now.batteryV > 7;
    return answers({ clicks: pulls ? 0.93 : 0.04 }, 'silent');
  },
  fuel_outside: ({ fault }) =>
    answers(
      { wet: fault.leaksDown !== undefined ? 0.12 : 0.006, smell: fault.leaksDown !== undefined ? 0.15 : 0.04 },
      'none',
    ),
  unit_talks: ({ fault }) => {
    const silent = fault.lacks === 'injection' ? 0.2 : fault.relayOff === 'control' ? 0.12 : 0.008;
    return answers({ no: silent }, 'yes');
  },
  // A pump that was replaced for this complaint is seldom at fault again, and often wasn't then.
  pump_replaced: ({ fault }) => {
    const pump = fault.pump !== undefined || fault.commutator !== undefined;
    return answers({ 'for-this': pump ? 0.02 : 0.1, 'long-ago': 0.12 }, 'never');
  },
  hose_fuel: ({ fault }) => answers({ wet: (fault.regulator ?? 1) < 1 || fault.regulatorDeaf ? 0.25 : 0.01 }, 'dry'),
};

/** It fires on what is sprayed in if fuel is all that it lacks. */
function sprayed({ fault, now }: Scene): Answers {
  if (fault.lacks === 'spark' || fault.lacks === 'immobiliser' || fault.lacks === 'compression')
    return answers({ fires: 0.06 }, 'nothing');
  const starved = now.railPa < 0.5 * now.desiredPa || fault.lacks !== undefined || fault.fuel !== undefined;
  return answers({ fires: starved ? 0.85 : 0.4 }, 'nothing');
}

function wakesShare(fault: Scene['fault']): number {
  if (fault.commutator === 'dead-spot') return 0.8;
  return fault.pump?.drag === Infinity ? 0.25 : fault.pump?.addedOhm === Infinity ? 0.2 : wakes(fault) ? 0.35 : 0.015;
}
