import { check, kPa, path, type DemoCase } from './demo-case.js';
import { feedbackTells } from './records.js';

/** A hose that split in the tank lets the pump turn fast, draw little and deliver next to nothing. */
const UNLOADED_PUMP = { ratedA: 2.9, ratedRpm: 7600, windingOhm: 0.55, barSpread: 0.02, noiseA: 0.03 };

/** Its brushes let go when it is hot, on a feed that stays. */
const OPENS_HOT = {
  seed: 67,
  sampleRateHz: 10_000,
  durationS: 6,
  onS: 0.2,
  batteryV: 13.9,
  ratedA: 5.3,
  ratedRpm: 7200,
  windingOhm: 0.5,
  barSpread: 0.02,
  noiseA: 0.03,
  dead: [
    { startS: 1.6, durationS: 0.31 },
    { startS: 3.1, durationS: 0.52 },
    { startS: 4.9, durationS: 0.24 },
  ],
  voltages: true,
};

/** Cases that are often condemned for the wrong part: each shows itself in one record or one line. */
export const OFTEN_MISREAD: readonly DemoCase[] = [
  {
    vehicle: { model: 'Marrow Teal', year: 2012, engine: '2.0 petrol', plate: 'MT12 ULL' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['stalls'],
      circumstances: ['hot', 'after-minutes'],
      afterMinutes: 15,
      frequency: 'often',
      since: 'the warm weather',
      priorRepairs: 'Relay replaced elsewhere a week ago; nothing changed.',
      condemnedBy: 'The shop before us: “the relay”',
    },
    system: 'Marrow 2.0, relay and cut-off',
    complaint: 'Dies when hot, restarts after a quarter of an hour. Has a new relay already.',
    daysAgo: 0.5,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      ['battery', 'charging', 13.9, 'idle'],
      check('gauge_bled', 'yes', 'idle'),
      ['pressure', 'rail', kPa(392), 'idle'],
    ],
    captures: [{ label: 'Idling hot until it stumbles', fileName: 'teal-hot.csv', keyState: 'idle', spec: OPENS_HOT }],
  },
  {
    vehicle: { model: 'Brindle Stint', year: 2015, engine: '1.4 petrol', plate: 'BS15 FEN' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['no-power', 'long-crank'],
      circumstances: ['uphill'],
      frequency: 'always',
      since: 'the tank was out for the exhaust',
      condemnedBy: 'Front desk, by telephone',
      codes: ['P0171'],
    },
    system: 'Brindle 1.4, tank regulator',
    complaint: 'Long crank, no power uphill since the tank was out. Quoted a pump.',
    daysAgo: 0.4,
    by: 'orsa@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      check('fuel_fresh', 'fresh', 'off'),
      ['battery', 'rest', 12.6, 'off'],
      check('prime_heard', 'steady', 'prime'),
      check('gauge_bled', 'yes', 'prime'),
      ['pressure', 'rail', kPa(158), 'prime'],
      ['timing', 'rise_time', 4.1, 'prime'],
      ...path('prime', 12.5, undefined, 12.43, undefined, 12.32, 0.04),
    ],
    captures: [
      {
        label: 'Prime, at the fuse',
        fileName: 'stint-prime.csv',
        keyState: 'prime',
        spec: { ...UNLOADED_PUMP, seed: 61, batteryV: 12.5 },
      },
    ],
  },
  {
    vehicle: { model: 'Quarrow Knot', year: 2010, engine: '2.4 petrol', plate: 'QK10 WYE' },
    intake: {
      system: 'returnless-two-speed',
      features: { railSensor: 'no', returnLine: 'no', module: 'yes' },
      symptoms: ['no-start'],
      circumstances: ['always'],
      frequency: 'always',
      since: 'this morning',
      condemnedBy: 'The breakdown service: “the module”',
    },
    system: 'Quarrow 2.4, two speeds',
    complaint: 'Cranks, no start. Towed in for a driver module.',
    daysAgo: 0.3,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      ['battery', 'rest', 12.55, 'off'],
      check('prime_heard', 'silent', 'prime'),
      ['pressure', 'rail', kPa(12), 'prime'],
      ['voltage', 'battery', 12.4, 'prime'],
      ['voltage', 'module-feed', 12.34, 'prime'],
    ],
    captures: [
      {
        label: 'Command, output and answer at the module',
        fileName: 'knot-module.csv',
        keyState: 'prime',
        record: feedbackTells,
      },
    ],
  },
];
