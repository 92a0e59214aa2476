import type { Family } from '../terms/families.js';
import type { KeyState } from '../terms/key-states.js';

/** What one answer speaks for and against, in the technician's words. */
export interface Meaning {
  readonly text: string;
  readonly towards?: readonly Family[];
  readonly away?: readonly Family[];
}

/** One answer to a check, and what it means for the diagnosis. */
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
  /** Minutes it takes (common practice, no published source). */
  readonly minutes: number;
  /** Doing it can hurt someone: its stage's cautions come first. */
  readonly risky?: true;
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
    minutes: 2,
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
    minutes: 3,
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
    minutes: 3,
    risky: true,
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
    minutes: 3,
    risky: true,
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
    minutes: 1,
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
    minutes: 2,
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
    minutes: 5,
    risky: true,
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
    minutes: 5,
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
    minutes: 4,
    risky: true,
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
    minutes: 4,
    risky: true,
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
    minutes: 1,
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
    minutes: 2,
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
    minutes: 3,
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
  {
    at: 'fuel_outside',
    title: 'Fuel outside',
    ask: 'Is fuel seen or smelled outside the system?',
    howTo: 'Under the tank, along the lines, at the rail, in the boot. A wet spot comes before any test with power.',
    keyState: 'off',
    minutes: 3,
    answers: [
      { value: 'none', label: 'Nothing', meaning: { text: 'No fuel outside.' } },
      {
        value: 'smell',
        label: 'A smell',
        meaning: {
          text: 'A smell of fuel: find where it comes from before anything is powered.',
          towards: ['hydraulic'],
        },
      },
      {
        value: 'wet',
        label: 'Wet',
        meaning: { text: 'Fuel outside: mend the leak first, nothing is powered until then.', towards: ['hydraulic'] },
      },
    ],
  },
  {
    at: 'unit_talks',
    title: 'Control unit answers',
    ask: 'Does the engine’s control unit answer the scan tool?',
    howTo: 'Try another control unit with the same tool: if that one answers, lead and tool are good.',
    keyState: 'prime',
    minutes: 3,
    answers: [
      { value: 'yes', label: 'Answers', meaning: { text: 'The control unit has supply and ground, and works.' } },
      {
        value: 'no',
        label: 'No answer',
        meaning: {
          text: 'A control unit that doesn’t answer commands no pump either: its own supply and ground come first.',
          towards: ['relay-control', 'not-fuel'],
          away: ['pump-electrical', 'pump-mechanical'],
        },
      },
    ],
  },
  {
    at: 'pump_replaced',
    title: 'Pump replaced before',
    ask: 'Was the pump replaced before, for this very complaint?',
    howTo: 'Ask the customer, read the last invoices, look for new clamps at the tank.',
    keyState: 'off',
    minutes: 2,
    answers: [
      { value: 'never', label: 'Never' },
      { value: 'long-ago', label: 'Long ago' },
      {
        value: 'for-this',
        label: 'For this, lately',
        meaning: {
          text: 'A new pump didn’t mend it: what feeds it, and how it was fitted, are likelier than a second bad pump.',
          towards: ['feed-wiring', 'ground-wiring', 'hydraulic'],
          away: ['pump-electrical', 'pump-mechanical'],
        },
      },
    ],
  },
];
