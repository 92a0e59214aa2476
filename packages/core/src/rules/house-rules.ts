import { COMMON_PRACTICE, LIMITS } from '../limits/limits.js';

/** What the house does first, where practitioners differ. */
export const ORDERS = ['best-value', 'pump-first', 'source-first', 'mid-point'] as const;
export type Order = (typeof ORDERS)[number];

/** How much a pattern in the current proves. */
export const WAVEFORM_SCHOOLS = ['with-supply', 'never-alone'] as const;
/** Whether the pump may be fed directly to part it from everything before it. */
export const DIRECT_FEED_SCHOOLS = ['with-diagram', 'never'] as const;

/** Whether the shop's own closed cases move the weights that suspects begin with. */
export const OWN_CASES_SCHOOLS = ['ignored', 'counted'] as const;

/** A shop's own limits and schools, in SI where the name says nothing else; shares 0 to 1. */
export interface HouseRules {
  /** Most that may be lost from battery + to the pump's feed, loaded. */
  readonly supplyDropV: number;
  readonly groundDropV: number;
  readonly contactDropV: number;
  readonly order: Order;
  readonly waveform: (typeof WAVEFORM_SCHOOLS)[number];
  readonly directFeed: (typeof DIRECT_FEED_SCHOOLS)[number];
  readonly ownCases: (typeof OWN_CASES_SCHOOLS)[number];
  /** Weight that the pump's families need before it may be condemned. */
  readonly pumpWeight: number;
  /** Longest time to prime pressure. */
  readonly riseTimeS: number;
  /** Most that may be lost after shut-down. */
  readonly holdLossPaPerMin: number;
  readonly filterDropPa: number;
  /** Least that must run into the jar. */
  readonly volumeLph: number;
  /** Duty at idle from which a pump counts as struggling. */
  readonly strugglingDutyPercent: number;
}

/** What holds until a shop decides otherwise. */
export const DEFAULT_HOUSE_RULES: HouseRules = {
  supplyDropV: LIMITS.supplyDropV.value,
  groundDropV: LIMITS.groundDropV.value,
  contactDropV: LIMITS.contactDropV.value,
  order: 'best-value',
  waveform: 'with-supply',
  directFeed: 'with-diagram',
  ownCases: 'ignored',
  pumpWeight: 0.95,
  riseTimeS: LIMITS.riseTimeS.value,
  holdLossPaPerMin: LIMITS.holdLossPaPerMin.value,
  filterDropPa: LIMITS.filterDropPa.value,
  volumeLph: LIMITS.volumeLph.value,
  strugglingDutyPercent: LIMITS.strugglingDutyPercent.value,
};

/** What a limit is a number of. */
export type RuleUnit = 'V' | 'share' | 's' | 'Pa/min' | 'Pa' | 'L/h' | '%';

/** A limit that a shop may set, with its bounds and what speaks for it. */
export interface NumberRule {
  readonly title: string;
  readonly least: number;
  readonly most: number;
  readonly unit: RuleUnit;
  /** Values that shops use. */
  readonly usual: readonly number[];
  readonly basis: string;
  readonly source: string;
}

/** The rules that are a number; in SI but for shares, litres an hour and per cent. */
export type NumberRuleName =
  | 'supplyDropV'
  | 'groundDropV'
  | 'contactDropV'
  | 'pumpWeight'
  | 'riseTimeS'
  | 'holdLossPaPerMin'
  | 'filterDropPa'
  | 'volumeLph'
  | 'strugglingDutyPercent';

interface SchoolRule<T extends string> {
  readonly title: string;
  readonly schools: Readonly<Record<T, string>>;
  readonly basis: string;
  readonly source: string;
}

/** Each limit with what it rests on. */
export const NUMBER_RULES: Readonly<Record<NumberRuleName, NumberRule>> = {
  supplyDropV: {
    title: 'Supply drop, whole side',
    least: 0.05,
    most: 2,
    unit: 'V',
    usual: [0.2, 0.3, 0.5],
    basis: `${LIMITS.supplyDropV.rule}. Strict shops take 0.2 V; at 0.5 V a pump still runs.`,
    source: COMMON_PRACTICE,
  },
  groundDropV: {
    title: 'Ground rise, whole side',
    least: 0.05,
    most: 2,
    unit: 'V',
    usual: [0.1, 0.2, 0.3],
    basis: `${LIMITS.groundDropV.rule}. Shops differ between 0.1 and 0.3 V.`,
    source: COMMON_PRACTICE,
  },
  contactDropV: {
    title: 'One contact',
    least: 0.02,
    most: 0.5,
    unit: 'V',
    usual: [0.05, 0.1, 0.2],
    basis: `${LIMITS.contactDropV.rule}.`,
    source: COMMON_PRACTICE,
  },
  pumpWeight: {
    title: 'Weight to condemn a pump',
    least: 0.95,
    most: 0.99,
    unit: 'share',
    usual: [0.95, 0.97, 0.99],
    basis: 'A good pump condemned costs the job and the trust; less than 95 % is never enough, more may be asked.',
    source: 'house rule, no published source',
  },
  riseTimeS: {
    title: 'Time to prime pressure',
    least: 0.5,
    most: 10,
    unit: 's',
    usual: [1.5, 2, 3],
    basis: `${LIMITS.riseTimeS.rule}. Long lines and large filters take longer.`,
    source: COMMON_PRACTICE,
  },
  holdLossPaPerMin: {
    title: 'Loss after shut-down, a minute',
    least: 1e3,
    most: 50e3,
    unit: 'Pa/min',
    usual: [3.5e3, 7e3, 14e3],
    basis: `${LIMITS.holdLossPaPerMin.rule}.`,
    source: COMMON_PRACTICE,
  },
  filterDropPa: {
    title: 'Loss across the filter',
    least: 5e3,
    most: 150e3,
    unit: 'Pa',
    usual: [20e3, 35e3, 70e3],
    basis: `${LIMITS.filterDropPa.rule}.`,
    source: COMMON_PRACTICE,
  },
  volumeLph: {
    title: 'Volume at the engine',
    least: 20,
    most: 300,
    unit: 'L/h',
    usual: [60, 90, 120],
    basis: `${LIMITS.volumeLph.rule}; large engines need more.`,
    source: COMMON_PRACTICE,
  },
  strugglingDutyPercent: {
    title: 'Duty at idle of a struggling pump',
    least: 50,
    most: 95,
    unit: '%',
    usual: [60, 65, 70],
    basis: `${LIMITS.strugglingDutyPercent.rule}.`,
    source: COMMON_PRACTICE,
  },
};

/** A limit in words, in the units of the table itself; an interface may choose others. */
export function ruleText(unit: RuleUnit, value: number): string {
  switch (unit) {
    case 'share':
      return `${Math.round(100 * value)} %`;
    case 'Pa':
      return `${value / 1e3} kPa`;
    case 'Pa/min':
      return `${value / 1e3} kPa a minute`;
    case 'V':
    case 's':
    case 'L/h':
    case '%':
      return `${value} ${unit}`;
  }
}

/** Where practitioners are of two schools, the shop chooses one. */
export const SCHOOL_RULES: {
  readonly [K in 'order' | 'waveform' | 'directFeed' | 'ownCases']: SchoolRule<HouseRules[K]>;
} = {
  order: {
    title: 'Where to begin',
    schools: {
      'best-value': 'Most told a minute',
      'pump-first': 'At the pump',
      'source-first': 'At the source',
      'mid-point': 'In the middle',
    },
    basis:
      'One loaded pair at the pump settles most cases but is hard to reach; relay and fuses are easy to reach; the middle clears half the path. Left to itself the planner weighs what a test tells against this vehicle’s access minutes.',
    source: 'practitioners differ; expected information a minute (Shannon)',
  },
  waveform: {
    title: 'What a bad hump pattern proves',
    schools: {
      'with-supply': 'Enough, supply and ground proven',
      'never-alone': 'Never alone: pressure or volume too',
    },
    basis:
      'A notch that comes back every turn is the rotor’s own. Some condemn on it once supply and ground are proven; others also want the pump to fail at its work.',
    source: 'practitioners differ; common practice, no published source',
  },
  directFeed: {
    title: 'Feeding the pump directly',
    schools: {
      'with-diagram': 'Offered, fused and by the diagram',
      never: 'Not in this house',
    },
    basis: 'It parts the pump from everything before it, but 12 V on the wrong pin destroys a sender or a module.',
    source: 'practitioners differ; common practice, no published source',
  },
  ownCases: {
    title: 'This shop’s own cases',
    schools: {
      ignored: 'Don’t move the weights',
      counted: 'Count: what is found often here weighs more',
    },
    basis:
      'Closed, proven cases count beside the usual weights, which are worth thirty of them; nothing falls below a quarter of its usual weight. A shop that sees many of one kind of vehicle gains by it.',
    source: 'Dirichlet prior on shares; the number thirty is a house rule, no published source',
  },
};

/** What is wrong with a set of rules, by field; empty when nothing is. */
export function checkHouseRules(rules: Readonly<Record<string, unknown>>): { field: string; message: string }[] {
  const problems: { field: string; message: string }[] = [];
  for (const [field, { title, least, most, unit }] of Object.entries(NUMBER_RULES)) {
    const value = rules[field];
    if (typeof value !== 'number' || !(value >= least && value <= most)) {
      problems.push({
        field,
        message: `${title}: choose between ${ruleText(unit, least)} and ${ruleText(unit, most)}.`,
      });
    }
  }
  for (const [field, { title, schools }] of Object.entries(SCHOOL_RULES)) {
    if (!Object.keys(schools).includes(rules[field] as string)) {
      problems.push({ field, message: `${title}: say one of ${Object.keys(schools).join(', ')}.` });
    }
  }
  return problems;
}
