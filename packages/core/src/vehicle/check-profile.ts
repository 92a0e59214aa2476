import { CONTROLS, STATION_KINDS, type SystemProfile } from './profile.js';

/** One thing wrong with a profile, by the field that it is wrong in. */
export interface FieldProblem {
  readonly field: string;
  readonly message: string;
}

/** A path with more was not drawn by hand; nobody could read it on a screen either. */
export const MOST_STATIONS = 60;
const ID = /^[a-z0-9][a-z0-9-]{0,39}$/;

/** Whether a path can work at all: a closed circuit with a pump in it, every number one that can be. */
export function checkProfile(profile: SystemProfile): FieldProblem[] {
  const problems: FieldProblem[] = [];
  const add = (field: string, message: string) => problems.push({ field, message });
  const { stations } = profile;
  if (profile.format !== 'jarro.system/1') add('format', 'This is no Jarro system, or one of a later version.');
  if (!profile.name.trim()) add('name', 'Name the system.');
  if (!CONTROLS.includes(profile.control)) add('control', `Say how the pump is switched: ${CONTROLS.join(', ')}.`);
  if (stations.length > MOST_STATIONS) {
    add(
      'stations',
      `A path has at most ${MOST_STATIONS} stations; this one has ${stations.length}. Leave out what nobody can probe.`,
    );
    return problems;
  }
  checkOrder(profile, add);
  const seen = new Set<string>();
  stations.forEach((station, i) => {
    const field = (name: string) => `stations[${i}].${name}`;
    if (!ID.test(station.id)) add(field('id'), 'An id is of small letters, digits and hyphens.');
    if (seen.has(station.id)) add(field('id'), `Two stations are called "${station.id}".`);
    seen.add(station.id);
    if (!STATION_KINDS.includes(station.kind)) add(field('kind'), `There is no station of the kind "${station.kind}".`);
    if (!station.name.trim()) add(field('name'), 'Name the station.');
    if (!(station.accessMinutes >= 0 && station.accessMinutes <= 600))
      add(field('accessMinutes'), 'Minutes of access lie between 0 and 600.');
    if (station.ohm !== undefined && !(station.ohm >= 0 && station.ohm <= 10)) {
      add(field('ohm'), 'A sound station has between 0 and 10 ohm.');
    }
    if (
      station.wire &&
      !(
        station.wire.lengthM > 0 &&
        station.wire.lengthM <= 50 &&
        station.wire.areaMm2 >= 0.1 &&
        station.wire.areaMm2 <= 120
      )
    ) {
      add(field('wire'), 'A wire here is up to 50 m long and 0.1 to 120 mm² thick.');
    }
    if (station.sharedA !== undefined && !(station.sharedA >= 0 && station.sharedA <= 60))
      add(field('sharedA'), 'Shared loads draw 0 to 60 A.');
    if (station.secondPump && !station.sharedA)
      add(field('secondPump'), 'A second pump draws something: say how much as the station’s shared load.');
    if (station.bypass && !['relay', 'cutoff-switch'].includes(station.kind)) {
      add(field('bypass'), 'Only a relay or a switch has a second way round it.');
    }
  });
  const { volts, amperes, rpm, windingOhm, pressurePa } = profile.pump;
  if (!(volts > 4 && volts <= 30 && amperes > 0.2 && amperes <= 40 && rpm > 500 && rpm <= 20_000 && pressurePa > 0)) {
    add('pump', 'The pump’s rating needs volts, amperes, rpm and pressure that a pump can have.');
  } else if (!(windingOhm > 0 && amperes * windingOhm < volts)) {
    add('pump.windingOhm', 'At its rated draw the winding would take all of the voltage; check the winding’s ohms.');
  }
  const { primeS = 2, bars, ripplePercent = 15 } = profile;
  if (!(primeS >= 0 && primeS <= 30)) add('primeS', 'A prime lasts 0 to 30 s.');
  if (bars !== undefined && !(bars >= 3 && bars <= 40)) add('bars', 'A commutator has 3 to 40 bars.');
  if (!(ripplePercent > 0 && ripplePercent <= 100))
    add('ripplePercent', 'Ripple lies between 0 and 100 % of the draw.');
  checkRising(profile.commandTable, 'commandTable', 100, add);
  checkRising(profile.sensorTable, 'sensorTable', Infinity, add);
  return problems;
}

type Add = (field: string, message: string) => void;

function checkOrder({ stations }: SystemProfile, add: Add): void {
  if (stations[0]?.kind !== 'battery') add('stations', 'A path begins at the battery.');
  if (stations.length === 0 || stations[stations.length - 1].kind !== 'ground') {
    add('stations', 'The circuit isn’t closed: a path ends at a ground point.');
  }
  const pump = stations.findIndex(({ kind }) => kind === 'pump');
  if (pump < 0) add('stations', 'There is no pump in this path.');
  stations.forEach(({ kind, name }, i) => {
    if (kind === 'battery' && i > 0) add(`stations[${i}].kind`, 'There is one battery, at the beginning.');
    if (kind === 'pump' && i !== pump)
      add(`stations[${i}].kind`, 'A second pump is a shared load of the station that feeds it.');
    if (kind === 'ground' && pump >= 0 && i < pump)
      add(`stations[${i}].kind`, `"${name}" is a ground before the pump.`);
    if (['fuse', 'fusible-link', 'relay', 'module'].includes(kind) && pump >= 0 && i > pump) {
      add(`stations[${i}].kind`, `"${name}" stands on the ground side; this belongs to the supply.`);
    }
  });
}

function checkRising(
  table: readonly (readonly [number, number])[] | undefined,
  field: string,
  most: number,
  add: Add,
): void {
  table?.forEach(([from, to], i) => {
    if (!Number.isFinite(from) || !Number.isFinite(to) || from < 0 || from > most || to > most) {
      add(`${field}[${i}]`, 'Both numbers of a row must be ones that can be.');
    }
    if (i > 0 && !(from > table[i - 1][0])) add(`${field}[${i}]`, 'The rows must rise in their first number.');
  });
}
