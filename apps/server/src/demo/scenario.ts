import type { CaptureSpec } from '@jarro/core';
import type { KeyState, ReadingKind, UserRole, VerdictKind } from '../database/entities.js';

/** An invented shop in an invented town with invented vehicles. All of it stands for nobody. */
export const DEMO_SHOP = { name: 'Fennick Lane Garage', town: 'Ostlemere' };

export const DEMO_PASSWORD = 'humps-not-hunches';

export const DEMO_USERS: readonly { name: string; email: string; role: UserRole }[] = [
  { name: 'Orsa Tindle', email: 'orsa@fennick.demo', role: 'lead' },
  { name: 'Jem Wackett', email: 'jem@fennick.demo', role: 'technician' },
  { name: 'Pell Harrow', email: 'pell@fennick.demo', role: 'adviser' },
];

export interface DemoCase {
  readonly vehicle: { model: string; year: number; engine: string; plate: string };
  readonly complaint: string;
  readonly daysAgo: number;
  readonly by: string;
  readonly readings: readonly [ReadingKind, number, KeyState][];
  readonly captures: readonly { label: string; fileName: string; spec: Partial<CaptureSpec> }[];
  readonly verdict?: { kind: VerdictKind; statement: string };
}

export const DEMO_CASES: readonly DemoCase[] = [
  {
    vehicle: { model: 'Brindle Lark', year: 2014, engine: '1.4 petrol', plate: 'OS14 LRK' },
    complaint: 'Long crank when warm. Front desk has already quoted a pump.',
    daysAgo: 6,
    by: 'jem@fennick.demo',
    readings: [
      ['battery', 12.52, 'prime'],
      ['relay_output', 12.41, 'prime'],
      ['pump_feed', 12.21, 'prime'],
      ['pump_ground', 0.07, 'prime'],
    ],
    captures: [
      {
        label: 'Prime, at the fuse',
        fileName: 'lark-prime.csv',
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
    complaint: 'Stalls at junctions, restarts after a thump under the seat.',
    daysAgo: 3,
    by: 'orsa@fennick.demo',
    readings: [
      ['battery', 13.9, 'idle'],
      ['fuse_output', 13.86, 'idle'],
      ['relay_output', 13.81, 'idle'],
      ['switch_output', 13.74, 'idle'],
      ['pump_feed', 13.65, 'idle'],
      ['pump_ground', 0.09, 'idle'],
    ],
    captures: [
      {
        label: 'Prime and idle, at the relay bridge',
        fileName: 'orrin-idle.csv',
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
    complaint: 'Dies after ten minutes, restarts cold. Had a pump at another shop last spring.',
    daysAgo: 1,
    by: 'jem@fennick.demo',
    readings: [
      ['battery', 12.46, 'prime'],
      ['fuse_output', 12.43, 'prime'],
      ['relay_output', 11.17, 'prime'],
      ['switch_output', 11.12, 'prime'],
      ['pump_feed', 11.05, 'prime'],
      ['pump_ground', 0.09, 'prime'],
    ],
    captures: [
      {
        label: 'Prime, running hot',
        fileName: 'finch-hot.csv',
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
    complaint: 'Cranks, no start, no pump noise. Towed in.',
    daysAgo: 0.2,
    by: 'jem@fennick.demo',
    readings: [
      ['battery', 12.38, 'prime'],
      ['pump_feed', 12.36, 'prime'],
      ['pump_ground', 12.31, 'prime'],
    ],
    captures: [
      {
        label: 'Prime, at the fuse',
        fileName: 'corrie-prime.csv',
        spec: { seed: 41, batteryV: 12.38, groundOhm: 1e6, noiseA: 0.03 },
      },
    ],
  },
  {
    vehicle: { model: 'Quarrow Dart', year: 2011, engine: '2.4 petrol', plate: 'QD11 OST' },
    complaint: 'Hesitates uphill since the tank was run low.',
    daysAgo: 0.05,
    by: 'orsa@fennick.demo',
    readings: [],
    captures: [],
  },
];
