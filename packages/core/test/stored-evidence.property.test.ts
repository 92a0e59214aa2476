import fc from 'fast-check';
import {
  BATTERY_SUPPORT,
  caseBench,
  checkEntry,
  DEFAULT_HOUSE_RULES,
  EMPTY_INTAKE,
  FIRST_CHECKS,
  KEY_STATES,
  EVIDENCE,
  NUMBER_MEASURES,
  PATHS,
  pointersFrom,
  pressureSheet,
  SYSTEM_KINDS,
  TAMPERING,
  templateProfile,
  weighCase,
  writeCase,
  type CaseCapture,
  type CaseEvidence,
  type Entry,
  type Intake,
  type RampResult,
} from '../src/index.js';

// Whatever the server once accepted must open again: a case that can't be opened can't be mended either.

const state = fc.constantFrom(...KEY_STATES);
const how = fc.record(
  {
    reference: fc.constantFrom('battery-', 'battery+', 'chassis', 'local-ground'),
    unloaded: fc.boolean(),
    trust: fc.constantFrom('high', 'normal', 'low'),
  },
  { requiredKeys: [] },
);
const within = (least: number, most: number) =>
  fc.oneof(fc.double({ min: least, max: most, noNaN: true }), fc.constantFrom(least, most, 0));

/** Kinds that are answered by one of a few words at a station. */
const ANSWERED = Object.entries(EVIDENCE).flatMap(([kind, { stations }]) =>
  stations?.value.type === 'words' ? [[kind, stations.value.words] as const] : [],
);

const measured = fc
  .constantFrom(...NUMBER_MEASURES)
  .chain(({ kind, at, value: { least, most } }) =>
    fc.record({ kind: fc.constant(kind), at: fc.constant(at), value: within(least, most) }),
  );
const onThePath = fc
  .constantFrom('battery', 'fuse', 'relay', 'cutoff', 'module', 'pump', 'ground-pin', 'pump_feed')
  .chain((at) =>
    fc.oneof(
      fc.record({ kind: fc.constant('voltage' as const), at: fc.constant(at), value: within(-30, 30) }),
      fc.record({ kind: fc.constant('current' as const), at: fc.constant(at), value: within(-60, 60) }),
      fc.record({
        kind: fc.constant('resistance' as const),
        at: fc.constant(at),
        value: fc.oneof(within(0, 1e9), fc.constantFrom('open', 'wandering')),
      }),
      fc.record({
        kind: fc.constant('duty' as const),
        at: fc.constantFrom('output', 'command'),
        value: within(0, 100),
      }),
      fc.constantFrom(...ANSWERED).chain(([kind, answers]) =>
        fc.record({
          kind: fc.constant(kind as Entry['kind']),
          at: fc.constant(at),
          value: fc.constantFrom(...answers),
        }),
      ),
    ),
  );
const records = fc.oneof(
  fc.record({
    kind: fc.constant('hold' as const),
    at: fc.constant('rail'),
    value: fc.record({
      points: fc
        .array(within(-101_325, 1.2e6), { minLength: 3, maxLength: 12 })
        .map((pressures) => pressures.map((pascal, i) => [i * 30, pascal] as const)),
      blocked: fc.constantFrom('none' as const, 'supply' as const, 'return' as const),
    }),
  }),
  fc.record({
    kind: fc.constant('volume' as const),
    at: fc.constant('rail'),
    value: fc.record({ volumeM3: within(0, 0.1), durationS: fc.double({ min: 1e-9, max: 600, noNaN: true }) }),
  }),
);
const checked = fc.constantFrom(...FIRST_CHECKS).chain(({ at, answers }) =>
  fc.record({
    kind: fc.constant('check' as const),
    at: fc.constant(at),
    value: fc.constantFrom(...answers.map(({ value }) => value)),
  }),
);

const entry = fc
  .tuple(fc.oneof(measured, onThePath, records, checked), state, fc.boolean(), how, fc.uuid())
  .map(([what, keyState, faultPresent, more, id]): Entry => ({
    ...(what as Pick<Entry, 'kind' | 'at' | 'value'>),
    keyState,
    faultPresent,
    id,
    takenAt: '2026-01-01T00:00:00.000Z',
    ...(more as object),
  }))
  .filter((candidate) => {
    try {
      checkEntry(candidate.kind, candidate.at, candidate.value, candidate.keyState);
      return true;
    } catch {
      return false;
    }
  });

/** A clamp's wrong factor takes a record anywhere. */
const number = fc.oneof(
  fc.double({ min: -1e38, max: 1e38, noNaN: true }),
  fc.double({ min: -50, max: 50, noNaN: true }),
);
const ramp = fc.record({
  inverted: fc.boolean(),
  pattern: fc.constantFrom('even', 'locked-notch', 'burnt-bars', 'dead-stretch', 'no-current', 'pulsed', 'irregular'),
  dropouts: fc.constant([]),
  steady: fc.record({
    fromS: number,
    toS: number,
    meanA: number,
    minA: number,
    maxA: number,
    rippleA: number,
    ripplePercent: number,
  }),
  inrushPeakA: number,
  rpm: number,
  humps: fc.record({
    rateHz: number,
    perRevolution: fc.constant(8),
    basis: fc.constantFrom('measured', 'assumed'),
    confidence: fc.constant(1),
  }),
}) as fc.Arbitrary<unknown> as fc.Arbitrary<RampResult>;
const capture: fc.Arbitrary<CaseCapture> = fc.record({
  id: fc.uuid(),
  ramp,
  keyState: state,
  faultPresent: fc.boolean(),
});

const intake = fc
  .record({
    system: fc.constantFrom(...SYSTEM_KINDS),
    tampering: fc.uniqueArray(fc.constantFrom(...Object.keys(TAMPERING))),
    batterySupport: fc.constantFrom(...Object.keys(BATTERY_SUPPORT)),
    sensorTable: fc.constantFrom(
      [],
      [
        [0.5, 0],
        [4.5, 1e6],
      ],
    ),
    makersWindows: fc.constantFrom({}, { prime: { minPa: 0, maxPa: 1 } }),
  })
  .map((fields) => ({ ...EMPTY_INTAKE, ...fields }) as Intake);

const evidence: fc.Arbitrary<CaseEvidence> = fc
  .record({
    intake,
    path: fc.option(fc.tuple(fc.constantFrom(...PATHS), fc.boolean())),
    entries: fc.array(entry, { maxLength: 12 }),
    captures: fc.array(capture, { maxLength: 3 }),
  })
  .map(({ path, ...rest }) => ({
    ...rest,
    ...(path && { system: { shipped: path[1], name: 'Any', profile: templateProfile(path[0]) } }),
  }));

it('any evidence that was once accepted opens, is judged, weighed and written', () => {
  fc.assert(
    fc.property(evidence, (held) => {
      const { ladders } = caseBench(held, DEFAULT_HOUSE_RULES);
      expect(ladders.length).toBeGreaterThan(0);
      const sheet = pressureSheet(held, DEFAULT_HOUSE_RULES);
      pointersFrom(held.entries, held.intake, sheet);
      const { families } = weighCase(held, DEFAULT_HOUSE_RULES);
      const total = families.reduce((sum, { probability }) => sum + probability, 0);
      expect(total).toBeCloseTo(1, 6);
      JSON.stringify(writeCase('any', held, DEFAULT_HOUSE_RULES));
    }),
    { numRuns: 30, endOnFailure: true, seed: 20_261_126 },
  );
});
