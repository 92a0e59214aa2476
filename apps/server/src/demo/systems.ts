import { templateProfile, type PathKind, type Station, type SystemProfile } from '@jarro/core';

type Details = Readonly<Record<string, Partial<Station>>>;

/** A shipped path with an invented vehicle's own particulars. */
function own(template: PathKind, name: string, more: Partial<SystemProfile>, details: Details): SystemProfile {
  const base = templateProfile(template);
  return {
    ...base,
    ...more,
    id: name.toLowerCase().replace(/[^a-z0-9]+/g, '-'),
    name,
    stations: base.stations.map((station) => ({ ...station, ...details[station.id] })),
  };
}

/** The demo shop's own systems: invented vehicles, realistic in what they draw. */
export const DEMO_SYSTEMS: readonly SystemProfile[] = [
  own(
    'P1',
    'Brindle 1.4, tank regulator',
    {
      pump: { volts: 12, amperes: 5, rpm: 6500, pressurePa: 370e3, windingOhm: 0.55 },
      bars: 8,
      regulator: 'tank',
      currentWindows: { prime: { minA: 4, maxA: 6 } },
      pressureWindows: { prime: { minPa: 340e3, maxPa: 400e3 }, idle: { minPa: 340e3, maxPa: 400e3 } },
    },
    {
      fuse: { pin: 'F7', location: 'Box under the bonnet' },
      relay: { pin: '87', colour: 'yellow', location: 'Box under the bonnet' },
      connector: { pin: '2', colour: 'yellow/red', location: 'Under the rear seat', accessMinutes: 6 },
      pump: { accessMinutes: 6 },
      'ground-pin': { pin: '3', colour: 'black', location: 'Under the rear seat', accessMinutes: 6 },
    },
  ),
  own(
    'P2',
    'Sable 3.0, oil-pressure switch',
    {
      pump: { volts: 13.5, amperes: 6.2, rpm: 5900, pressurePa: 300e3, windingOhm: 0.6 },
      bars: 8,
      regulator: 'rail-vacuum',
      currentWindows: { idle: { minA: 5, maxA: 7.5 } },
    },
    {
      relay: { pin: '87', colour: 'grey', location: 'Left of the bulkhead' },
      connector: { pin: 'A', colour: 'grey', location: 'Above the tank' },
      'ground-pin': { pin: 'C', colour: 'black', location: 'Above the tank' },
    },
  ),
  own(
    'P1',
    'Marrow 2.0, relay and cut-off',
    {
      pump: { volts: 12, amperes: 5.2, rpm: 6400, pressurePa: 380e3, windingOhm: 0.5 },
      bars: 8,
      currentWindows: { prime: { minA: 4, maxA: 6.5 }, idle: { minA: 4.2, maxA: 7 } },
      pressureWindows: { prime: { minPa: 350e3, maxPa: 410e3 }, idle: { minPa: 350e3, maxPa: 410e3 } },
    },
    {
      fuse: { pin: 'F14', location: 'Box under the dash, left', accessMinutes: 2 },
      relay: { pin: '87', colour: 'blue/white', location: 'Box under the bonnet', accessMinutes: 3 },
      cutoff: { colour: 'blue/white', location: 'Right kick panel', accessMinutes: 6 },
      connector: { pin: '1', colour: 'blue', location: 'Hatch under the rear seat', accessMinutes: 9 },
      pump: { accessMinutes: 9, location: 'In the tank, hatch under the rear seat' },
      'ground-pin': { pin: '4', colour: 'brown', location: 'Hatch under the rear seat', accessMinutes: 9 },
      ground: { location: 'Boot floor, left', accessMinutes: 7 },
    },
  ),
  own(
    'P4',
    'Halvard 2.2, driver module',
    {
      pump: { volts: 12, amperes: 6.4, rpm: 6800, pressurePa: 390e3, windingOhm: 0.45 },
      bars: 10,
      commandTable: [
        [0, 0],
        [10, 0],
        [50, 100],
      ],
      feedbackTable: [
        { fromPercent: 45, toPercent: 55, meaning: 'All normal' },
        { fromPercent: 70, toPercent: 80, meaning: 'Fault seen on the pump side' },
        { fromPercent: 20, toPercent: 30, meaning: 'Command invalid' },
      ],
    },
    {
      module: { location: 'On the chassis rail above the spare wheel', accessMinutes: 12 },
      'module-feed': { pin: '2', colour: 'red/green', location: 'On the chassis rail', accessMinutes: 12 },
    },
  ),
  own(
    'P1',
    'Tolva 1.2, relay',
    {
      pump: { volts: 11.1, amperes: 6.6, rpm: 5200, pressurePa: 385e3, windingOhm: 0.5 },
      bars: 10,
      currentWindows: { prime: { minA: 5.5, maxA: 7.5 }, idle: { minA: 5.5, maxA: 7.5 } },
      pressureWindows: { idle: { minPa: 360e3, maxPa: 410e3 } },
    },
    { relay: { pin: '87', colour: 'green', location: 'Box under the bonnet' } },
  ),
  own(
    'P6',
    'Quarrow 2.4, two speeds',
    {
      pump: { volts: 12, amperes: 5.6, rpm: 6200, pressurePa: 380e3, windingOhm: 0.55 },
      bars: 8,
      regulator: 'tank',
      commandTable: [
        [0, 0],
        [25, 60],
        [50, 60],
        [75, 100],
      ],
      feedbackTable: [
        { fromPercent: 45, toPercent: 55, meaning: 'All normal' },
        { fromPercent: 70, toPercent: 80, meaning: 'Fault seen on the pump side' },
        { fromPercent: 20, toPercent: 30, meaning: 'Command invalid' },
      ],
    },
    {
      module: { location: 'Boot, behind the left trim', accessMinutes: 8 },
      'module-feed': { pin: '1', colour: 'orange', location: 'Boot, behind the left trim', accessMinutes: 8 },
      connector: { pin: '2', colour: 'violet', location: 'Above the tank', accessMinutes: 10 },
    },
  ),
];
