import fc from 'fast-check';
import {
  checkCase,
  checkEntry,
  DEFAULT_HOUSE_RULES,
  diagnose,
  EMPTY_INTAKE,
  emptyProfile,
  FIRST_CHECKS,
  NUMBER_MEASURES,
  wordsAt,
  newStation,
  PATHS,
  readProfile,
  STATION_KINDS,
  templateProfile,
  weighCase,
  writeCase,
  type CaseEvidence,
  type Entry,
  type EntryKind,
  type EntryValue,
  type KeyState,
  type SystemProfile,
} from '../src/index.js';

// What leaves Jarro as a file must come back as what it was, and be weighed alike.

const path = fc.constantFrom(...PATHS).map(templateProfile);

/** Edits of a path as the composer makes them: put in, move, take out. */
const edits = fc.array(
  fc.oneof(
    fc.record({ put: fc.constantFrom(...STATION_KINDS), at: fc.nat(20) }),
    fc.record({ move: fc.nat(20), to: fc.nat(20) }),
    fc.record({ out: fc.nat(20) }),
  ),
  { maxLength: 12 },
);

describe('a system, however it was put together', () => {
  it('keeps every id once, and reads back as it was or is refused by field', () => {
    fc.assert(
      fc.property(path, edits, (start, steps) => {
        let stations = start.stations;
        for (const step of steps) {
          if ('put' in step) {
            stations = stations.toSpliced(step.at % (stations.length + 1), 0, newStation(step.put, stations));
          } else if (stations.length === 0) continue;
          else if ('out' in step) stations = stations.filter((_, i) => i !== step.out % stations.length);
          else {
            const before = stations;
            const from = step.move % before.length;
            stations = before.toSpliced(from, 1).toSpliced(step.to % before.length, 0, before[from]);
          }
        }
        expect(new Set(stations.map(({ id }) => id)).size).toBe(stations.length);
        const profile: SystemProfile = { ...start, stations };
        const read = readProfile(JSON.parse(JSON.stringify(profile)));
        if ('profile' in read) expect(read.profile).toEqual(profile);
        else
          for (const { field, message } of read.problems) expect(`${field}: ${message}`).toMatch(/^stations.*: [A-Z"]/);
      }),
      { numRuns: 150, endOnFailure: true },
    );
  });

  it('an empty one has what every path has, and only wants a name', () => {
    const read = readProfile(emptyProfile());
    expect('problems' in read && read.problems).toEqual([{ field: 'name', message: 'Name the system.' }]);
    expect(readProfile({ ...emptyProfile(), name: 'Mine' })).toHaveProperty('profile.name', 'Mine');
  });

  it('never crashes on what claims to be a system', () => {
    fc.assert(
      fc.property(path, fc.string(), fc.anything(), (profile, field, value) => {
        const spoilt = { ...profile, [field]: value };
        const read = readProfile(JSON.parse(JSON.stringify(spoilt)));
        expect('profile' in read || read.problems.length > 0).toBe(true);
      }),
      { numRuns: 200, endOnFailure: true },
    );
  });
});

/** Drawn evenly: doubles are drawn by their bits, and all but a few would lie next to zero. */
const share = fc.integer({ min: 0, max: 1000 }).map((thousandths) => thousandths / 1000);

/** Evidence as people may enter it, on the path that the case was given. */
const evidence: fc.Arbitrary<CaseEvidence> = path.chain((profile) => {
  const answers: fc.Arbitrary<Taken> = fc
    .constantFrom(...FIRST_CHECKS)
    .chain(({ at, keyState, answers: known }) =>
      fc.constantFrom(...known).map(({ value }): Taken => ['check', at, value, keyState]),
    );
  const measures: fc.Arbitrary<Taken> = fc
    .constantFrom(...NUMBER_MEASURES)
    .chain(({ kind, at, value: { least, most }, states }) =>
      fc
        .tuple(share, fc.constantFrom(...states))
        .map(([of, state]): Taken => [kind, at, least + of * (most - least), state]),
    );
  const volts: fc.Arbitrary<Taken> = fc
    .tuple(fc.constantFrom(...profile.stations), share)
    .map(([{ id }, of]): Taken => ['voltage', id, 14 * of, 'prime']);
  const looks: fc.Arbitrary<Taken> = fc
    .tuple(fc.constantFrom(...profile.stations), fc.constantFrom(...wordsAt('visual', 'fuse')))
    .map(([{ id }, value]): Taken => ['visual', id, value, 'off']);
  const bled: Taken = ['check', 'gauge_bled', 'yes', 'prime'];
  return fc
    .tuple(
      fc.array(fc.oneof(answers, measures, volts, looks), { minLength: 1, maxLength: 8 }),
      fc.boolean(),
      fc.boolean(),
    )
    .map(([taken, faultPresent, isBled]) => ({
      intake: EMPTY_INTAKE,
      system: { shipped: false, name: profile.name, profile },
      entries: [...(isBled ? [bled] : []), ...taken].map(([kind, at, value, keyState], i): Entry => ({
        id: `e${i}`,
        kind,
        at,
        value,
        keyState,
        faultPresent,
        takenAt: '2026-01-01T10:00:00.000Z',
      })),
      captures: [],
    }));
});
type Taken = readonly [kind: EntryKind, at: string, value: EntryValue, state: KeyState];

describe('a case, whatever was entered', () => {
  it('leaves as a file that is taken, and is weighed from it as on the bench', () => {
    fc.assert(
      fc.property(evidence, (known) => {
        for (const { kind, at, value, keyState } of known.entries) checkEntry(kind, at, value, keyState);
        const written = JSON.parse(JSON.stringify(writeCase('stalls', known, DEFAULT_HOUSE_RULES))) as object;
        const checked = checkCase(written);
        if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
        const { system, readings, rules } = checked.case;
        const away = diagnose(system, readings, { rules });
        const here = weighCase(known, DEFAULT_HOUSE_RULES);
        expect(away.families.map(({ family }) => family)).toEqual(here.families.map(({ family }) => family));
        away.families.forEach(({ probability }, i) => expect(probability).toBeCloseTo(here.families[i].probability, 9));
        expect(away.gate).toEqual(here.gate);
        const sum = here.families.reduce((total, { probability }) => total + probability, 0);
        expect(sum).toBeCloseTo(1, 9);
      }),
      { numRuns: 25, endOnFailure: true },
    );
  });
});
