import type { UserRole } from '@jarro/api-types';
import { check, kPa, path, type DemoCase } from './demo-case.js';
import { contactOpens, halfPassed } from './records.js';

/** An invented shop in an invented town with invented vehicles. All of it stands for nobody. */
export const DEMO_SHOP = { name: 'Fennick Lane Garage', town: 'Ostlemere', labourRate: 96, currency: '€' };

export const DEMO_PASSWORD = 'humps-not-hunches';
/** Changes the person at a demo tablet. */
export const DEMO_CODE = '2580';

export const DEMO_USERS: readonly { name: string; email: string; role: UserRole }[] = [
  { name: 'Orsa Tindle', email: 'orsa@fennick.demo', role: 'lead' },
  { name: 'Jem Wackett', email: 'jem@fennick.demo', role: 'technician' },
  { name: 'Pell Harrow', email: 'pell@fennick.demo', role: 'adviser' },
];

/** Five minutes after shut-down: next to nothing lost. */
const LARK_HOLD: readonly (readonly [number, number])[] = [
  [0, kPa(371)],
  [60, kPa(369)],
  [180, kPa(366)],
  [300, kPa(363)],
];

export const DEMO_CASES: readonly DemoCase[] = [
  {
    vehicle: { model: 'Brindle Lark', year: 2014, engine: '1.4 petrol', plate: 'OS14 LRK' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['long-crank'],
      circumstances: ['hot'],
      frequency: 'often',
      since: 'last month',
      condemnedBy: 'Front desk, by telephone',
      codes: ['P0117'],
    },
    system: 'Brindle 1.4, tank regulator',
    complaint: 'Long crank when warm. Front desk has already quoted a pump.',
    daysAgo: 6,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      check('fuel_fresh', 'fresh', 'off'),
      ['battery', 'rest', 12.58, 'off'],
      check('prime_heard', 'steady', 'prime'),
      check('gauge_bled', 'yes', 'prime'),
      ['pressure', 'rail', kPa(372), 'prime'],
      ['pressure', 'rail', kPa(369), 'cranking'],
      ['pressure', 'rail', kPa(368), 'idle'],
      ['battery', 'cranking', 10.6, 'cranking'],
      check('injector_pulse', 'present', 'cranking'),
      check('spark', 'strong', 'cranking'),
      ['volume', 'rail', { volumeM3: 0.62e-3, durationS: 15 }, 'prime'],
      ['hold', 'rail', { points: LARK_HOLD, blocked: 'none' }, 'after-off'],
      ['pressure', 'before_filter', kPa(384), 'idle'],
      ['pressure', 'rail_snap', kPa(362), 'loaded'],
      ['scan', 'long_trim', 2, 'idle'],
      ...path('prime', 12.52, undefined, 12.41, undefined, 12.21, 0.07),
      ...path('cranking', 10.6, undefined, 10.51, undefined, 10.34, 0.06),
    ],
    captures: [
      {
        label: 'Prime, at the fuse',
        fileName: 'lark-prime.csv',
        keyState: 'prime',
        spec: { seed: 11, ratedA: 5.1, ratedRpm: 6600, barSpread: 0.02 },
      },
    ],
    verdict: {
      kind: 'no-fault-found',
      statement:
        'Pump draws, turns and repeats as it should on proven supply and ground. Not the pump: look at the coolant sensor.',
    },
  },
  {
    vehicle: { model: 'Sable Orrin', year: 2009, engine: '3.0 petrol', plate: 'KV09 ORN' },
    intake: {
      system: 'return-rail',
      features: { railSensor: 'no', returnLine: 'yes', module: 'no' },
      symptoms: ['stalls'],
      circumstances: ['after-minutes'],
      afterMinutes: 20,
      frequency: 'often',
      since: 'a week',
    },
    notes: [['repair', 'Pump module with strainer and ring seal fitted; pigtail wire order compared before fitting.']],
    system: 'Sable 3.0, oil-pressure switch',
    complaint: 'Stalls at junctions, restarts after a thump under the seat.',
    daysAgo: 3,
    by: 'orsa@fennick.demo',
    entries: [
      check('prime_heard', 'rough', 'prime'),
      check('tap_test', 'wakes', 'prime'),
      ['battery', 'charging', 13.94, 'idle'],
      ...path('idle', 13.9, 13.86, 13.81, undefined, 13.65, 0.09),
    ],
    captures: [
      {
        label: 'Prime and idle, at the relay bridge',
        fileName: 'orrin-idle.csv',
        keyState: 'idle',
        spec: {
          seed: 23,
          batteryV: 13.9,
          feedOhm: 0.041,
          groundOhm: 0.015,
          fullScaleA: 40,
          ratedA: 6.2,
          ratedRpm: 5900,
          windingOhm: 0.6,
          burnt: [
            { bar: 2, extraOhm: 1.1 },
            { bar: 3, extraOhm: 0.7 },
          ],
          barSpread: 0.02,
          noiseA: 0.03,
        },
      },
    ],
    verdict: {
      kind: 'replace-pump',
      statement: 'Two commutator bars drop current on every turn with supply and ground proven. Pump condemned.',
    },
  },
  {
    vehicle: { model: 'Marrow Finch', year: 2012, engine: '2.0 petrol', plate: 'MF12 TRE' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['stalls'],
      circumstances: ['hot', 'after-minutes'],
      afterMinutes: 10,
      frequency: 'always',
      since: 'last spring',
      priorRepairs: 'Pump replaced elsewhere last spring; complaint came back in a week.',
      condemnedBy: 'The shop before us',
      codes: ['P0171', 'P0087'],
    },
    system: 'Marrow 2.0, relay and cut-off',
    complaint: 'Dies after ten minutes, restarts cold. Had a pump at another shop last spring.',
    daysAgo: 1,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'gauge', 'off'),
      ['battery', 'rest', 12.51, 'off'],
      check('prime_heard', 'steady', 'prime'),
      check('gauge_bled', 'yes', 'prime'),
      ['pressure', 'rail', kPa(358), 'prime'],
      ['timing', 'rise_time', 2.9, 'prime'],
      ...path('prime', 12.46, 12.43, 11.17, 11.12, 11.05, 0.09),
    ],
    captures: [
      {
        label: 'Prime, running hot',
        fileName: 'finch-hot.csv',
        keyState: 'prime',
        spec: {
          seed: 37,
          batteryV: 12.46,
          feedOhm: 0.28,
          groundOhm: 0.018,
          ratedA: 5.4,
          ratedRpm: 6500,
          barSpread: 0.022,
        },
      },
    ],
  },
  {
    vehicle: { model: 'Tolva Corrie', year: 2017, engine: '1.6 petrol', plate: 'TC17 HAY' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['no-start'],
      circumstances: ['always'],
      frequency: 'always',
      since: 'this morning',
      batterySupport: 'jump-pack',
    },
    complaint: 'Cranks, no start, no pump noise. Towed in.',
    daysAgo: 0.2,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      check('cutoff_button', 'set', 'off'),
      check('crank_speed', 'seen', 'cranking'),
      check('prime_heard', 'silent', 'prime'),
      ...path('prime', 12.38, undefined, undefined, undefined, 12.36, 12.31),
    ],
    captures: [
      {
        label: 'Prime, at the fuse',
        fileName: 'corrie-prime.csv',
        keyState: 'prime',
        spec: { seed: 41, batteryV: 12.38, groundOhm: 1e6, noiseA: 0.03 },
      },
    ],
  },
  {
    vehicle: { model: 'Halvard Tern', year: 2016, engine: '2.2 petrol', plate: 'HT16 WEN' },
    intake: {
      system: 'returnless-electronic',
      features: { railSensor: 'yes', returnLine: 'no', module: 'yes' },
      symptoms: ['no-power', 'hesitates'],
      circumstances: ['uphill'],
      frequency: 'often',
      since: 'the last service',
      codes: ['P0172', 'P0191'],
      makersWindows: { idle: { minPa: kPa(360), maxPa: kPa(420) } },
      sensorTable: [
        [0.5, 0],
        [4.5, kPa(1000)],
      ],
    },
    system: 'Halvard 2.2, driver module',
    complaint: 'Smells rich, black smoke uphill. Quoted a pump for "too much pressure".',
    daysAgo: 0.1,
    by: 'orsa@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      ['battery', 'charging', 14.1, 'idle'],
      check('gauge_bled', 'yes', 'idle'),
      ['pressure', 'rail', kPa(512), 'idle'],
      ['scan', 'commanded_duty', 43, 'idle'],
      ['scan', 'desired_pressure', kPa(380), 'idle'],
      ['scan', 'actual_pressure', kPa(384), 'idle'],
      ['scan', 'sensor_volts', 2.03, 'idle'],
      ['scan', 'long_trim', -22, 'idle'],
    ],
    captures: [],
  },
  {
    vehicle: { model: 'Halvard Siskin', year: 2015, engine: '2.2 petrol', plate: 'HS15 KEL' },
    intake: {
      system: 'returnless-electronic',
      features: { railSensor: 'yes', returnLine: 'no', module: 'yes' },
      symptoms: ['no-power', 'long-crank'],
      circumstances: ['uphill'],
      frequency: 'always',
      since: 'a month ago',
      codes: ['P0087'],
    },
    system: 'Halvard 2.2, driver module',
    complaint: 'No power uphill, long crank. Quoted a pump.',
    daysAgo: 0.9,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      ['battery', 'charging', 13.9, 'idle'],
      check('gauge_bled', 'yes', 'idle'),
      ['pressure', 'rail', kPa(215), 'idle'],
      ['scan', 'commanded_duty', 34, 'idle'],
      ['scan', 'desired_pressure', kPa(390), 'idle'],
      ['scan', 'actual_pressure', kPa(213), 'idle'],
    ],
    captures: [
      {
        label: 'Command and output at the module',
        fileName: 'siskin-module.csv',
        keyState: 'idle',
        record: halfPassed,
      },
    ],
  },
  {
    vehicle: { model: 'Tolva Plover', year: 2013, engine: '1.2 petrol', plate: 'TP13 ABE' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['stalls'],
      circumstances: ['after-minutes'],
      afterMinutes: 8,
      frequency: 'often',
      since: 'the warm weather',
    },
    system: 'Tolva 1.2, relay',
    complaint: 'Stumbles and stalls after some minutes, catches itself again.',
    daysAgo: 0.6,
    by: 'jem@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      check('prime_heard', 'steady', 'prime'),
      ['fell-first', 'stall', 'voltage', 'idle'],
    ],
    captures: [
      { label: 'Idling until it stumbles', fileName: 'plover-idle.csv', keyState: 'idle', record: contactOpens },
    ],
  },
  {
    vehicle: { model: 'Quarrow Dart', year: 2011, engine: '2.4 petrol', plate: 'QD11 OST' },
    complaint: 'Hesitates uphill since the tank was run low.',
    daysAgo: 0.05,
    by: 'orsa@fennick.demo',
    entries: [],
    captures: [],
  },
];
