import { wholeOf } from '../../capture/source.js';
import { COMMON_PRACTICE, finding, type Finding } from '../../limits/limits.js';
import { signalFor, type Analyser, type MeasuredValue } from '../analyser.js';
import { analyzePressure, type PressureResult } from './analyze-pressure.js';

export interface PressurePart {
  readonly pressure: PressureResult;
}

/** Rise, level and hold of a rail pressure. */
export const pressureAnalyser: Analyser<'pressure', PressurePart> = {
  name: 'pressure',
  needs: ['rail_pressure'],
  wholeSignal: true,
  measure(material) {
    const { sampleRateHz, startS } = material;
    const samples = wholeOf(signalFor(material, 'rail_pressure').source);
    const { pressure, cannotTell } = analyzePressure(samples, sampleRateHz, startS);
    const { onsetS } = pressure;
    const events = onsetS === undefined ? [] : [{ kind: 'pressure-rises', atS: onsetS }];
    return { part: { pressure }, values: valuesOf(pressure), events, findings: impossible(pressure), cannotTell };
  },
};

/** No rail stands so far below the air's pressure, Pa: a pump pushes, and a hot tank pushes with it. */
const LEAST_RAIL_PA = -30e3;

function impossible({ levelPa, lowestPa }: PressureResult): Finding[] {
  if (levelPa > LEAST_RAIL_PA && lowestPa > LEAST_RAIL_PA) return [];
  const text = `The rail pressure reads down to ${(Math.min(levelPa, lowestPa) / 1000).toFixed(0)} kPa, which no rail stands at: the transducer is off its lead or its supply, or its scale or zero is wrong. Nothing of this pressure counts until that is settled.`;
  return [finding('pressure-impossible', 'act', text, { rule: 'A pump pushes', source: COMMON_PRACTICE })];
}

function valuesOf({ primePa, riseTimeS, levelPa, lowestPa, hold }: PressureResult): MeasuredValue[] {
  const value = (what: string, of: number | undefined, unit: MeasuredValue['unit']): MeasuredValue[] =>
    of === undefined ? [] : [{ what: `pressure.${what}`, value: of, unit, basis: 'measured' }];
  return [
    ...value('primePa', primePa, 'Pa'),
    ...value('riseTimeS', riseTimeS, 's'),
    ...value('levelPa', levelPa, 'Pa'),
    ...value('lowestPa', lowestPa, 'Pa'),
    ...value('hold.ratePaPerMin', hold?.ratePaPerMin, 'Pa/min').map((rate) => ({
      ...rate,
      ...(hold && { interval: hold.rateInterval }),
    })),
  ];
}
