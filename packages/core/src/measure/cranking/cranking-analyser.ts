import { finding, LIMITS, type Finding } from '../../limits/limits.js';
import type { Analyser, MeasuredValue } from '../analyser.js';
import { findCranks, type Crank } from './cranks.js';

export interface CrankingPart {
  /** Absent where the record shows no engine that is cranked. */
  readonly cranking?: readonly Crank[];
}

/** Where the starter turned the engine: what it does to volts and current is nobody's fault. */
export const crankingAnalyser: Analyser<'cranking', CrankingPart> = {
  name: 'cranking',
  needs: [],
  anyOf: ['battery_voltage', 'module_supply_voltage', 'relay_output_voltage', 'pump_feed_voltage', 'pump_current'],
  wholeSignal: true,
  measure(material) {
    const cranks = findCranks(material);
    return {
      part: cranks.length > 0 ? { cranking: cranks } : {},
      values: cranks.flatMap(valuesOf),
      events: cranks.map(({ fromS, untilS }) => ({ kind: 'cranking', atS: fromS, untilS })),
      findings: cranks.map(findingOf),
      cannotTell: [],
      cranks: cranks.map(({ fromS, untilS }) => [fromS, untilS] as const),
    };
  },
};

function valuesOf({ fromS, untilS, seenIn, volts }: Crank): MeasuredValue[] {
  if (!volts || seenIn !== 'battery_voltage') return [];
  const window = [fromS, untilS] as const;
  return [{ what: 'cranking.volts.mean', value: volts.mean, unit: 'V', basis: 'measured', window }];
}

function findingOf({ fromS, untilS, compressionsHz, seenIn, volts }: Crank): Finding {
  const window = [fromS, untilS] as const;
  const limit = LIMITS.crankBatteryLeastV;
  const when = `from ${fromS.toFixed(2)} to ${untilS.toFixed(2)} s`;
  const often = compressionsHz === undefined ? undefined : `${compressionsHz.toFixed(0)} times a second`;
  if (!volts) {
    const text = `The current swings ${often} ${when}, as the battery’s volts do while an engine is cranked: no dropout, and the pump is judged beside it. If nobody cranked it then, something drags in the pump.`;
    return finding('cranking', 'keep-in-mind', text, limit, window);
  }
  const isBattery = seenIn === 'battery_voltage';
  const what = isBattery ? 'the battery' : 'the feed';
  const pulls = often
    ? `${often} a compression pulls ${what} down, to`
    : `the starter pulls ${what} down, and it is charged afterwards;`;
  const swings = `The engine cranks ${when}: ${pulls} ${volts.lowest.toFixed(1)} V at the lowest and ${volts.mean.toFixed(1)} V on average.`;
  return isBattery && volts.mean < limit.value
    ? finding(
        'cranking',
        'keep-in-mind',
        `${swings} Charge and test the battery first: so little confuses every other reading.`,
        limit,
        window,
      )
    : finding(
        'cranking',
        'info',
        `${swings} What moves with that is no dropout, and the pump is judged beside it.`,
        limit,
        window,
      );
}
