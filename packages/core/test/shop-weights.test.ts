import fc from 'fast-check';
import {
  checkCase,
  DEFAULT_HOUSE_RULES,
  diagnose,
  EMPTY_INTAKE,
  shopWeights,
  templateProfile,
  VERDICTS,
  weighCase,
  writeCase,
  type CaseEvidence,
  type Family,
  type FoundCounts,
  type Verdict,
} from '../src/index.js';

// What a shop's own closed cases make of the weights that suspects begin with.

const P1 = templateProfile('P1');
const counts = fc.dictionary(
  fc.constantFrom(...(Object.keys(VERDICTS) as Verdict[])),
  fc.integer({ min: 0, max: 5000 }),
) as fc.Arbitrary<FoundCounts>;

it('leaves everything as it is where nothing was closed yet', () => {
  for (const weight of Object.values(shopWeights(P1, {}))) expect(weight).toBeCloseTo(1, 12);
});

it('never takes more than three quarters off a suspect nor gives it more than four times', () => {
  fc.assert(
    fc.property(counts, (found) => {
      for (const weight of Object.values(shopWeights(P1, found))) {
        expect(weight).toBeGreaterThanOrEqual(0.25);
        expect(weight).toBeLessThanOrEqual(4);
      }
    }),
  );
});

it('moves towards what is found, the more the more often, and not by what this path can’t have', () => {
  const relays = (n: number) => shopWeights(P1, { 'replace-relay': n })['relay-contact'] ?? 0;
  expect(relays(5)).toBeGreaterThan(1);
  expect(relays(50)).toBeGreaterThan(relays(5));
  expect(shopWeights(P1, { 'replace-relay': 50 })['pump-electrical']).toBeLessThan(1);
  // A path without a module has none to condemn.
  expect(shopWeights(P1, { 'replace-module': 500 })['pump-electrical']).toBeCloseTo(1, 12);
});

it('is switched by the house rules, and weighs alike in the application and from its case file', () => {
  const rules = { ...DEFAULT_HOUSE_RULES, ownCases: 'counted' } as const;
  const evidence: CaseEvidence = {
    complaint: 'Cranks, no start',
    intake: EMPTY_INTAKE,
    entries: [],
    captures: [],
    found: { 'replace-relay': 40, 'replace-pump': 2 },
  };
  const share = (families: readonly { family: Family; probability: number }[]) =>
    families.find(({ family }) => family === 'relay-contact')?.probability ?? 0;
  const [counted, ignored] = [rules, DEFAULT_HOUSE_RULES].map((own) => weighCase(evidence, own).families);
  expect(share(counted)).toBeGreaterThan(1.5 * share(ignored));
  const checked = checkCase(JSON.parse(JSON.stringify(writeCase('Cranks, no start', evidence, rules))));
  if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
  const { system, readings, ...options } = checked.case;
  expect(diagnose(system, readings, options).families).toEqual(counted);
  const wrong = checkCase({
    format: 'jarro.case/1',
    system: { template: 'P1' },
    readings: [],
    closedCases: { pumps: 3 },
  });
  expect(wrong).toMatchObject({ problems: [{ field: 'closedCases' }] });
});
