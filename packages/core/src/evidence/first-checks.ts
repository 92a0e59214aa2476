import type { Family } from '../terms/families.js';
import type { KeyState } from '../terms/key-states.js';

/** What one answer speaks for and against, in the technician's words. */
export interface Meaning {
  readonly text: string;
  readonly towards?: readonly Family[];
  readonly away?: readonly Family[];
}

export interface Answer {
  readonly value: string;
  readonly label: string;
  readonly meaning?: Meaning;
}

/** A question answered at the car in seconds. */
export interface Check {
  readonly at: string;
  readonly title: string;
  readonly ask: string;
  readonly howTo: string;
  readonly keyState: KeyState;
  readonly answers: readonly Answer[];
}

const ALL_ELECTRICAL: readonly Family[] = [
  'fuse',
  'relay-contact',
  'relay-control',
  'cutoff-switch',
  'feed-wiring',
  'ground-wiring',
  'module',
  'pump-electrical',
];

/** The first checks in the order they are quickest to do. All meanings: common practice, no published source. */
export const FIRST_CHECKS: readonly Check[] = [
  {
    at: 'fuel_in_tank',
    title: 'Fuel in the tank',
    ask: 'Is there really fuel in the tank?',
    howTo: 'Gauge senders lie. Dip the tank where you can, or put in five litres and try again.',
    keyState: 'off',
    answers: [
      { value: 'yes', label: 'Yes, seen', meaning: { text: 'There is fuel to pump.' } },
      {
        value: 'no',
        label: 'Empty',
        meaning: { text: 'An empty tank explains the complaint by itself.', towards: ['hydraulic'] },
      },
      {
        value: 'gauge',
        label: 'Gauge says so',
        meaning: { text: 'A gauge alone proves no fuel: senders lie. See it before anything is condemned.' },
      },
    ],
  },
  {
    at: 'fuel_fresh',
    title: 'Fuel quality',
    ask: 'Is it fresh, and the right fuel?',
    howTo: 'A small sample in a clear jar: smell, colour, water at the bottom.',
    keyState: 'off',
    answers: [
      { value: 'fresh', label: 'Fresh', meaning: { text: 'The fuel is good.' } },
      {
        value: 'stale',
        label: 'Stale',
        meaning: { text: 'Stale fuel starts badly on a good pump.', towards: ['hydraulic'] },
      },
      {
        value: 'wrong',
        label: 'Water or wrong fuel',
        meaning: { text: 'Water or wrong fuel: drain and flush before any pump is judged.', towards: ['hydraulic'] },
      },
    ],
  },
  {
    at: 'cutoff_button',
    title: 'Cut-off switch',
    ask: 'Cut-off switch: where does its button stand?',
    howTo: 'Find it by the diagram. Look for leaks and smell for fuel before you reset it.',
    keyState: 'off',
    answers: [
      {
        value: 'set',
        label: 'Set',
        meaning: { text: 'The button is set. Its contact may still be corroded inside: the loaded drop tells.' },
      },
      {
        value: 'tripped',
        label: 'Tripped',
        meaning: {
          text: 'A tripped cut-off switch opens the feed. Look for leaks, then reset and repeat.',
          towards: ['cutoff-switch'],
        },
      },
      {
        value: 'none',
        label: 'None fitted',
        meaning: { text: 'No cut-off switch on this vehicle.', away: ['cutoff-switch'] },
      },
    ],
  },
  {
    at: 'restraint_event',
    title: 'Restraint event',
    ask: 'Has the restraint system sent a crash event?',
    howTo: 'By scan tool only. Restraint wiring is never probed or bridged.',
    keyState: 'off',
    answers: [
      { value: 'none', label: 'None', meaning: { text: 'No crash event holds the pump off.' } },
      {
        value: 'stored',
        label: 'Event stored',
        meaning: {
          text: 'A stored event keeps the pump off by design. Clear it by the maker’s procedure first.',
          towards: ['module-command', 'relay-control'],
        },
      },
      { value: 'not-fitted', label: 'Not fitted' },
    ],
  },
  {
    at: 'immobiliser',
    title: 'Immobiliser',
    ask: 'Does the immobiliser lamp or a code block the start?',
    howTo: 'Watch its lamp at key-on; read its codes.',
    keyState: 'off',
    answers: [
      { value: 'clear', label: 'Clear', meaning: { text: 'The immobiliser lets it start.' } },
      {
        value: 'blocks',
        label: 'Blocks',
        meaning: {
          text: 'The immobiliser stops the start, on most designs at the injectors and not at the pump.',
          towards: ['not-fuel'],
        },
      },
    ],
  },
  {
    at: 'crank_speed',
    title: 'Engine speed while cranking',
    ask: 'Does the scan tool show engine speed while it cranks?',
    howTo: 'Live data, engine speed. Anything steady above 100 rpm will do.',
    keyState: 'cranking',
    answers: [
      {
        value: 'seen',
        label: 'Yes',
        meaning: { text: 'The control unit sees rotation, so it keeps the pump commanded.' },
      },
      {
        value: 'zero',
        label: 'Stays at zero',
        meaning: {
          text: 'No engine speed: the control unit switches the pump off after prime. Look at the crankshaft sensor first.',
          towards: ['not-fuel', 'relay-control'],
          away: ['pump-electrical', 'pump-mechanical'],
        },
      },
    ],
  },
  {
    at: 'spark',
    title: 'Spark, loaded',
    ask: 'Is there spark on a loaded tester?',
    howTo: 'A tester with a wide gap, grounded. No fuel vapour near it, hands off the leads.',
    keyState: 'cranking',
    answers: [
      { value: 'strong', label: 'Strong', meaning: { text: 'Spark is there.' } },
      {
        value: 'weak',
        label: 'Weak',
        meaning: { text: 'Weak spark can be the whole complaint.', towards: ['not-fuel'] },
      },
      {
        value: 'none',
        label: 'None',
        meaning: {
          text: 'No spark: with the pump silent too, look at what both share (rotation signal, main relay).',
          towards: ['not-fuel'],
        },
      },
    ],
  },
  {
    at: 'injector_pulse',
    title: 'Injector pulse',
    ask: 'Do the injectors pulse while it cranks?',
    howTo: 'A test light made for it, or the scope: on-time and kick.',
    keyState: 'cranking',
    answers: [
      {
        value: 'present',
        label: 'Present',
        meaning: {
          text: 'Injector pulse proves that the control unit sees rotation and lets the engine start.',
          away: ['not-fuel'],
        },
      },
      {
        value: 'absent',
        label: 'Absent',
        meaning: {
          text: 'No injector pulse: rotation signal, immobiliser or the control unit’s own supply.',
          towards: ['not-fuel'],
        },
      },
    ],
  },
  {
    at: 'spray_mild',
    title: 'Spray trial, mild spray',
    ask: 'Does it fire on a short spray into the intake?',
    howTo: 'A mild spray, one second, cover back on, nobody over the engine. It can’t fire by compression alone.',
    keyState: 'cranking',
    answers: [
      {
        value: 'fires',
        label: 'Fires and dies',
        meaning: {
          text: 'Fires on sprayed fuel and dies: spark and compression work, fuel is missing.',
          away: ['not-fuel'],
        },
      },
      {
        value: 'nothing',
        label: 'No change',
        meaning: { text: 'No change with fuel sprayed in: fuel is not what is missing.', towards: ['not-fuel'] },
      },
    ],
  },
  {
    at: 'spray_volatile',
    title: 'Spray trial, starting fluid',
    ask: 'Does it fire on starting fluid?',
    howTo:
      'Some refuse this: very volatile fluid may fire from compression alone, so a "yes" proves less. Never with glow or intake heating.',
    keyState: 'cranking',
    answers: [
      {
        value: 'fires',
        label: 'Fires and dies',
        meaning: { text: 'Fires on starting fluid: fuel is probably missing, but it may have fired without spark.' },
      },
      {
        value: 'nothing',
        label: 'No change',
        meaning: { text: 'No change even on starting fluid: fuel is not what is missing.', towards: ['not-fuel'] },
      },
    ],
  },
  {
    at: 'prime_heard',
    title: 'Prime heard',
    ask: 'Key on: what does the pump do for its two seconds?',
    howTo: 'A helper at the tank, or a rod to the ear. Key off ten seconds before each try.',
    keyState: 'prime',
    answers: [
      {
        value: 'steady',
        label: 'Steady hum',
        meaning: {
          text: 'The pump gets power and turns; that it delivers is not proven yet.',
          away: ['fuse', 'relay-control'],
        },
      },
      {
        value: 'rough',
        label: 'Rough growl',
        meaning: {
          text: 'A rough growl: worn or dry pump, or air. The current ramp tells.',
          towards: ['pump-mechanical'],
        },
      },
      {
        value: 'silent',
        label: 'Silent',
        meaning: {
          text: 'Silent: no power, no ground, no command, or an open pump. Silence alone condemns nothing.',
          towards: ALL_ELECTRICAL,
        },
      },
    ],
  },
  {
    at: 'relay_click',
    title: 'Relay click',
    ask: 'Key on: does the pump relay click?',
    howTo: 'A finger on it, a helper at the key. Other relays click too: feel this one.',
    keyState: 'prime',
    answers: [
      {
        value: 'clicks',
        label: 'Clicks',
        meaning: {
          text: 'The relay pulls: its coil, its feed and its control work. Its contact may still pass nothing.',
          away: ['relay-control'],
        },
      },
      {
        value: 'silent',
        label: 'No click',
        meaning: {
          text: 'The relay doesn’t pull: coil feed, control, or its own coil.',
          towards: ['relay-control', 'relay-contact'],
        },
      },
    ],
  },
  {
    at: 'tap_test',
    title: 'Tap test',
    ask: 'Silent: does a tap on the tank wake it?',
    howTo: 'Soft mallet, helper at the key. A test, not a repair: it will stop again.',
    keyState: 'prime',
    answers: [
      {
        value: 'wakes',
        label: 'Wakes up',
        meaning: {
          text: 'A tap wakes it: brushes off the bars, or a loose connector at the tank.',
          towards: ['pump-electrical', 'feed-wiring'],
        },
      },
      { value: 'nothing', label: 'No change', meaning: { text: 'A tap changes nothing.' } },
    ],
  },
];
