import { wholeOf } from '../../capture/source.js';
import {
  signalFor,
  type Analyser,
  type Material,
  type MeasuredValue,
  type RecordEvent,
  type ValueBasis,
} from '../analyser.js';
import type { ClampSignal } from './analyze-ramp.js';
import type { RampAnalysis, RampResult } from './types.js';
import { analyzeUndisturbed } from './undisturbed.js';
import { withoutDriver } from './without-driver.js';

/** The pump current with the average turn for drawing. */
export interface CurrentPart {
  readonly ramp: RampResult;
  /** Average current of one turn by angle, A. */
  readonly turnA?: Float64Array;
}

/** Draw, ripple, speed, bars and dropouts of a pump current. */
export const currentAnalyser: Analyser<'ramp', CurrentPart> = {
  name: 'ramp',
  needs: ['pump_current'],
  without: 'no channel is marked as the pump current',
  wholeSignal: true,
  measure(material) {
    const { source, zeroStated } = signalFor(material, 'pump_current');
    const clamp = { samples: wholeOf(source), zeroStated };
    const { ramp, findings, cannotTell, turnA } = besideDriver(clamp, material);
    const part = { ramp, ...(turnA && { turnA }) };
    return { part, values: valuesOf(ramp), events: eventsOf(ramp), findings, cannotTell };
  },
};

/** A current that a driver stirs without ever cutting it off is measured without what comes back with the driver's clock. */
function besideDriver(clamp: ClampSignal, material: Material): RampAnalysis {
  const plain = analyzeUndisturbed(clamp, material);
  const { drivenHz, sampleRateHz, startS } = material;
  const { pattern, runs = [] } = plain.ramp;
  if (drivenHz === undefined || pattern === 'pulsed') return plain;
  const at = (seconds: number) => Math.round((seconds - startS) * sampleRateHz);
  const ranges = runs.map(({ fromS, toS }) => ({ from: at(fromS), to: at(toS) }));
  const samples = withoutDriver(clamp.samples, sampleRateHz, drivenHz, ranges);
  return samples ? analyzeUndisturbed({ ...clamp, samples }, material) : plain;
}

function valuesOf({
  steady,
  inrushPeakA,
  inrushPeakS,
  rpm,
  rpmInterval,
  humps,
  zeroOffsetA,
}: RampResult): MeasuredValue[] {
  const window = steady && ([steady.fromS, steady.toS] as const);
  // Without a zero, stated or seen, the clamp is taken to have had none.
  const level: ValueBasis = zeroOffsetA === undefined ? 'assumed' : 'measured';
  return [
    ...(zeroOffsetA === undefined ? [] : [measured('ramp.zeroOffsetA', zeroOffsetA, 'A')]),
    ...(inrushPeakA === undefined || inrushPeakS === undefined
      ? []
      : [
          {
            ...measured('ramp.inrushPeakA', inrushPeakA, 'A'),
            basis: level,
            window: [inrushPeakS, inrushPeakS] as const,
          },
        ]),
    ...(steady && window
      ? [
          { ...measured('ramp.steady.meanA', steady.meanA, 'A'), basis: level, window },
          { ...measured('ramp.steady.rippleA', steady.rippleA, 'A'), window },
          { ...measured('ramp.steady.ripplePercent', steady.ripplePercent, '%'), basis: level, window },
        ]
      : []),
    ...(rpm === undefined || !humps
      ? []
      : [
          {
            ...measured('ramp.rpm', rpm, 'rpm'),
            basis: humps.basis,
            ...(rpmInterval && { interval: rpmInterval }),
            ...(window && { window }),
          },
        ]),
  ];
}

function measured(what: string, value: number, unit: MeasuredValue['unit']): MeasuredValue {
  return { what, value, unit, basis: 'measured' };
}

function eventsOf({ runs = [], dropouts }: RampResult): RecordEvent[] {
  const switching = runs.flatMap(({ onsetS, offS }) => [
    ...(onsetS === undefined ? [] : [{ kind: 'current-on', atS: onsetS }]),
    ...(offS === undefined ? [] : [{ kind: 'current-off', atS: offS }]),
  ]);
  const gaps = dropouts
    .filter(({ locked }) => !locked)
    .map(({ startS, endS }) => ({ kind: 'dropout', atS: startS, untilS: endS }));
  return [...switching, ...gaps].sort((a, b) => a.atS - b.atS);
}
