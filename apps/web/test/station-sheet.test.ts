import {
  cautionsFor,
  checkEntry,
  DUTY_LINE_NAMES,
  EMPTY_INTAKE,
  findMeasure,
  PATHS,
  templateProfile,
  type EntryKind,
  type EntryValue,
  type Station,
  type SystemProfile,
} from '@jarro/core';
import type { CaseDetail, EvidenceItem } from '@jarro/api-types';
import { describeLink } from '../src/features/evidence/describe-link';
import { howTaken, USUAL_WAY } from '../src/features/path/how';
import {
  answersTo,
  kindsAt,
  placesBeside,
  stationOrPlace,
  unitOf,
  type StationKindOfReading,
} from '../src/features/path/station-kinds';

// What a station's sheet offers is what the core keeps: nothing that is refused afterwards, nothing left out.

interface Offered {
  readonly station: Station;
  readonly kind: StationKindOfReading;
  readonly at: string;
}

/** Every key of every station's sheet, and of the places beside it. */
function offered(profile: SystemProfile): Offered[] {
  const beside = profile.stations.flatMap((station) =>
    placesBeside(station).flatMap(({ id }) => stationOrPlace(profile.stations, id) ?? []),
  );
  return [...profile.stations, ...beside].flatMap((station) =>
    kindsAt(station).flatMap((kind): Offered[] =>
      kind === 'duty'
        ? Object.keys(DUTY_LINE_NAMES).map((at) => ({ station, kind, at }))
        : [{ station, kind, at: station.id }],
    ),
  );
}

/** Everything that can be pressed there, and a number where one is typed. */
function values(kind: EntryKind, at: string): EntryValue[] {
  const value = findMeasure(kind, at)?.value;
  const numbers = value?.type === 'number' ? [value.least, (value.least + value.most) / 2, value.most] : [];
  return [...answersTo(kind as StationKindOfReading, at), ...numbers];
}

describe.each(PATHS)('the sheets of %s', (path) => {
  const profile = templateProfile(path);
  const keys = offered(profile);

  it('offer only what the core keeps, word by word and number by number', () => {
    expect(keys.length).toBeGreaterThan(30);
    for (const { kind, at } of keys) {
      const all = values(kind, at);
      expect(all.length).toBeGreaterThan(0);
      for (const value of all) expect(checkEntry(kind, at, value, 'prime')).toEqual(value);
      expect(unitOf(kind, at) !== undefined).toBe(all.some((value) => typeof value === 'number'));
    }
  });

  it('call every entry by a name that people use, never by an id', () => {
    const item = {
      intake: EMPTY_INTAKE,
      system: { name: path, shipped: true, profile },
      evidence: [],
    } as unknown as CaseDetail;
    for (const { kind, at, station } of keys) {
      const [value] = values(kind, at);
      const link = { id: '1', kind, at, value, keyState: 'prime', how: null } as unknown as EvidenceItem;
      const { title, text } = describeLink(link, item, 'kPa');
      expect(title).not.toContain('_');
      if (kind !== 'duty') expect(title).toContain(station.name);
      expect(text.length).toBeGreaterThan(0);
    }
  });

  it('warn before anything that puts power or fuel where a hand is', () => {
    for (const { kind, at } of keys) {
      if (['bridge', 'direct-feed', 'module-bypass', 'swap', 'new-fuse'].includes(kind)) {
        expect({ kind, at, warns: cautionsFor({ kind, at, keyState: 'prime' }, profile).length > 0 }).toEqual({
          kind,
          at,
          warns: true,
        });
      }
    }
  });
});

it('a relay offers its swap, a pump its ear, a module its duty, and a wire none of them', () => {
  const at = (id: string) => kindsAt(templateProfile('P4').stations.find((station) => station.id === id)!);
  expect(at('relay')).toEqual(expect.arrayContaining(['voltage', 'swap', 'bridge', 'visual']));
  expect(at('pump')).toEqual(expect.arrayContaining(['voltage', 'current', 'heard', 'direct-feed', 'pattern']));
  expect(at('module')).toEqual(expect.arrayContaining(['voltage', 'duty', 'module-bypass']));
  expect(at('ground-pin')).not.toEqual(expect.arrayContaining(['swap']));
  expect(placesBeside(templateProfile('P4').stations.find(({ kind }) => kind === 'relay')!)).toEqual([
    { id: 'coil_feed', name: 'Relay coil, feed' },
    { id: 'coil_ground', name: 'Relay coil, ground' },
  ]);
  expect(templateProfile('P8').stations.flatMap(placesBeside)).toContainEqual({ id: 'lift_pump', name: 'Lift pump' });
});

it('of how a reading was taken only the unusual is told', () => {
  expect(howTaken(USUAL_WAY)).toEqual({ trust: 'normal' });
  const unusual = { connector: 'open', helped: 'bridged', battery: 'alone', reached: 'pierced', trust: 'low' } as const;
  expect(howTaken({ ...unusual, command: ' 53,5 ' })).toEqual({
    trust: 'low',
    unloaded: true,
    helped: 'bridged',
    boosted: false,
    pierced: true,
    commandPercent: 53.5,
  });
  // Half typed is not yet a command.
  expect(howTaken({ ...USUAL_WAY, command: '5x' })).not.toHaveProperty('commandPercent');
});
