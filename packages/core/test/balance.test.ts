import { analyzeCapture } from '../src/analyze.js';
import { signalEntries } from '../src/casework/signal-entries.js';
import { railRecord } from '../src/simulate/wide-rail.js';
import { seededRandom } from '../src/signal/random.js';

// A rail whose pressure is stepped through time by what flows in and out of it (`simulate/wide-rail.ts`, which shares nothing
// with the analysis): each injection takes its share, and the one that differs is known.

type Columns = Readonly<Record<'rail_pressure' | 'injector_signal' | 'pump_current', Float32Array>>;

function analyze(sampleRateHz: number, columns: Partial<Columns>) {
  const roles = Object.keys(columns) as (keyof Columns)[];
  const unit = { rail_pressure: 'Pa', injector_signal: 'V', pump_current: 'A' } as const;
  const channels = roles.map((role) => ({ name: role, unit: unit[role], fileFactor: 1, samples: columns[role]! }));
  const setups = Object.fromEntries(roles.map((role) => [role, { role }]));
  return analyzeCapture('drawn', { sampleRateHz, startS: 0, channels, notes: [] }, { setups });
}

const recordOf = (...drawn: Parameters<typeof railRecord>) => {
  const { sampleRateHz, railPa, injectorV, currentA, truth } = railRecord(...drawn);
  return {
    sampleRateHz,
    truth,
    columns: { rail_pressure: railPa, injector_signal: injectorV, pump_current: currentA },
  };
};

const middleOf = (values: readonly number[]) => {
  const sorted = [...values].sort((a, b) => a - b);
  return (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
};

it.each(['alike', 'weak', 'rich', 'dead'] as const)('injections one by one: %s', (kind) => {
  for (const seed of [1001, 1002, 1003, 1004, 1005, 1006]) {
    const { sampleRateHz, columns, truth } = recordOf(seed, kind, seed % 2 === 0);
    const analysis = analyze(sampleRateHz, columns);
    const { balance, findings } = analysis;
    expect(balance).toMatchObject({ cylinders: truth.cylinders, pumpOff: seed % 2 === 0 });
    const middle = middleOf(truth.shares);
    const shares = truth.shares.map((share) => share / middle);
    balance!.injections.forEach(({ share }, c) => expect(Math.abs(share - shares[c])).toBeLessThan(0.08));
    const odd = shares.findIndex((share) => Math.abs(share - 1) > 0.15) + 1;
    const named = findings.flatMap(({ code }) => (code.startsWith('injector-') ? [Number(code.slice(9))] : []));
    expect(named).toEqual(kind === 'alike' ? [] : [odd]);
    const value = kind === 'alike' ? 'alike' : 'one-differs';
    expect(signalEntries(analysis, 'idle')).toContainEqual(expect.objectContaining({ kind: 'injectors', value }));
  }
});

it('says what it can’t bear: a stiff rail, too few cycles or samples, and an injector that never opens', () => {
  const { sampleRateHz, columns } = recordOf(1001, 'weak');
  const because = (rateHz: number, changed: Partial<Columns>) =>
    analyze(rateHz, { ...columns, ...changed }).cannotTell.find(({ what }) => what.startsWith('balance'))?.because;
  const random = seededRandom(3);
  expect(because(sampleRateHz, {})).toBeUndefined();
  const stiff = columns.rail_pressure.map(() => 380e3 + 300 * random.normal());
  expect(because(sampleRateHz, { rail_pressure: stiff })).toMatch(/too stiff|no more than chance/);
  const still = columns.injector_signal.map(() => 13.8 + 0.05 * random.normal());
  expect(because(sampleRateHz, { injector_signal: still })).toMatch(/opens 0 times/);
  const short = (samples: Float32Array) => samples.slice(0, sampleRateHz);
  expect(
    analyze(sampleRateHz, {
      rail_pressure: short(columns.rail_pressure),
      injector_signal: short(columns.injector_signal),
    }).cannotTell.find(({ what }) => what.startsWith('balance'))?.because,
  ).toMatch(/15 engine cycles/);
  const every = Math.round(sampleRateHz / 150);
  const coarse = (samples: Float32Array) => samples.filter((_, i) => i % every === 0);
  const opens = columns.injector_signal;
  // Each sample holds whether the injector was open since the last one, so that no cycle is lost.
  const held = Float32Array.from(coarse(opens), (_, i) => Math.min(...opens.subarray(i * every, (i + 1) * every)));
  expect(
    because(sampleRateHz / every, { rail_pressure: coarse(columns.rail_pressure), injector_signal: held }),
  ).toMatch(/samples; record|too stiff/);
});

it('compares nothing where most take nothing, and says so', () => {
  const { sampleRateHz, columns } = recordOf(1002, 'dead');
  // One injection a cycle alone: the pressure falls with the recorded injector and with no other.
  let pressure = 380e3;
  const open = columns.injector_signal.map((volts) => (volts < 6 ? 1 : 0));
  const random = seededRandom(4);
  const alone = open.map((isOpen) => {
    pressure += (380e3 - pressure) / (0.05 * sampleRateHz) - (isOpen * 8e3) / (0.003 * sampleRateHz);
    return pressure + 100 * random.normal();
  });
  const { balance, cannotTell } = analyze(sampleRateHz, {
    rail_pressure: alone,
    injector_signal: columns.injector_signal,
  });
  expect(balance).toBeUndefined();
  expect(cannotTell.some(({ what }) => what.startsWith('balance'))).toBe(true);
});

it('asks for nothing where no injector is on the record', () => {
  const { sampleRateHz, columns } = recordOf(1001, 'alike');
  const { balance, cannotTell } = analyze(sampleRateHz, { rail_pressure: columns.rail_pressure });
  expect(balance).toBeUndefined();
  expect(cannotTell.filter(({ what }) => what.startsWith('balance'))).toEqual([]);
});
