import type { Fault } from '../physics/fault.js';
import type { Snapshot } from '../physics/solve.js';

/** What a customer's own words come down to. */
export const COMPLAINTS = ['none', 'no-start', 'long-crank', 'stalls', 'weak', 'rich', 'other'] as const;
export type Complaint = (typeof COMPLAINTS)[number];

export interface Heard {
  readonly complaint: Complaint;
  /** It comes and goes, by the customer's words. */
  readonly comesAndGoes: boolean;
}

const WORDS: readonly (readonly [Complaint, RegExp])[] = [
  ['none', /^\s*(none|no complaint|routine|check-?up)?\s*$/i],
  [
    'long-crank',
    /long[- ]?crank|crank\w* (?:a )?long|takes (?:long|several|many|a few)|hard(?:er)? to start|long to start|hard[- ]start/i,
  ],
  ['no-start', /no[- ]?start|(?:won.?t|doesn.?t|does not|will not|not) start|no fire|cranks? (?:but|and)/i],
  ['stalls', /stall|dies|cuts? out|shuts? (?:off|down)|quits|stops/i],
  ['weak', /hesitat|power|sluggish|surge|lean|bucks?|jerk|misfire|stumbl|won.?t rev|speed|load/i],
  ['rich', /rich|black smoke|smell|fuel consumption|fouled/i],
];

const COMES_AND_GOES =
  /intermitten|sometimes|at times|now and then|occasional|comes and goes|random|after .{0,20}(?:minutes|miles|km|while|warm|hot)|when (?:hot|warm|wet)|once in|bump|again later/i;

/** Sorts the customer's words. */
export function hear(words: string): Heard {
  const complaint = WORDS.find(([, word]) => word.test(words))?.[0] ?? 'other';
  return { complaint, comesAndGoes: COMES_AND_GOES.test(words) };
}

type Shares = Readonly<Partial<Record<Complaint, number>>>;

// How customers tell it: common practice, no published source. Words are loose, so no share is small.
const DEAD: Shares = {
  none: 0.01,
  'no-start': 0.72,
  'long-crank': 0.05,
  stalls: 0.1,
  weak: 0.03,
  rich: 0.005,
  other: 0.085,
};
const WEAK: Shares = {
  none: 0.02,
  'no-start': 0.12,
  'long-crank': 0.15,
  stalls: 0.14,
  weak: 0.45,
  rich: 0.02,
  other: 0.1,
};
const LEAKS: Shares = {
  none: 0.03,
  'no-start': 0.08,
  'long-crank': 0.62,
  stalls: 0.04,
  weak: 0.08,
  rich: 0.06,
  other: 0.09,
};
const RICH: Shares = {
  none: 0.03,
  'no-start': 0.06,
  'long-crank': 0.08,
  stalls: 0.08,
  weak: 0.12,
  rich: 0.5,
  other: 0.13,
};
const SLIGHT: Shares = {
  none: 0.06,
  'no-start': 0.04,
  'long-crank': 0.14,
  stalls: 0.16,
  weak: 0.42,
  rich: 0.03,
  other: 0.15,
};
/** Ignition, sensors, mechanics: an engine may run badly in every way for reasons of its own. */
const ELSEWHERE: Shares = {
  none: 0.03,
  'no-start': 0.14,
  'long-crank': 0.17,
  stalls: 0.2,
  weak: 0.3,
  rich: 0.06,
  other: 0.1,
};
const FINE: Shares = {
  none: 0.6,
  'no-start': 0.06,
  'long-crank': 0.05,
  stalls: 0.08,
  weak: 0.1,
  rich: 0.03,
  other: 0.08,
};

/** Below this share of its pressure an engine hardly starts; below that one it lacks power (common practice, no published source). */
const STARTS = 0.55;
const PULLS = 0.88;

/** How likely such a complaint is with a fault. @param cranking @param loaded the vehicle with the fault in it */
export function complaintShare({ complaint }: Heard, fault: Fault, cranking: Snapshot, loaded: Snapshot): number {
  return sharesOf(fault, cranking, loaded)[complaint] ?? 0.02;
}

function sharesOf(fault: Fault, cranking: Snapshot, loaded: Snapshot): Shares {
  if (Object.keys(fault).length === 0) return FINE;
  if (fault.lacks === 'air') return WEAK;
  if (fault.lacks === 'other') return ELSEWHERE;
  if (fault.lacks || fault.fuel) return DEAD;
  if (fault.leaksDown !== undefined) return LEAKS;
  if ((fault.sensorGain ?? 1) < 1 || (fault.regulator ?? 1) > 1) return RICH;
  if (cranking.batteryV < 8) return { ...SLIGHT, 'no-start': 0.3 };
  if (cranking.railPa < STARTS * cranking.desiredPa) {
    // It may run again once oil pressure feeds the pump.
    return loaded.railPa > PULLS * loaded.desiredPa ? { ...LEAKS, 'no-start': 0.25 } : DEAD;
  }
  return loaded.railPa < PULLS * loaded.desiredPa ? WEAK : SLIGHT;
}
