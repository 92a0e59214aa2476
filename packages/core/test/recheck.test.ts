import fc from 'fast-check';
import {
  checkLeftIn,
  comparedSweeps,
  caseReport,
  checkRepair,
  costOfBeingWrong,
  EMPTY_INTAKE,
  frontDeskSentence,
  handOver,
  looseEnds,
  phasesOf,
  presentEvidence,
  presentLinks,
  recheck,
  RECHECK_CHECKS,
  recheckQuestion,
  repairPlan,
  repairState,
  soakWorth,
  takesReadings,
  templateProfile,
  VERDICTS,
  weighCase,
  DEFAULT_HOUSE_RULES,
  type ChainLink,
  type Verdict,
} from '../src/index.js';
import { chain, ground } from './support/case-chain.js';
import { seededRandom } from '../src/signal/random.js';

/** A case on a shipped path whose relay contact loses over a volt: read, decided, nothing repaired yet. */
function withBadRelay() {
  const made = chain();
  const profile = templateProfile('P1');
  made.add('system', 'path', { shipped: true, name: profile.name, profile });
  made.volts('battery', 12.5);
  made.volts('fuse', 12.45);
  const relay = made.volts('relay', 10.2);
  made.volts('pump', 9.9);
  made.volts('ground-pin', 0.06);
  made.add('verdict', 'pump', { kind: 'replace-relay' });
  return { ...made, relay };
}

describe('a case after its verdict', () => {
  it('takes readings again only once the repair is finished, and keeps them apart from those before', () => {
    const { links, volts, repaired } = withBadRelay();
    expect(takesReadings(links, 'decided')).toBe(false);
    repaired('replace-relay');
    expect(takesReadings(links, 'decided')).toBe(true);
    volts('relay', 12.38);
    const { before, after } = phasesOf(links, 'decided');
    expect(after.map(({ value }) => value)).toEqual([12.38]);
    expect(before.filter(({ kind }) => kind === 'voltage')).toHaveLength(5);
    expect(takesReadings(links, 'closed')).toBe(false);
  });

  it('asks for the failing tests again by name, and passes what is mended', () => {
    const { links, volts, repaired, relay } = withBadRelay();
    repaired('replace-relay');
    const asked = recheck(recheckQuestion(ground(links), 'decided')!);
    expect(asked.repeats.map(({ before }) => before)).toContain(relay);
    expect(asked.repeats.every(({ result }) => result === 'open')).toBe(true);
    volts('battery', 12.5);
    volts('fuse', 12.45);
    volts('relay', 12.4);
    volts('pump', 12.15);
    volts('ground-pin', 0.06);
    const done = recheck(recheckQuestion(ground(links), 'decided')!);
    expect(done.repeats.every(({ result }) => result === 'passes')).toBe(true);
    expect(done.remaining).toEqual([]);
  });

  it('accuses no sound module by a pump that draws less than the shipped path’s', () => {
    // Half the command passed on before, all of it after; the pump at hand draws as it likes, in proportion to its command.
    fc.assert(
      fc.property(
        fc.constantFrom('P4', 'P5', 'P7' as const),
        fc.double({ min: 2.5, max: 10, noNaN: true }),
        (path, fullA) => {
          const made = chain();
          const profile = templateProfile(path);
          made.add('system', 'path', { shipped: true, name: profile.name, profile });
          const sweep = (share: number) => {
            const steps = [40, 60, 80].map((commandPercent) => ({
              commandPercent,
              outputPercent: share * commandPercent,
              currentA: (share * fullA * commandPercent) / 100,
            }));
            made.read('sweep', 'module', { steps }, { keyState: 'idle' });
          };
          sweep(0.5);
          made.add('verdict', 'pump', { kind: 'replace-module' });
          made.repaired('replace-module');
          sweep(1);
          const { repeats, remaining } = recheck(recheckQuestion(ground(made.links), 'decided')!);
          expect(repeats.map(({ result }) => result)).toEqual(['passes']);
          expect(remaining).toEqual([]);
          const [first, ...more] = comparedSweeps(made.links, 'decided');
          expect([first.before?.currentA, first.after?.currentA, more.length]).toEqual([
            (0.5 * fullA * 40) / 100,
            (fullA * 40) / 100,
            2,
          ]);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('fails what still shows the fault, and says what the readings speak for now', () => {
    const { links, volts, repaired, relay } = withBadRelay();
    repaired('replace-relay');
    volts('battery', 12.5);
    volts('fuse', 12.45);
    volts('relay', 10.3);
    volts('pump', 10.0);
    const { repeats, remaining } = recheck(recheckQuestion(ground(links), 'decided')!);
    expect(repeats.find(({ before }) => before === relay)?.result).toBe('fails');
    expect(remaining[0]?.family).toBe('relay-contact');
    const { fails, needs } = handOver(links, 'decided', { repeats, remaining });
    expect(fails).toBe(true);
    expect(needs.find(({ state }) => state === 'fails')?.text).toMatch(/Relay.* still fails/);
  });

  it('weighs a reopened case by what was read since the repair, and knows that the pump is new', () => {
    const { links, add, volts, repaired } = withBadRelay();
    links[links.length - 1] = { ...links[links.length - 1], value: { kind: 'replace-pump' } };
    repaired('replace-pump');
    volts('relay', 10.2);
    add('reopen', 'case', { reason: 'it still cranks without starting' });
    volts('battery', 12.5);
    volts('fuse', 12.45);
    const present = presentEvidence(ground(links), 'open');
    expect(present.entries.map(({ kind, value }) => [kind, value])).toEqual([
      ['check', 'for-this'],
      ['voltage', 10.2],
      ['voltage', 12.5],
      ['voltage', 12.45],
    ]);
    const [likeliest] = weighCase(present, DEFAULT_HOUSE_RULES).families;
    expect(likeliest.family).toBe('relay-contact');
  });

  it('counts everything together where nothing was changed at the vehicle', () => {
    const { links, add, volts, repaired } = withBadRelay();
    links[links.length - 1] = { ...links[links.length - 1], value: { kind: 'no-fault-found' } };
    repaired('no-fault-found');
    volts('pump', 12);
    add('reopen', 'case', { reason: 'the customer is back with it' });
    expect(presentLinks(links, 'open').filter(({ kind }) => kind === 'voltage')).toHaveLength(6);
  });
});

describe('the repair', () => {
  it('has a plan for every verdict, whose particulars are each named once', () => {
    for (const verdict of Object.keys(VERDICTS) as Verdict[]) {
      const { steps } = repairPlan(verdict);
      expect(new Set(steps.map(({ id }) => id)).size).toBe(steps.length);
      expect(steps.length).toBeGreaterThan(1);
    }
  });

  it('keeps a tick, a reason, a torque; and refuses what says nothing', () => {
    const { steps } = repairPlan('replace-pump');
    expect(checkRepair('access', { done: true }, steps)).toEqual({ done: true });
    expect(checkRepair('access', { refused: ' no hatch on this one ' }, steps)).toEqual({
      refused: 'no hatch on this one',
    });
    expect(() => checkRepair('ring-torque', { done: true }, steps)).toThrow(/Torque from the service information/);
    expect(() => checkRepair('access', { refused: '' }, steps)).toThrow(/Say why/);
    expect(() => checkRepair('unheard-of', { done: true }, steps)).toThrow(/no “unheard-of”/);
    expect(() => checkRepair('done', { what: 'all', changed: 'yes' }, steps)).toThrow(/whether anything/);
    expect(() => checkRepair('done', { what: 'all of it', changed: true, minutes: -5 }, steps)).toThrow(/minutes/);
    expect(() => checkLeftIn('elephant', { what: 'an elephant' })).toThrow(/Say one of/);
  });

  it('is open until each particular was answered, the newest answer counting', () => {
    const { links, add } = withBadRelay();
    const { steps } = repairPlan('replace-relay');
    steps.forEach(({ id }) => add('repair', id, { done: true }));
    add('repair', steps[0].id, { refused: 'the key was never in' });
    const state = repairState(links, 'decided')!;
    expect(state.open).toEqual([]);
    expect(state.said.get(steps[0].id)).toEqual({ refused: 'the key was never in' });
  });
});

describe('what is left in a vehicle', () => {
  it('comes up by itself from tests and intake, and is open until it was put right afterwards', () => {
    const { links, add, read, volts } = withBadRelay();
    expect(looseEnds(links)).toEqual([]);
    read('bridge', 'relay', 'runs');
    read('swap', 'relay', 'changed');
    read('voltage', 'pump', 12.1, { how: { pierced: true } });
    read('bridge', 'fuse', 'not-possible');
    add('intake', 'intake', { ...EMPTY_INTAKE, tampering: ['wrong-fuse'] });
    const lead = add('left-in', 'lead', { what: 'a long lead at battery −' });
    expect(looseEnds(links).map(({ id }) => id)).toEqual([
      ...['bridged:relay', 'swapped:relay', 'pierced:voltage:pump', 'intake:wrong-fuse', lead],
    ]);
    add('taken-out', 'bridged:relay', { how: 'The bridge is out.' });
    const open = () => looseEnds(links).filter(({ closed }) => !closed);
    expect(open()).toHaveLength(4);
    // Bridged again, it is in again.
    read('bridge', 'relay', 'runs');
    expect(open()).toHaveLength(5);
    volts('relay', 12);
    expect(open()).toHaveLength(5);
  });

  it('keeps a case from being closed', () => {
    const { links, add, volts, repaired, read } = withBadRelay();
    read('swap', 'relay', 'changed');
    // Decided again, so that the swap belongs to what the verdict rests on.
    add('verdict', 'pump', { kind: 'replace-relay' });
    repaired('replace-relay');
    for (const [at, value] of [
      ['battery', 12.5],
      ['fuse', 12.45],
      ['relay', 12.4],
      ['pump', 12.15],
      ['ground-pin', 0.06],
    ] as const)
      volts(at, value);
    for (const { at, answers, failsWith, keyState } of RECHECK_CHECKS) {
      read('check', at, answers.find(({ value }) => !failsWith.includes(value))?.value, { keyState });
    }
    const stands = () => handOver(links, 'decided', recheck(recheckQuestion(ground(links), 'decided')!));
    expect(
      stands()
        .needs.filter(({ state }) => state !== 'met')
        .map(({ text }) => text),
    ).toEqual([expect.stringMatching(/known-good part stood in/)]);
    add('taken-out', 'swapped:relay', { how: 'it is back in the drawer' });
    expect(stands()).toMatchObject({ ready: true, fails: false });
    read('check', 'road_test', 'complaint', { keyState: 'loaded' });
    expect(stands()).toMatchObject({ ready: false, fails: true });
  });
});

describe('a soak', () => {
  it('is enough when the old fault would have kept quiet in one of twenty cases: worked by hand', () => {
    // 3 drops in 30 minutes. With t quiet minutes the chance is (30 / (30 + t))^3; 0.05^(-1/3) = 2.7144, so t = 51.43.
    const asked = (minutes: number) => soakWorth([{ minutes: 30, drops: 3 }], [{ minutes, drops: 0 }]);
    expect(asked(51).enough).toBe(false);
    expect(asked(52).enough).toBe(true);
    expect(asked(30).quietByChance).toBeCloseTo(0.125, 12);
    expect(asked(0).enoughMinutes).toBeCloseTo(51.433, 2);
    // One drop only: nineteen times as long as it took to see it.
    expect(soakWorth([{ minutes: 20, drops: 1 }], []).enoughMinutes).toBeCloseTo(380, 9);
    expect(soakWorth([{ minutes: 20, drops: 1 }], [{ minutes: 400, drops: 1 }]).enough).toBe(false);
    expect(soakWorth([], [{ minutes: 10, drops: 0 }]).quietByChance).toBeUndefined();
  });

  it('has that chance where drops come at random: drawn waits of an unknown rate', () => {
    // Rates are drawn; pairs (n in T, quiet for t) are counted: among those that saw n drops, the share that kept quiet.
    const random = seededRandom(15);
    const [before, after, drops] = [30, 40, 2];
    let seen = 0;
    let quiet = 0;
    // A rate that is uniform in its logarithm is the prior 1/λ that the formula takes.
    for (let k = 0; k < 200_000; k++) {
      const rate = Math.exp(Math.log(1e-4) + random.uniform() * Math.log(1e4));
      const poisson = (mean: number) => {
        let count = 0;
        for (let t = -Math.log(1 - random.uniform()); t < mean; t -= Math.log(1 - random.uniform())) count++;
        return count;
      };
      if (poisson(rate * before) !== drops) continue;
      seen++;
      if (poisson(rate * after) === 0) quiet++;
    }
    const { quietByChance } = soakWorth([{ minutes: before, drops }], [{ minutes: after, drops: 0 }]);
    const spread = Math.sqrt((quietByChance! * (1 - quietByChance!)) / seen);
    expect(seen).toBeGreaterThan(5000);
    expect(Math.abs(quiet / seen - quietByChance!)).toBeLessThan(4 * spread);
  });
});

describe('the cost of being wrong', () => {
  const asked = {
    right: 0.6,
    rightAfterTests: 0.95,
    testMinutes: 30,
    parts: 400,
    labourHours: 3,
    rate: 100,
    comeback: 200,
  };

  it('is what a decision costs on average: worked by hand', () => {
    // A wrong pump loses 400 + 3 · 100 + 200 = 900. Now: 0.4 · 900 = 360. Tested first: 0.5 · 100 + 0.05 · 900 = 95.
    const { now, testedFirst, testingPays } = costOfBeingWrong(asked);
    expect(now.money).toBeCloseTo(360, 9);
    expect(testedFirst.money).toBeCloseTo(95, 9);
    expect(now.hours).toBeCloseTo(1.2, 9);
    expect(testedFirst.hours).toBeCloseTo(0.65, 9);
    expect(testingPays).toBe(true);
    expect(frontDeskSentence('the pump', asked, '€')).toBe(
      'Replacing the pump now is the wrong repair in 40 of 100 such cases, which costs € 360 on average; 30 minutes of tests first bring that down to € 95, tests included.',
    );
  });

  it('never says that tests pay which cost more than all that they could save', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    const money = fc.double({ min: 0, max: 5000, noNaN: true });
    fc.assert(
      fc.property(
        share,
        share,
        money,
        money,
        fc.double({ min: 0, max: 600, noNaN: true }),
        (right, after, parts, rate, testMinutes) => {
          const cost = { right, rightAfterTests: after, testMinutes, parts, labourHours: 2, rate, comeback: 0 };
          const { now, testingPays } = costOfBeingWrong(cost);
          if ((testMinutes / 60) * rate >= now.money) expect(testingPays).toBe(false);
        },
      ),
    );
  });
});

describe('a report', () => {
  const ofCase = (links: readonly ChainLink[], stage: 'open' | 'decided', compared?: ReturnType<typeof recheck>) =>
    caseReport({
      shop: { name: 'Fennick Lane Garage', town: 'Ostlemere' },
      number: 7,
      complaint: 'Cranks, no start',
      stage,
      vehicle: '2013 Brindle Rook, 1.4 petrol',
      plate: 'BR13',
      openedAt: '2026-01-01T08:00:00Z',
      links: links.map((link) => ({ ...link, takenBy: 'Orsa', hash: `seal-${link.sequence}` })),
      captures: [],
      recheck: compared,
      unit: 'bar',
      sealProblems: [],
    });

  it('tells what was found, done and proven again, in words alone', () => {
    const { links, add, volts, repaired, relay } = withBadRelay();
    add('void', relay, { reason: 'wrong pin' });
    volts('relay', 10.25);
    add('verdict', 'pump', {
      kind: 'replace-relay',
      statement: 'Contact burnt.',
      overrideReason: null,
      gate: { proven: ['Fed well.'], missing: [] },
    });
    repaired('replace-relay');
    volts('relay', 12.4);
    const told = ofCase(links, 'decided', recheck(recheckQuestion(ground(links), 'decided')!));
    expect(told.verdict).toMatchObject({
      title: 'Relay condemned',
      statement: 'Contact burnt.',
      proven: ['Fed well.'],
    });
    expect(told.repair).toMatchObject({ what: 'Done as planned.', leftOut: [] });
    expect(told.repeats).toContainEqual({
      name: 'Relay 87, prime',
      before: '10.25 V against battery −',
      after: '12.40 V against battery −',
      result: 'passes',
    });
    expect(told.evidence).toHaveLength(links.length);
    expect(told.evidence.find(({ voided }) => voided)).toMatchObject({
      voided: 'wrong pin',
      text: expect.stringContaining('10.20 V') as string,
    });
    expect(told.seal).toMatchObject({ entries: links.length, head: `seal-${links.length}` });
  });

  it('condemns nothing while nothing is decided', () => {
    const { links } = withBadRelay();
    const told = ofCase(links.slice(0, -1), 'open');
    expect(told.verdict).toBeUndefined();
    expect(told.needs).toEqual([]);
  });
});
