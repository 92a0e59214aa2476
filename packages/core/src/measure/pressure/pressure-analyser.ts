import { wholeOf } from '../../capture/source.js';
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
    return { part: { pressure }, values: valuesOf(pressure), events, findings: [], cannotTell };
  },
};

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
