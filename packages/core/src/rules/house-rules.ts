import { COMMON_PRACTICE, LIMITS } from '../limits/limits.js';

/** What the house does first, where practitioners differ. */
export const ORDERS = ['best-value', 'pump-first', 'source-first', 'mid-point'] as const;
export type Order = (typeof ORDERS)[number];

/** How much a pattern in the current proves. */
export const WAVEFORM_SCHOOLS = ['with-supply', 'never-alone'] as const;
/** Whether the pump may be fed directly to part it from everything before it. */
export const DIRECT_FEED_SCHOOLS = ['with-diagram', 'never'] as const;

/** A shop's own limits and schools. Volts in V, shares 0 to 1. */
export interface HouseRules {
  /** Most that may be lost from battery + to the pump's feed, loaded. */
  readonly supplyDropV: number;
  readonly groundDropV: number;
  readonly contactDropV: number;
  readonly order: Order;
  readonly waveform: (typeof WAVEFORM_SCHOOLS)[number];
  readonly directFeed: (typeof DIRECT_FEED_SCHOOLS)[number];
  /** Weight that the pump's families need before it may be condemned. */
  readonly pumpWeight: number;
}

export const DEFAULT_HOUSE_RULES: HouseRules = {
  supplyDropV: LIMITS.supplyDropV.value,
  groundDropV: LIMITS.groundDropV.value,
  contactDropV: LIMITS.contactDropV.value,
  order: 'best-value',
  waveform: 'with-supply',
  directFeed: 'with-diagram',
  pumpWeight: 0.95,
};

interface NumberRule {
  readonly title: string;
  readonly least: number;
  readonly most: number;
  readonly unit: 'V' | '%';
  /** Values that shops use. */
  readonly usual: readonly number[];
  readonly basis: string;
  readonly source: string;
}

interface SchoolRule<T extends string> {
  readonly title: string;
  readonly schools: Readonly<Record<T, string>>;
  readonly basis: string;
  readonly source: string;
}

/** Each limit with what it rests on. */
export const NUMBER_RULES: Readonly<Record<'supplyDropV' | 'groundDropV' | 'contactDropV' | 'pumpWeight', NumberRule>> =
  {
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
      unit: '%',
      usual: [0.95, 0.97, 0.99],
      basis: 'A good pump condemned costs the job and the trust; less than 95 % is never enough, more may be asked.',
      source: 'house rule, no published source',
    },
  };

export const SCHOOL_RULES: {
  readonly [K in 'order' | 'waveform' | 'directFeed']: SchoolRule<HouseRules[K]>;
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
};

/** What is wrong with a set of rules, by field; empty when nothing is. */
export function checkHouseRules(rules: Readonly<Record<string, unknown>>): { field: string; message: string }[] {
  const problems: { field: string; message: string }[] = [];
  for (const [field, { title, least, most, unit }] of Object.entries(NUMBER_RULES)) {
    const value = rules[field];
    const shown = (limit: number) => (unit === '%' ? `${Math.round(100 * limit)} %` : `${limit} V`);
    if (typeof value !== 'number' || !(value >= least && value <= most)) {
      problems.push({ field, message: `${title}: choose between ${shown(least)} and ${shown(most)}.` });
    }
  }
  for (const [field, { title, schools }] of Object.entries(SCHOOL_RULES)) {
    if (!Object.keys(schools).includes(rules[field] as string)) {
      problems.push({ field, message: `${title}: say one of ${Object.keys(schools).join(', ')}.` });
    }
  }
  return problems;
}
