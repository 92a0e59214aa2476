import { analyzeCapture } from '../src/analyze.js';
import type { Role } from '../src/capture/capture.js';
import { seededRandom } from '../src/signal/random.js';

// What a start, a stop and a stall do to volts and current is no failing feed. Worked by hand: 13.8 V behind 0.45 ohm and a pump
// of 8 A, whose start of 24 A leaves 3 V of the feed (what a motor on a wire does: common practice, no published source).

const RATE = 10_000;
const EMF = 13.8;
const OHM = 0.45;
const DRAW = 8;
const ON = 0.2;
const OFF = 1.2;
/** Of a rotor that coasts: more than the loaded feed has, and fading. */
const coasting = (since: number) => 11 * Math.exp(-since / 0.25);

/** @param load times the usual draw, by the time since the switch-on */
function prime(
  load: (since: number) => number,
  { until = OFF, offV = coasting, clampA = (amperes: number) => amperes } = {},
) {
  const random = seededRandom(5);
  const count = 1.6 * RATE;
  const [volts, amperes] = [new Float32Array(count), new Float32Array(count)];
  for (let i = 0; i < count; i++) {
    const t = i / RATE;
    const hump = 1 + 0.03 * Math.sin(2 * Math.PI * 640 * t);
    const current = t >= ON && t < until ? DRAW * hump * load(t - ON) : 0;
    volts[i] = (t < ON ? 0 : t >= until ? offV(t - until) : EMF - OHM * current) + 0.01 * random.normal();
    amperes[i] = clampA(current) + 0.02 * random.normal();
  }
  return { pump_feed_voltage: volts, pump_current: amperes };
}

const surge = (since: number) => (1 + 2 * Math.exp(-since / 0.03)) * (1 - Math.exp(-since / 0.001));
/** Stands between 0.5 and 0.7 s after the switch-on, coming to it and back as its inertia lets it. */
const stalls = (since: number) =>
  surge(since) +
  1.8 * (Math.min(1, Math.max(0, (since - 0.5) / 0.05)) - Math.min(1, Math.max(0, (since - 0.7) / 0.05)));

function analyze(columns: Readonly<Partial<Record<Role, Float32Array>>>, sampleRateHz = RATE) {
  const channels = Object.entries(columns).map(
    ([name, samples]) => ({ name, unit: name === 'pump_current' ? 'A' : 'V', fileFactor: 1, samples }) as const,
  );
  const setups = Object.fromEntries(channels.map(({ name }) => [name, { role: name as Role }]));
  return analyzeCapture('drawn', { sampleRateHz, startS: 0, channels, notes: [] }, { setups });
}

const nothing = { events: [], cause: 'none', incidents: [] };

it('a start that leaves little of a weak feed, and a stop after which the rotor coasts, are no incidents', () => {
  const { sequence, source } = analyze(prime(surge));
  expect(sequence).toEqual(nothing);
  expect(source!.resistanceOhm! / OHM).toBeCloseTo(1, 1);
});

it('says the same of a clamp that sits backwards and off its zero', () => {
  const { sequence, source } = analyze(prime(surge, { clampA: (amperes) => 1.2 - amperes }));
  expect(sequence).toEqual(nothing);
  expect(source!.resistanceOhm! / OHM).toBeCloseTo(1, 1);
});

it('a rotor that comes to stand in a short record drags; its volts alone can’t tell that from a failing feed', () => {
  const { sequence } = analyze(prime(stalls));
  expect(sequence).toMatchObject({ cause: 'pump', incidents: [{ side: 'load' }] });
  expect(sequence!.incidents[0].startS).toBeCloseTo(ON + 0.5, 1);
  const { pump_feed_voltage } = prime(stalls);
  const alone = analyze({ pump_feed_voltage }).sequence!;
  expect(alone.cause).toBe('undetermined');
  expect(alone.incidents[0].because).toMatch(/clamp on its wire tells them apart/);
});

it('a pump that opens for good leaves the battery’s volts on its feed, a key turned off doesn’t', () => {
  const opened = analyze(prime(surge, { until: 0.9, offV: () => EMF })).sequence!;
  expect(opened).toMatchObject({ cause: 'pump', incidents: [{ currentThen: 'gone' }] });
  expect(opened.incidents[0].startS).toBeCloseTo(0.9, 2);
  expect(analyze(prime(surge, { until: 0.9 })).sequence).toEqual(nothing);
});

it('an interruption begins where the current went, though the rotor holds the volts for a while', () => {
  const [before, after] = [prime(surge, { until: 0.7 }), prime(surge)];
  const back = 0.8 * RATE;
  const join = (role: 'pump_feed_voltage' | 'pump_current') =>
    before[role].map((value, i) => (i < back ? value : after[role][i]));
  const columns = { pump_feed_voltage: join('pump_feed_voltage'), pump_current: join('pump_current') };
  const { cause, events } = analyze(columns).sequence!;
  expect(cause).toBe('upstream');
  expect(events.map(({ timeS }) => Math.round(100 * timeS))).toEqual([70, 80]);
});

it('takes no level from a clamp that passes no steady current', () => {
  let [slow, last] = [0, 0];
  const corner = Math.exp((-2 * Math.PI * 1) / RATE);
  const forgets = (amperes: number) => {
    slow = corner * (slow + amperes - last);
    last = amperes;
    return slow;
  };
  const { sequence, source, cannotTell } = analyze(prime(surge, { clampA: forgets }));
  expect(sequence).toEqual(nothing);
  expect(source!.resistanceOhm).toBeUndefined();
  expect(cannotTell.find(({ what }) => what === 'source resistance')!.because).toMatch(/no steady current/);
});

it('ends an interruption where the contact closes, though by volts alone the new start holds them down long after', () => {
  const [opens, closes] = [ON + 0.5, ON + 0.65];
  // A rotor that coasts makes less than it ran on.
  const offV = (since: number) => 8 * Math.exp(-since / 0.1);
  const { pump_feed_voltage: volts, pump_current: amperes } = prime(
    (since) => (since < 0.5 ? surge(since) : since < 0.65 ? 0 : surge(since - 0.65)),
    { offV },
  );
  for (let i = opens * RATE; i < closes * RATE; i++) volts[i] = offV(i / RATE - opens);
  for (const columns of [{ pump_feed_voltage: volts }, { pump_feed_voltage: volts, pump_current: amperes }]) {
    const { incidents, cause } = analyze(columns).sequence!;
    expect(cause).toBe('upstream');
    expect(incidents).toHaveLength(1);
    expect(Math.abs(incidents[0].startS - opens)).toBeLessThan(0.005);
    expect(Math.abs(incidents[0].endS! - closes)).toBeLessThan(0.005);
  }
});
