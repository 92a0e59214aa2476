import { check, kPa, path, type DemoCase, type DemoRepair } from './demo-case.js';

/** The pump of both captures below: what a motor of this kind draws at idle. */
const IVEL_PUMP = {
  batteryV: 13.9,
  feedOhm: 0.041,
  groundOhm: 0.015,
  fullScaleA: 40,
  ratedA: 6.2,
  ratedRpm: 5900,
  windingOhm: 0.6,
  barSpread: 0.02,
  noiseA: 0.03,
};

/** What every recheck asks, each as it should be. */
const ALL_WELL: DemoRepair['entries'] = [
  check('leak_check', 'dry', 'prime'),
  check('codes_cleared', 'stay-away', 'idle'),
  check('trims_settled', 'near-zero', 'idle'),
  check('road_test', 'normal', 'loaded'),
];

/** Cases that went beyond their verdict: one in the midst of its recheck, one closed. */
export const REPAIRED_CASES: readonly DemoCase[] = [
  {
    vehicle: { model: 'Sable Ivel', year: 2008, engine: '3.0 petrol', plate: 'SI08 WDL' },
    intake: {
      system: 'return-rail',
      features: { railSensor: 'no', returnLine: 'yes', module: 'no' },
      symptoms: ['stalls'],
      circumstances: ['hot'],
      frequency: 'often',
      since: 'three weeks',
      condemnedBy: 'the customer’s brother',
    },
    system: 'Sable 3.0, oil-pressure switch',
    complaint: 'Stalls when hot, restarts after a wait.',
    daysAgo: 2,
    by: 'orsa@fennick.demo',
    entries: [
      check('prime_heard', 'rough', 'prime'),
      ['battery', 'charging', 13.92, 'idle'],
      ['pressure', 'rail', kPa(268), 'idle'],
      ...path('idle', 13.9, 13.86, 13.81, undefined, 13.65, 0.09),
    ],
    captures: [
      {
        label: 'Idle, hot, at the fuse',
        fileName: 'ivel-before.csv',
        keyState: 'idle',
        spec: { ...IVEL_PUMP, seed: 41, burnt: [{ bar: 6, extraOhm: 1.3 }] },
      },
    ],
    verdict: {
      kind: 'replace-pump',
      statement: 'One bar drops current at every turn, hot, with supply and ground proven. Pump condemned.',
    },
    repair: {
      what: 'Pump assembly, strainer, ring seal and clamps replaced through the hatch.',
      minutes: 95,
      parts: [{ name: 'Pump assembly with strainer', number: 'PA-6140' }],
      leftOut: { support: 'There is a hatch: the tank stayed up.' },
      stated: '70 Nm',
      entries: [
        ...path('idle', 13.92, 13.88, 13.83, undefined, 13.68, 0.09),
        check('leak_check', 'dry', 'prime'),
        check('codes_cleared', 'none', 'idle'),
        ['soak', 'vehicle', { minutes: 40, drops: 0 }, 'idle'],
      ],
      captures: [
        {
          label: 'Idle, hot, new pump',
          fileName: 'ivel-after.csv',
          keyState: 'idle',
          spec: { ...IVEL_PUMP, seed: 42 },
        },
      ],
    },
  },
  {
    vehicle: { model: 'Brindle Rook', year: 2013, engine: '1.4 petrol', plate: 'BR13 KES' },
    intake: {
      system: 'returnless-mechanical',
      features: { railSensor: 'no', returnLine: 'no', module: 'no' },
      symptoms: ['no-start'],
      circumstances: ['always'],
      frequency: 'always',
      since: 'this morning',
      condemnedBy: 'the breakdown service',
    },
    system: 'Brindle 1.4, tank regulator',
    complaint: 'Cranks, won’t start. Towed in for a pump.',
    daysAgo: 5,
    by: 'jem@fennick.demo',
    entries: [
      check('prime_heard', 'silent', 'prime'),
      check('fuel_in_tank', 'yes', 'off'),
      check('relay_click', 'clicks', 'prime'),
      ['battery', 'rest', 12.61, 'off'],
      ['pressure', 'rail', kPa(30), 'prime'],
      ...path('prime', 12.4, 12.37, 4.1, undefined, 3.9, 0.02),
      ['swap', 'relay', 'changed', 'prime'],
      ['visual', 'relay', 'burnt', 'off'],
    ],
    captures: [],
    verdict: {
      kind: 'replace-relay',
      statement:
        'The relay’s contact loses 8.3 V under load; a known-good one in its place runs the pump. The pump is good.',
    },
    repair: {
      what: 'Relay replaced, the browned socket terminal with it.',
      minutes: 25,
      parts: [
        { name: 'Relay, four pins', number: 'R4-30' },
        { name: 'Socket terminal', number: '' },
      ],
      takenOut: { 'swapped:relay': 'The borrowed relay is back in the drawer.' },
      entries: [
        check('prime_heard', 'steady', 'prime'),
        check('relay_click', 'clicks', 'prime'),
        ['pressure', 'rail', kPa(372), 'prime'],
        ...path('prime', 12.42, 12.38, 12.33, undefined, 12.12, 0.07),
        ['visual', 'relay', 'clean', 'off'],
        ...ALL_WELL,
      ],
      captures: [
        {
          label: 'Prime, new relay',
          fileName: 'rook-after.csv',
          keyState: 'prime',
          spec: {
            seed: 51,
            batteryV: 12.4,
            ratedA: 5,
            ratedRpm: 6500,
            windingOhm: 0.55,
            barSpread: 0.02,
            noiseA: 0.03,
          },
        },
      ],
      closed: true,
      shelf: 'Brindle, 1.4 petrol, new relay',
    },
  },
  {
    vehicle: { model: 'Halvard Dunlin', year: 2016, engine: '2.2 petrol', plate: 'HD16 ARE' },
    intake: {
      system: 'returnless-electronic',
      features: { railSensor: 'yes', returnLine: 'no', module: 'yes' },
      symptoms: ['no-power'],
      circumstances: ['uphill'],
      frequency: 'always',
      since: 'a fortnight',
      condemnedBy: 'Front desk, by telephone',
    },
    system: 'Halvard 2.2, driver module',
    complaint: 'No power uphill. Quoted a pump.',
    daysAgo: 7,
    by: 'orsa@fennick.demo',
    entries: [
      check('fuel_in_tank', 'yes', 'off'),
      ['pressure', 'rail', kPa(240), 'idle'],
      ['voltage', 'battery', 13.9, 'idle'],
      ['voltage', 'module-feed', 13.7, 'idle'],
      ['duty', 'command', 30, 'idle'],
      ['duty', 'output', 21, 'idle'],
      ['current', 'pump', 2.1, 'idle'],
      ['sweep', 'module', sweepOf([30, 21, 2.1, 240], [36, 26, 2.5, 255], [45, 35, 3.1, 280]), 'idle'],
    ],
    captures: [],
    verdict: {
      kind: 'replace-module',
      statement: 'Well fed and well asked, it passes less than half the current at every step. The pump is good.',
    },
    repair: {
      what: 'Module replaced, mounted on the dry side of the chassis rail.',
      minutes: 50,
      parts: [{ name: 'Driver module', number: 'DM-221' }],
      entries: [
        ['pressure', 'rail', kPa(388), 'idle'],
        ['voltage', 'battery', 13.9, 'idle'],
        ['voltage', 'module-feed', 13.65, 'idle'],
        ['duty', 'command', 30, 'idle'],
        ['duty', 'output', 50, 'idle'],
        ['current', 'pump', 5.8, 'idle'],
        ['sweep', 'module', sweepOf([30, 50, 5.8, 388], [36, 65, 6.6, 391], [45, 87, 7.6, 393]), 'idle'],
        ...ALL_WELL,
      ],
      captures: [
        {
          label: 'Idle, new module, pump side',
          fileName: 'dunlin-after.csv',
          keyState: 'idle',
          spec: { seed: 71, batteryV: 8, ratedA: 6.6, ratedRpm: 7000, windingOhm: 0.45, bars: 10, noiseA: 0.03 },
        },
      ],
      closed: true,
      shelf: 'Halvard 2.2, new module',
    },
  },
];

/** Steps of command and output, %, with amperes and kPa at each. */
function sweepOf(...steps: readonly (readonly [command: number, output: number, amperes: number, kpa: number])[]) {
  return {
    steps: steps.map(([commandPercent, outputPercent, currentA, kpa]) => ({
      ...{ commandPercent, outputPercent, currentA },
      pressurePa: kPa(kpa),
      supplyV: 13.7,
    })),
  };
}
