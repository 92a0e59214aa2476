import { wholeOf } from '../../capture/source.js';
import type { CannotTell } from '../../errors.js';
import { COMMON_PRACTICE, finding, type Finding } from '../../limits/limits.js';
import { median, quantile } from '../../signal/levels.js';
import type { SiUnit } from '../../units/units.js';
import { student95 } from '../../signal/student.js';
import { thin } from '../../signal/thin.js';
import { signalFor, type Analyser, type Material, type MeasuredValue } from '../analyser.js';
import { commonFall, countDips, takenIn } from './dips.js';
import { cycleStarts } from './cycles.js';
import { foldCycles, meanCycle } from './fold.js';

/** What one cylinder takes from the rail, beside the middle one of all. */
export interface Injection {
  /** In the firing order, from 1: the cylinder whose injector is on the record. */
  readonly order: number;
  /** 1 for as much as the middle one. */
  readonly share: number;
  /** 95 %. */
  readonly interval: readonly [number, number];
  /** The whole interval lies farther from the others than injectors of one set differ. */
  readonly unlike: boolean;
}

/** What each injector takes from the rail, side by side. */
export interface BalanceResult {
  readonly cylinders: number;
  readonly cycles: number;
  /** Mean fall an injection, in `unit`: of the pressure, or of its sensor's volts. */
  readonly fall: number;
  readonly unit: SiUnit;
  /** The pump stood meanwhile, so that nothing but the injectors moved the pressure. */
  readonly pumpOff: boolean;
  readonly injections: readonly Injection[];
}

export interface BalancePart {
  readonly balance: BalanceResult;
}

/** Fewer cycles average too little noise away. */
const FEWEST_CYCLES = 12;
/** Samples that an injection's part of a cycle takes to show its fall. */
const FEWEST_SAMPLES = 12;
/** A mean fall of so many of its own errors is no chance. */
const SHOWS = 5;
/** Injectors of one set differ by less (common practice, no published source). */
const DIFFERS = 0.12;
/**
 * Share of an injection that the line's ringing and the regulator's answer to the one before put into a fall (on 320 drawn
 * records, `simulate/wide-rail.ts`, 95 in a hundred lay within it).
 */
const SPILLS = 0.036;
/** The pump's own current is gone below this share of its usual. */
const OFF_SHARE = 0.12;

const UNLIKE = { rule: `Injectors of one set differ by less than ${100 * DIFFERS} %`, source: COMMON_PRACTICE };

/** Each injection takes pressure out of the rail before pump and regulator put it back: which cylinder takes more or less. */
export const balanceAnalyser: Analyser<'balance', Partial<BalancePart>> = {
  name: 'balance',
  needs: ['injector_signal'],
  anyOf: ['rail_pressure', 'rail_sensor_voltage'],
  wholeSignal: true,
  measure(material) {
    const told = balanceOf(material);
    if ('because' in told) {
      return { part: {}, values: [], events: [], findings: [], cannotTell: [told] };
    }
    const values = told.injections.map(({ order, share, interval: [least, most] }): MeasuredValue => ({
      what: `balance.injections[${order - 1}].share`,
      value: 100 * share,
      unit: '%',
      interval: [100 * least, 100 * most],
      basis: 'measured',
    }));
    return { part: { balance: told }, values, events: [], findings: oddOnes(told), cannotTell: [] };
  },
};

function balanceOf(material: Material): BalanceResult | CannotTell {
  const cannot = (because: string): CannotTell => ({ what: 'balance of the injectors', because });
  const rail = material.signals.rail_pressure ?? signalFor(material, 'rail_sensor_voltage');
  const samples = wholeOf(rail.source);
  const starts = cycleStarts(signalFor(material, 'injector_signal').source);
  if (starts.length < FEWEST_CYCLES + 3) {
    return cannot(
      `the injector’s line opens ${starts.length} times on this record; ${FEWEST_CYCLES + 3} engine cycles and more are needed`,
    );
  }
  const stands = pumpStands(material);
  const still = stands ? foldCycles(samples, starts, stands) : [];
  const pumpOff = still.length >= FEWEST_CYCLES;
  const rows = pumpOff ? still : foldCycles(samples, starts, () => true);
  const cylinders = rows.length >= FEWEST_CYCLES ? countDips(rows) : undefined;
  if (cylinders === undefined) {
    return cannot('the pressure doesn’t fall with the injections: the rail is too stiff, or the recorder too coarse');
  }
  const samplesEach = (starts[starts.length - 1] - starts[0]) / (starts.length - 1) / cylinders;
  if (samplesEach < FEWEST_SAMPLES) {
    return cannot(`an injection has only ${samplesEach.toFixed(1)} samples; record ${FEWEST_SAMPLES} and more of each`);
  }
  const fall = commonFall(meanCycle(rows), cylinders);
  const taken = rows.map((row) => takenIn(row, cylinders, fall));
  const cycleMeans = taken.map((of) => of.reduce((sum, value) => sum + value, 0) / cylinders);
  const [mean, error] = meanAndError(cycleMeans);
  if (!(mean > SHOWS * error)) {
    return cannot('the fall at an injection is no more than chance would make it; record more cycles');
  }
  const reach = student95(rows.length - 1);
  const each = Array.from({ length: cylinders }, (_, c) => meanAndError(taken.map((of) => of[c])));
  // One that takes nothing moves the mean of four by a third, and the middle of them not at all.
  const middle = median(each.map(([own]) => own));
  if (!(middle > SHOWS * error))
    return cannot('half of the injectors and more take nothing: there is nothing to compare');
  const injections = each.map(([own, ownError], c): Injection => {
    const [share, half] = [own / middle, Math.hypot((reach * ownError) / middle, SPILLS)];
    const unlike = share < 1 ? share + half < 1 - DIFFERS : share - half > 1 + DIFFERS;
    return { order: c + 1, share, interval: [share - half, share + half], unlike };
  });
  return { cylinders, cycles: rows.length, fall: mean, unit: rail.unit, pumpOff, injections };
}

/** Whether the pump stands through a stretch; undefined where its current isn't on the record. */
function pumpStands({ signals }: Material): ((from: number, to: number) => boolean) | undefined {
  const clamp = signals.pump_current;
  if (!clamp) return undefined;
  const amperes = wholeOf(clamp.source).map(Math.abs);
  const off = OFF_SHARE * quantile(thin(amperes, 32_768), 0.95);
  return (from, to) => amperes.subarray(Math.floor(from), Math.ceil(to)).every((value) => value < off);
}

function meanAndError(values: readonly number[]): [mean: number, error: number] {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const squares = values.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  return [mean, Math.sqrt(squares / (values.length - 1) / values.length)];
}

function oddOnes({ injections, pumpOff }: BalanceResult): Finding[] {
  return injections
    .filter(({ unlike }) => unlike)
    .map(({ order, share }) => {
      const by = `${(100 * Math.abs(1 - share)).toFixed(0)} % ${share < 1 ? 'less' : 'more'}`;
      const off = pumpOff
        ? ''
        : ' Take it again with the pump off, if the engine runs on for a moment: then nothing else moves the pressure.';
      const text = `The ${nth(order)} in the firing order, counted from the recorded injector, takes ${by} than the others: look at its injector before the pump.${off}`;
      return finding(`injector-${order}`, 'keep-in-mind', text, UNLIKE);
    });
}

function nth(order: number): string {
  return `${order}${['th', 'st', 'nd', 'rd'][order > 3 ? 0 : order]}`;
}
