import { InputError } from '../errors.js';
import { LIMITS } from '../limits/limits.js';
import { fuseTime } from './fuse.js';
import { awgAreaM2, ISO_6722_OHM_PER_M, wireOhm } from '../physics/wire.js';
import { line, rounded, type Sum } from './sum.js';

const OHMS_LAW = 'Ohm’s law';

const drop: Sum = {
  id: 'drop',
  title: 'Loaded drop',
  fields: [
    { id: 'before', label: 'Before it', unit: 'V' },
    { id: 'after', label: 'After it', unit: 'V' },
    { id: 'current', label: 'Current', unit: 'A' },
  ],
  formula: 'ΔV = V₁ − V₂, R = ΔV / I, P = ΔV · I',
  source: OHMS_LAW,
  work: ({ numbers: { before, after, current } }) => {
    if (before === undefined || after === undefined) return [];
    const volts = before - after;
    const loaded = current !== undefined && current > 0;
    return [
      line('Drop', volts, 'V', 3),
      ...(loaded
        ? [
            line('Resistance', volts / current, 'Ω', 3),
            line('Lost as heat', volts * current, 'W', 3),
            line('At twice the current', 2 * volts, 'V', 3),
          ]
        : []),
      { label: 'One contact may lose', text: `${LIMITS.contactDropV.value} V (${LIMITS.contactDropV.source})` },
    ];
  },
};

const wire: Sum = {
  id: 'wire',
  title: 'Wire resistance',
  fields: [
    { id: 'size', label: 'Size', unit: '', choices: ['mm²', 'AWG'] },
    { id: 'length', label: 'Length', unit: 'm' },
    { id: 'temperature', label: 'Temperature', unit: '°C', usual: 20 },
    { id: 'current', label: 'Current', unit: 'A' },
  ],
  formula: 'R = ρ · l / A · (1 + α(t − 20 °C)), ρ = 1.7241·10⁻⁸ Ω·m, d(AWG n) = 0.127 mm · 92^((36−n)/39)',
  source: 'ASTM B258 and 100 % IACS copper; strands: ISO 6722-1 (from memory)',
  work: ({ numbers: { size, length, temperature = 20, current }, chosen }) => {
    if (size === undefined || length === undefined) return [];
    if (!(temperature > -60 && temperature < 260)) throw new InputError('Copper in a vehicle is at -60 to 260 °C.');
    const areaM2 = chosen.size === 'AWG' ? awgAreaM2(size) : size * 1e-6;
    const ohm = wireOhm(length, areaM2, temperature);
    const most = chosen.size === 'AWG' ? undefined : ISO_6722_OHM_PER_M[String(size)];
    return [
      line('Resistance', ohm, 'Ω', 3),
      ...(current === undefined ? [] : [line('Drop at that current', ohm * current, 'V', 3)]),
      ...(chosen.size === 'AWG' ? [line('Cross-section', areaM2 * 1e6, 'mm²', 3)] : []),
      ...(most === undefined ? [] : [line('Stranded, at most at 20 °C', most * length, 'Ω', 3)]),
    ];
  },
};

const fuse: Sum = {
  id: 'fuse',
  title: 'Fuse and time',
  fields: [
    { id: 'rating', label: 'Rating', unit: 'A' },
    { id: 'current', label: 'Current', unit: 'A' },
  ],
  formula: 'Per cent of rating → least and most opening time of a blade fuse',
  source: 'ISO 8820-3, type C (from memory)',
  work: ({ numbers: { rating, current } }) => {
    if (rating === undefined || current === undefined) return [];
    if (!(rating > 0) || !(current >= 0))
      throw new InputError('A fuse has a rating above zero, a current isn’t negative.');
    const share = line('Of its rating', (100 * current) / rating, '%', 3);
    const time = fuseTime(current, rating);
    if (!time) return [{ label: 'Opens', text: 'never: it must carry this' }, share];
    const from = seconds(time.leastS);
    const text = time.mostS === undefined ? `not before ${from}` : `after ${from} to ${seconds(time.mostS)}`;
    return [{ label: 'Opens', text }, share];
  },
};

function seconds(s: number): string {
  if (s >= 3600) return `${rounded(s / 3600, 3)} h`;
  return s >= 120 ? `${rounded(s / 60, 3)} min` : `${rounded(s, 2)} s`;
}

const duty: Sum = {
  id: 'duty',
  title: 'Duty, on-time, frequency',
  fields: [
    { id: 'duty', label: 'Duty', unit: '%' },
    { id: 'onTime', label: 'On-time', unit: 'ms' },
    { id: 'frequency', label: 'Frequency', unit: 'Hz' },
  ],
  formula: 'duty = on-time · frequency; fill in two, the third follows',
  source: 'IEEE Std 181-2011, duty factor',
  work: ({ numbers: { duty: percent, onTime, frequency } }) => {
    if ([percent, onTime, frequency].some((value) => value !== undefined && !(value >= 0))) {
      throw new InputError('None of the three can be negative.');
    }
    if (percent !== undefined && percent > 100) throw new InputError('A duty lies between 0 and 100 %.');
    if (onTime !== undefined && frequency !== undefined) {
      const share = onTime * 1e-3 * frequency;
      if (share > 1) throw new InputError('The pulse would be longer than the period; check ms and Hz.');
      return [line('Duty', 100 * share, '%'), line('Period', 1e3 / frequency, 'ms')];
    }
    if (percent !== undefined && frequency) {
      return [line('On-time', (10 * percent) / frequency, 'ms'), line('Period', 1e3 / frequency, 'ms')];
    }
    if (percent !== undefined && onTime) {
      return [line('Frequency', (10 * percent) / onTime, 'Hz'), line('Period', (100 * onTime) / percent, 'ms')];
    }
    return [];
  },
};

const effective: Sum = {
  id: 'effective',
  title: 'Volts at the pump, driven',
  fields: [
    { id: 'supply', label: 'Module supply', unit: 'V' },
    { id: 'duty', label: 'Output duty', unit: '%' },
    { id: 'drop', label: 'Lost in the module', unit: 'V', usual: 0.2 },
    { id: 'current', label: 'Pump current', unit: 'A' },
  ],
  formula: 'V = duty · (V supply − V module), I supply = duty · I pump',
  source: 'mean values of a freewheeling output stage',
  work: ({ numbers: { supply, duty: percent, drop: lost = 0, current } }) => {
    if (supply === undefined || percent === undefined) return [];
    if (!(percent >= 0 && percent <= 100)) throw new InputError('A duty lies between 0 and 100 %.');
    const share = percent / 100;
    return [
      line('Mean at the pump', share * (supply - lost), 'V', 3),
      ...(current === undefined ? [] : [line('Drawn from the supply', share * current, 'A', 3)]),
    ];
  },
};

export const ELECTRICAL_SUMS: readonly Sum[] = [drop, wire, fuse, duty, effective];
