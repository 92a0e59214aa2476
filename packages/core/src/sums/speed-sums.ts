import { InputError } from '../errors.js';
import { humpsForBars } from '../measure/current/commutators.js';
import { LIMITS } from '../limits/limits.js';
import { periodFromRpm, rpmFromPeriod } from '../units/units.js';
import { line, rounded, type Sum } from './sum.js';

const speed: Sum = {
  id: 'speed',
  title: 'Pump speed',
  fields: [
    { id: 'period', label: 'One turn', unit: 'ms' },
    { id: 'rpm', label: 'or speed', unit: 'rpm' },
    { id: 'bars', label: 'Bars', unit: '', usual: 8 },
  ],
  formula: 'n = 60 000 / T(ms); humps a turn: N bars even → N, odd → 2N',
  source: 'definition of the revolution; two brushes',
  work: ({ numbers: { period, rpm, bars = 8 } }) => {
    if (period === undefined && rpm === undefined) return [];
    if (!((period ?? 1) > 0) || !((rpm ?? 1) > 0)) throw new InputError('A turn takes time: give a number above zero.');
    if (!(Number.isInteger(bars) && bars >= 3 && bars <= 40)) throw new InputError('A commutator has 3 to 40 bars.');
    const turns = period === undefined ? (rpm ?? 0) : rpmFromPeriod(period * 1e-3);
    const humps = humpsForBars(bars);
    const usual = turns >= LIMITS.slowestRpm.value && turns <= LIMITS.fastestRpm.value;
    return [
      period === undefined
        ? line('One turn', 1e3 * periodFromRpm(turns), 'ms')
        : { label: 'Speed', text: `${Math.round(turns)} rpm` },
      { label: 'Humps', text: `${humps} a turn, ${rounded((humps * turns) / 60, 4)} a second` },
      ...(usual ? [] : [{ label: 'Mind', text: `${LIMITS.slowestRpm.rule}: count the humps again.` }]),
    ];
  },
};

const compared: Sum = {
  id: 'compared',
  title: 'Speed at another voltage',
  fields: [
    { id: 'rpm', label: 'Speed', unit: 'rpm' },
    { id: 'volts', label: 'at', unit: 'V' },
    { id: 'current', label: 'drawing', unit: 'A' },
    { id: 'ohm', label: 'Winding', unit: 'Ω', usual: 0.5 },
    { id: 'otherVolts', label: 'Speed at', unit: 'V', usual: 12 },
  ],
  formula: 'n₂ = n₁ · (V₂ − I·R) / (V₁ − I·R)',
  source: 'back-EMF of a permanent-magnet motor, the same current taken at both',
  work: ({ numbers: { rpm, volts, current, ohm = 0, otherVolts } }) => {
    if (rpm === undefined || volts === undefined || current === undefined || otherVolts === undefined) return [];
    const [from, to] = [volts - current * ohm, otherVolts - current * ohm];
    if (!(from > 0 && to > 0))
      throw new InputError('The winding would take all of the voltage; check ohms and amperes.');
    return [{ label: 'Speed', text: `${Math.round((rpm * to) / from)} rpm` }];
  },
};

export const SPEED_SUMS: readonly Sum[] = [speed, compared];
