import { analyzeCapture } from '../src/analyze.js';
import type { Role } from '../src/capture/capture.js';
import { seededRandom } from '../src/signal/random.js';

// A pump of eight bars at 4 518 rpm on a driver whose periods its winding only rounds off: the current rises and falls by as much as its
// humps and more, in time with the driver, and never to nothing. Bars differ by a quarter; humps and the driver's part are worked by hand.

const RATE = 20_000;
const [DRAW, BARS, SHAFT_HZ, DUTY] = [4.5, 8, 75.3, 0.7];

function driven(drivenHz: number, depth: number) {
  const random = seededRandom(5);
  const columns = { module_output_voltage: new Float32Array(2 * RATE), pump_current: new Float32Array(2 * RATE) };
  for (let i = 0; i < 2 * RATE; i++) {
    const t = i / RATE;
    const phase = (t * drivenHz) % 1;
    const isOn = t > 0.2;
    const bar = t * SHAFT_HZ * BARS;
    const height = 0.12 * (1 + 0.25 * Math.sin((Math.floor(bar) % BARS) * 2.1 + 1));
    const rises = depth * (phase < DUTY ? phase / DUTY - 0.5 : 0.5 - (phase - DUTY) / (1 - DUTY));
    const amperes = DRAW * (1 + rises) * (1 + height * Math.abs(Math.sin(Math.PI * bar)));
    columns.module_output_voltage[i] = isOn && phase < DUTY ? 12.6 : 0.05;
    columns.pump_current[i] = (isOn ? amperes : 0) + 0.03 * random.normal();
  }
  return columns;
}

function rampOf(columns: Readonly<Partial<Record<Role, Float32Array>>>) {
  const channels = Object.entries(columns).map(
    ([name, samples]) => ({ name, unit: name === 'pump_current' ? 'A' : 'V', fileFactor: 1, samples }) as const,
  );
  const setups = Object.fromEntries(channels.map(({ name }) => [name, { role: name as Role }]));
  return analyzeCapture('drawn', { sampleRateHz: RATE, startS: 0, channels, notes: [] }, { setups }).ramp!;
}

describe('a current that a driver stirs', () => {
  const alone = rampOf({ pump_current: driven(1, 0).pump_current });

  it.each([
    [128, 0.3],
    [200, 0.2],
    [305, 0.2],
    [601, 0.2],
    [1000, 0.1],
  ])('shows its pump’s own turn, bars and ripple beside the driver’s line: %d Hz', (drivenHz, depth) => {
    const ramp = rampOf(driven(drivenHz, depth));
    expect(ramp.humps).toMatchObject({ perRevolution: BARS, basis: 'measured' });
    expect(ramp.rpm! / (60 * SHAFT_HZ)).toBeCloseTo(1, 2);
    expect(ramp.pattern).toBe('even');
    expect(ramp.steady!.meanA / alone.steady!.meanA).toBeCloseTo(1, 2);
    expect(Math.abs(ramp.steady!.ripplePercent / alone.steady!.ripplePercent - 1)).toBeLessThan(0.1);
  });

  it('is read as well where the line is that of its own feed', () => {
    const { module_output_voltage, pump_current } = driven(200, 0.2);
    const ramp = rampOf({ pump_feed_voltage: module_output_voltage, pump_current });
    expect(ramp.humps).toMatchObject({ perRevolution: BARS, basis: 'measured' });
  });

  it('is left as it is where the driver stirs nothing of it, or cuts it off', () => {
    const { module_output_voltage, pump_current } = driven(200, 0.01);
    expect(rampOf({ module_output_voltage, pump_current })).toEqual(rampOf({ pump_current }));
    const cut = pump_current.map((value, i) => (module_output_voltage[i] > 6 ? value : 0));
    expect(rampOf({ module_output_voltage, pump_current: cut }).pattern).toBe('pulsed');
  });
});
