import { analyzeCapture, type Analysis } from '../src/analyze.js';
import type { Role } from '../src/capture/capture.js';
import { signalEntries } from '../src/casework/signal-entries.js';
import { seededRandom } from '../src/signal/random.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';

// Small records worked by hand: a supply of 13.8 V behind 0.3 ohm, a pump that draws 6 A (12 V across it) with a tenth of
// hump ripple, and a rail at 380 kPa. Which way each goes is what a motor on a wire does (common practice, no published source).

const RATE = 5000;
const EMF = 13.8;
const OHM = 0.3;
const DRAW = 6;
const PRESSURE = 380e3;
const START = 1.2;
const END = 1.5;

interface Moment {
  readonly amperes: number;
  readonly volts: number;
  readonly pascal: number;
}

type Course = (t: number) => Partial<Moment> | undefined;
type Columns = Readonly<Partial<Record<Role, Float32Array>>>;

/** Two and a half seconds of running, but for what `course` says of a moment; volts follow the load line where it leaves them open. */
function draw(course: Course, durationS = 2.5): Columns & Record<'pump_current' | 'pump_feed_voltage', Float32Array> {
  const random = seededRandom(9);
  const count = Math.round(durationS * RATE);
  const out = {
    pump_feed_voltage: new Float32Array(count),
    pump_current: new Float32Array(count),
    rail_pressure: new Float32Array(count),
  };
  for (let i = 0; i < count; i++) {
    const t = i / RATE;
    const now = course(t) ?? {};
    const usual = now.amperes ?? DRAW;
    const amperes = usual * (1 + 0.05 * Math.sin(2 * Math.PI * 613 * t));
    out.pump_current[i] = amperes + 0.03 * random.normal();
    out.pump_feed_voltage[i] = (now.volts ?? EMF - OHM * amperes) + 0.01 * random.normal();
    out.rail_pressure[i] = (now.pascal ?? PRESSURE) + 800 * random.normal();
  }
  return out;
}

const during =
  (course: Course): Course =>
  (t) =>
    t >= START && t < END ? course(t) : undefined;

function analyze(columns: Columns, tell: Partial<Record<Role, object>> = {}, sampleRateHz = RATE): Analysis {
  const roles = Object.keys(columns) as Role[];
  const unit = (role: Role) => (role === 'pump_current' ? 'A' : role === 'rail_pressure' ? 'Pa' : 'V');
  const channels = roles.map(
    (role) => ({ name: role, unit: unit(role), fileFactor: 1, samples: columns[role]! }) as const,
  );
  const setups = Object.fromEntries(roles.map((role) => [role, { role, ...tell[role] }]));
  return analyzeCapture('drawn', { sampleRateHz, startS: 0, channels, notes: [] }, { setups });
}

const only = (columns: Columns, ...roles: Role[]): Columns =>
  Object.fromEntries(roles.map((role) => [role, columns[role]!]));

const OPENS = draw(during((t) => ({ amperes: 0, volts: 7.6 - 8 * (t - START) })));
const BRUSHES = draw(during(() => ({ amperes: 0, volts: EMF })));
const DRAGS = draw(during((t) => ({ amperes: DRAW + 7 * Math.min(1, (t - START) / 0.1) })));
const STARVES = draw(
  during((t) => ({
    amperes: DRAW - 3 * Math.min(1, (t - START) / 0.06),
    pascal: PRESSURE - 2e5 * Math.min(1, (t - START) / 0.2),
  })),
);

it.each([
  ['a contact that opens leaves the pump’s own voltage on the feed', OPENS, 'upstream', 'upstream'],
  ['brushes that lift let the feed rise to the battery’s', BRUSHES, 'pump', 'load'],
  ['a pump that drags draws more, and the feed falls by what that costs', DRAGS, 'pump', 'load'],
  ['a pump without fuel draws less by and by, and the pressure falls', STARVES, 'hydraulic', 'load'],
  ['nothing happens to a sound pump', draw(() => undefined), 'none', 'undetermined'],
] as const)('%s', (_, columns, cause, side) => {
  const analysis = analyze(columns);
  const { sequence, source } = analysis;
  expect(sequence!.cause).toBe(cause);
  const kept = signalEntries(analysis, 'idle').find(({ kind }) => kind === 'source');
  expect(kept).toMatchObject({ ...(cause !== 'none' && { faultPresent: false }) });
  expect(source!.side).toBe(side);
  expect(source!.resistanceOhm).toBeCloseTo(OHM, 1);
  expect(source!.interval![0]).toBeLessThan(OHM * 1.02);
  expect(source!.interval![1]).toBeGreaterThan(OHM * 0.98);
  const times = sequence!.events.map(({ timeS }) => timeS);
  if (cause === 'none') expect(times).toEqual([]);
  else {
    expect(Math.abs(times[0] - START)).toBeLessThan(columns === DRAGS || columns === STARVES ? 0.1 : 0.002);
    expect(Math.abs(times[1] - END)).toBeLessThan(columns === DRAGS || columns === STARVES ? 0.1 : 0.002);
    expect(times).toHaveLength(2);
  }
});

it('an open ground looks like an open pump until the ground is on the record too', () => {
  const columns = draw(during(() => ({ amperes: 0, volts: EMF })));
  const ground = columns.pump_current.map((_, i) => (i / RATE >= START && i / RATE < END ? EMF - 0.01 : 0.06));
  const without = analyze(columns).sequence!;
  expect(without.cause).toBe('pump');
  expect(without.incidents[0].because).toMatch(/ground isn’t on the record/);
  const withGround = analyze({ ...columns, pump_ground_voltage: ground }).sequence!;
  expect(withGround.cause).toBe('upstream');
  expect(withGround.incidents[0].because).toMatch(/ground rose/);
});

it('says which channel went first, and how far up the supply fell along', () => {
  const relay = OPENS.pump_current.map((_, i) => (i / RATE >= START && i / RATE < END ? 0.1 : 13.4));
  const { incidents } = analyze({ ...OPENS, relay_output_voltage: relay }).sequence!;
  expect(incidents[0].because).toMatch(/relay’s output with them/);
  const standing = analyze({ ...OPENS, relay_output_voltage: relay.map(() => 13.4) }).sequence!;
  expect(standing.incidents[0].because).toMatch(/wiring between them/);
});

it('claims no more than the channels bear', () => {
  const noCurrent = analyze(only(STARVES, 'pump_feed_voltage', 'rail_pressure')).sequence!;
  expect(noCurrent.cause).toBe('undetermined');
  expect(noCurrent.incidents[0].because).toMatch(/pump or the fuel side/);
  const feedAlone = analyze(only(OPENS, 'pump_feed_voltage'));
  expect(feedAlone.sequence!.cause).toBe('upstream');
  expect(feedAlone.source).toBeUndefined();
  expect(analyze(only(OPENS, 'pump_current', 'rail_pressure')).sequence).toBeUndefined();
});

it('a key turned off is no incident, and neither is a start', () => {
  const key = draw((t) =>
    t < 0.3 || t > 2.2 ? { amperes: 0, volts: t < 0.3 ? 0 : 6 * Math.exp(-(t - 2.2) / 0.2) } : undefined,
  );
  expect(analyze(key).sequence).toMatchObject({ events: [], cause: 'none' });
});

it('brushes that lift soon after a start lift at once, though they were away when the start was over', () => {
  const started = draw((t) =>
    t < 0.3 ? { amperes: 0, volts: 0 } : t > 1.7 && t < 2.1 ? { amperes: 0, volts: EMF } : {},
  );
  const rise = started.pump_current.map((amperes) => 0.01 * amperes);
  const { events, cause, first } = analyze({ ...started, pump_ground_voltage: rise }).sequence!;
  expect({ cause, first }).toEqual({ cause: 'pump', first: 'pump_current' });
  expect(events.map(({ timeS }) => Math.round(10 * timeS) / 10)).toEqual([1.7, 2.1]);
});

it('an incident stands once in the answer, and the draw is that of the time without it', () => {
  const { ramp, events } = analyze(OPENS);
  expect(ramp!.dropouts.filter(({ locked }) => !locked)).toEqual([]);
  expect(events.filter(({ kind }) => kind === 'dropout')).toEqual([]);
  expect(events.filter(({ kind }) => kind === 'incident')).toHaveLength(1);
  expect(ramp!.steady!.meanA).toBeCloseTo(DRAW, 1);
});

it('a clamp on backwards, one that is off, and a later clock change nothing that is said', () => {
  const turned = { ...BRUSHES, pump_current: BRUSHES.pump_current.map((value) => -value + 0.4) };
  const plain = analyze(BRUSHES).sequence!;
  const other = analyze(turned).sequence!;
  expect(other.cause).toBe(plain.cause);
  expect(other.events.map(({ timeS }) => timeS.toFixed(3))).toEqual(plain.events.map(({ timeS }) => timeS.toFixed(3)));
});

it('a feed that a driver switches is told by its average, and its pulses are no incidents', () => {
  const columns = draw(during(() => ({ amperes: 0, volts: EMF })));
  // 125 Hz at 60 %; the volts are gone for good a while, as when the module loses its supply.
  const switched = columns.pump_feed_voltage.map((_, i) => {
    const lost = i / RATE >= START && i / RATE < END;
    return !lost && i % 40 < 24 ? 13.4 : 0.02 * Math.sin(i);
  });
  const { sequence, source, cannotTell } = analyze({
    pump_feed_voltage: switched,
    pump_current: columns.pump_current,
  });
  expect(sequence!.cause).toBe('upstream');
  expect(sequence!.incidents).toHaveLength(1);
  expect(Math.abs(sequence!.events[0].timeS - START)).toBeLessThan(0.02);
  expect(source!.resistanceOhm).toBeUndefined();
  expect(cannotTell.find(({ what }) => what === 'source resistance')!.because).toMatch(/driver switches the feed/);
  const steady = draw(() => undefined);
  const sound = steady.pump_feed_voltage.map((_, i) => (i % 40 < 24 ? 13.4 : 0.02 * Math.sin(i)));
  expect(analyze({ pump_feed_voltage: sound, pump_current: steady.pump_current }).sequence!.events).toEqual([]);
});

it('gives the cloud of volts over current with its line, the start’s few moments too, and none without a resistance', () => {
  // A start of 30 A, which falls to the running current in tens of milliseconds.
  const started = draw((t) => ({ amperes: DRAW + 24 * Math.exp(-t / 0.03) }));
  const { cloud, source } = analyze(started);
  const { points, openV } = cloud!;
  expect(openV).toBeCloseTo(EMF, 1);
  expect(points.length).toBeLessThan(600);
  expect(Math.max(...points.map(([amperes]) => amperes))).toBeGreaterThan(25);
  expect(points.filter(([amperes]) => amperes > 10).length).toBeGreaterThan(50);
  for (const [amperes, volts] of points) {
    expect(Math.abs(volts - (openV - source!.resistanceOhm! * amperes))).toBeLessThan(0.25);
  }
  // What the supply does lies off the line: half the volts are gone at half the current.
  const failing = analyze(draw(during(() => ({ amperes: 3, volts: 6 })))).cloud!.points;
  expect(failing.some(([amperes, volts]) => volts < EMF - OHM * amperes - 5)).toBe(true);
  expect(analyze(only(started, 'pump_feed_voltage')).cloud).toBeUndefined();
});

it('takes ignition’s spikes on two samples of a slow recorder for none of the pump’s doing', () => {
  const incidentsOf = (seed: number) => {
    const { sampleRateHz, feedV, currentA, pressurePa, truth } = intermittentRecord(seed);
    const columns = {
      pump_feed_voltage: feedV,
      pump_current: currentA,
      ...(pressurePa && { rail_pressure: pressurePa }),
    };
    return { sampleRateHz, truth, incidents: analyze(columns, {}, sampleRateHz).sequence!.incidents };
  };
  const [sound, faltering] = [incidentsOf(93_447), incidentsOf(93_327)];
  expect([sound.sampleRateHz, sound.truth.fault, faltering.sampleRateHz]).toEqual([1000, 'healthy', 1000]);
  expect(sound.incidents).toEqual([]);
  expect(faltering.incidents).toHaveLength(faltering.truth.incidents.length);
});

it('by volts alone blames no feed for a pump whose own contacts let go and start it anew, and ends a bounce where it ends', () => {
  const alone = (seed: number) => {
    const { sampleRateHz, feedV, truth } = intermittentRecord(seed);
    return { truth, sequence: analyze({ pump_feed_voltage: feedV }, {}, sampleRateHz).sequence! };
  };
  for (const seed of [178_055, 178_075]) {
    const { truth, sequence } = alone(seed);
    expect([seed, truth.cause]).toEqual([seed, 'pump']);
    expect(sequence.incidents.filter(({ cause }) => cause === 'upstream')).toEqual([]);
  }
  for (const seed of [178_018, 178_049, 178_087, 178_096, 178_019, 178_074]) {
    const { truth, sequence } = alone(seed);
    expect(sequence.cause).toBe('upstream');
    truth.incidents.forEach(([, until], i) => {
      expect(Math.abs(sequence.incidents[i].endS! - until)).toBeLessThan(0.005);
    });
  }
});

// On the second a drag was over so soon that what came after it, less to do and higher volts, passed for a supply that gave more.
it.each([
  [220_060, 3],
  [610_039, 2],
])('tells each of several drags, and takes none for the swing back from the one before: %i', (seed, count) => {
  const { sampleRateHz, feedV, currentA, truth } = intermittentRecord(seed);
  expect([truth.fault, truth.incidents.length]).toEqual(['bind', count]);
  const { incidents } = analyze({ pump_feed_voltage: feedV, pump_current: currentA }, {}, sampleRateHz).sequence!;
  expect(incidents.map(({ cause }) => cause)).toEqual(truth.incidents.map(() => 'pump'));
});

it('ends a pump that runs dry where fuel comes, though it runs dry again before its line is full', () => {
  const DRY = [0.7, 1.2, 1.7];
  // Down by half within 0.06 s, dry for 0.2 s; then the line fills, with a time constant of 0.12 s.
  const missing = (since: number) =>
    since < 0.2 ? 3 * Math.min(1, since / 0.06) : 3 * Math.exp(-(since - 0.2) / 0.12);
  const columns = draw((t) => {
    const last = DRY.findLast((at) => t >= at);
    return last === undefined ? undefined : { amperes: DRAW - missing(t - last) };
  });
  const { incidents } = analyze(only(columns, 'pump_current', 'pump_feed_voltage')).sequence!;
  expect(incidents.map(({ cause }) => cause)).toEqual(['hydraulic', 'hydraulic', 'hydraulic']);
  for (const [i, { startS, endS }] of incidents.entries()) {
    expect(Math.abs(startS - DRY[i])).toBeLessThan(0.03);
    expect(Math.abs(endS! - DRY[i] - 0.2)).toBeLessThan(0.05);
  }
});

it('lets a fall begin where the current goes, and not where it had wandered to before', () => {
  // A tenth less within half a second, long before.
  const wandered = (t: number) => DRAW - 0.4 * Math.min(1, Math.max(0, t - 0.3) / 0.5);
  const columns = draw((t) => ({ amperes: wandered(t) - (t >= 1.6 && t < 2 ? 3 * Math.min(1, (t - 1.6) / 0.08) : 0) }));
  const { incidents } = analyze(only(columns, 'pump_current', 'pump_feed_voltage')).sequence!;
  expect(incidents).toHaveLength(1);
  expect(Math.abs(incidents[0].startS - 1.6)).toBeLessThan(0.03);
});
