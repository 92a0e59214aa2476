import { intermittentRecord, type Capture } from '@jarro/core';

const RATE_HZ = 50_000;
const DURATION_S = 1.2;

/** A module that is asked for 34 %, which its table makes 60 % of, and gives 30 %: half of what the pump needs. */
export function halfPassed(): Capture {
  const command = pulses({ hz: 150, dutyPercent: 34, low: 0.1, high: 12.1, seed: 3 });
  const output = pulses({ hz: 1010, dutyPercent: 30, low: 0.05, high: 13.5, seed: 5 });
  const supply = pulses({ hz: 1010, dutyPercent: 0, low: 13.7, high: 13.7, seed: 7 });
  return recorded(RATE_HZ, [
    ['Module command', 'V', command],
    ['Module output', 'V', output],
    ['Module supply', 'V', supply],
  ]);
}

/** An old module on two speeds that is asked for the high one: it switches its output on and answers that its pump side is open. */
export function feedbackTells(): Capture {
  const command = pulses({ hz: 128, dutyPercent: 75, low: 0.1, high: 12, seed: 11 });
  const output = pulses({ hz: 128, dutyPercent: 100, low: 0, high: 12.2, seed: 13 });
  const feedback = pulses({ hz: 64, dutyPercent: 75, low: 0.2, high: 11.8, seed: 17 });
  return recorded(RATE_HZ, [
    ['Module command', 'V', command],
    ['Module output', 'V', output],
    ['Module feedback', 'V', feedback],
  ]);
}

/** A relay contact that opens three times while the engine idles, with what it does to current and pressure. */
export function contactOpens(): Capture {
  const { sampleRateHz, currentA, feedV, pressurePa } = intermittentRecord(36, 'contact-open');
  return recorded(sampleRateHz, [
    ['Pump current', 'A', currentA],
    ['Feed voltage at pump', 'V', feedV],
    ['Rail pressure', 'Pa', pressurePa ?? new Float32Array(feedV.length)],
  ]);
}

interface Train {
  readonly hz: number;
  readonly dutyPercent: number;
  readonly low: number;
  readonly high: number;
  readonly seed: number;
}

/** A clean train with a probe's noise. */
function pulses({ hz, dutyPercent, low, high, seed }: Train): Float32Array {
  const noise = (i: number) => 0.05 * Math.sin(seed * i * 12.9898) * Math.cos(i * 78.233);
  return Float32Array.from({ length: RATE_HZ * DURATION_S }, (_, i) => {
    const turn = (hz * i) / RATE_HZ;
    return (turn - Math.floor(turn) < dutyPercent / 100 ? high : low) + noise(i);
  });
}

function recorded(
  sampleRateHz: number,
  columns: readonly (readonly [string, 'A' | 'V' | 'Pa', Float32Array])[],
): Capture {
  const channels = columns.map(([name, unit, samples]) => ({ name, unit, fileFactor: 1, samples }));
  return { sampleRateHz, startS: 0, channels, notes: [] };
}
