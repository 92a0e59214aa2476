import type { Check } from './first-checks.js';

/** A question of the recheck; an answer that speaks against the repair says so. */
export interface RecheckCheck extends Check {
  /** Answers with which the vehicle isn't handed back. */
  readonly failsWith: readonly string[];
}

/** What is looked at after a repair, beside the tests that failed before. Common practice, no published source. */
export const RECHECK_CHECKS: readonly RecheckCheck[] = [
  {
    at: 'leak_check',
    title: 'Leaks',
    ask: 'After several primes, is everything dry?',
    howTo:
      'Cycle the key four times, ten seconds off in between. Look at every joint that was open, and smell under the vehicle.',
    keyState: 'prime',
    minutes: 4,
    failsWith: ['leaks'],
    answers: [
      { value: 'dry', label: 'All dry', meaning: { text: 'Nothing leaks.' } },
      { value: 'leaks', label: 'It leaks', meaning: { text: 'Key off. Nobody drives it like this.' } },
      { value: 'not-opened', label: 'No line was open', meaning: { text: 'Nothing was opened that could leak.' } },
    ],
  },
  {
    at: 'codes_cleared',
    title: 'Codes',
    ask: 'Codes read, cleared, and read again after a run?',
    howTo: 'Write down what is stored, clear it, run the vehicle as it failed before, then read again.',
    keyState: 'idle',
    minutes: 5,
    failsWith: ['came-back'],
    answers: [
      { value: 'stay-away', label: 'Cleared, none came back', meaning: { text: 'No code came back.' } },
      { value: 'none', label: 'None were stored', meaning: { text: 'There was nothing to clear.' } },
      { value: 'came-back', label: 'One came back', meaning: { text: 'The control unit still sees it.' } },
    ],
  },
  {
    at: 'trims_settled',
    title: 'Learned trims',
    ask: 'Have the fuel trims settled?',
    howTo:
      'Read the long-term trim warm at idle. What was learned while the fault was there stays until it is reset: by the scan tool’s function, by battery off as a last resort.',
    keyState: 'idle',
    minutes: 6,
    failsWith: ['far-off'],
    answers: [
      { value: 'near-zero', label: 'Near zero', meaning: { text: 'The mixture is right again.' } },
      {
        value: 'reset',
        label: 'Reset, then near zero',
        meaning: { text: 'The mixture is right again, once what was learned was reset.' },
      },
      {
        value: 'far-off',
        label: 'Still far off',
        meaning: { text: 'Something still feeds it wrongly, or what was learned was never reset.' },
      },
      { value: 'no-trims', label: 'It has none', meaning: { text: 'This control unit learns no trims.' } },
    ],
  },
  {
    at: 'road_test',
    title: 'Road test',
    ask: 'Does it drive as it should, under what brought the complaint?',
    howTo: 'Hot if it failed hot, uphill if it failed uphill. Somebody else reads the tools.',
    keyState: 'loaded',
    minutes: 15,
    failsWith: ['complaint'],
    answers: [
      { value: 'normal', label: 'As it should', meaning: { text: 'The complaint didn’t show.' } },
      { value: 'complaint', label: 'The complaint is back', meaning: { text: 'It isn’t repaired.' } },
    ],
  },
];
