import { InputError } from '../errors.js';
import { ratiometricTable, sensorPressure } from '../vehicle/rail-sensor.js';
import { fromPascal, PASCAL_PER, toPascal, type PressureUnit } from '../units/units.js';
import { line, rounded, type Sum, type SumResult } from './sum.js';

const SP811 = 'NIST SP 811';
const UNITS = ['psi', 'kPa', 'bar'] as const;

const inUnit = (value: number, unit: string | undefined) => toPascal(value, (unit ?? 'kPa') as PressureUnit);

/** One pressure in the three units of the trade. */
function everyUnit(label: string, pascal: number): SumResult {
  const texts = UNITS.map((unit) => `${rounded(fromPascal(pascal, unit), unit === 'bar' ? 3 : 4)} ${unit}`);
  return { label, text: texts.join(' = ') };
}

const pressure: Sum = {
  id: 'pressure',
  title: 'Pressure units',
  fields: [{ id: 'value', label: 'Pressure', unit: '', choices: ['psi', 'bar', 'kPa', 'MPa', 'inHg'] }],
  formula: `1 psi = ${PASCAL_PER.psi.toFixed(3)} Pa, 1 bar = 100 000 Pa, 1 inHg = 3386.389 Pa`,
  source: SP811,
  work: ({ numbers: { value }, chosen }) => {
    if (value === undefined) return [];
    const pascal = inUnit(value, chosen.value);
    return [everyUnit('Pressure', pascal), line('As vacuum', fromPascal(pascal, 'inHg'), 'inHg', 3)];
  },
};

const regulator: Sum = {
  id: 'regulator',
  title: 'Regulator and vacuum',
  fields: [
    { id: 'rail', label: 'Rail, hose on', unit: '', choices: UNITS },
    { id: 'vacuum', label: 'Manifold vacuum', unit: '', choices: ['inHg', 'kPa', 'psi'] },
  ],
  formula: 'p hose off = p hose on + vacuum',
  source: `the regulator holds its pressure against the manifold; ${SP811}`,
  work: ({ numbers: { rail, vacuum }, chosen }) => {
    if (rail === undefined || vacuum === undefined) return [];
    const sucked = inUnit(vacuum, chosen.vacuum);
    if (!(sucked >= 0 && sucked <= 101_325)) throw new InputError('A vacuum lies between 0 and 30 inHg (101 kPa).');
    return [everyUnit('Hose off', inUnit(rail, chosen.rail) + sucked), everyUnit('Rises by', sucked)];
  },
};

const sensor: Sum = {
  id: 'sensor',
  title: 'Rail sensor',
  fields: [
    { id: 'volts', label: 'Sensor', unit: 'V' },
    { id: 'value', label: 'or pressure', unit: '', choices: UNITS },
    { id: 'fullScale', label: 'Full scale, at 4.5 V', unit: '', choices: ['kPa', 'bar', 'psi'], usual: 1000 },
  ],
  formula: 'p = full scale · (V − 0.5 V) / 4 V',
  source: 'ratiometric sensor on 5 V: common practice, no published source',
  work: ({ numbers: { volts, value, fullScale }, chosen }) => {
    if (fullScale === undefined || (volts === undefined && value === undefined)) return [];
    const most = inUnit(fullScale, chosen.fullScale);
    if (!(most > 0)) throw new InputError('Give a full scale above zero.');
    if (volts === undefined) return [line('Sensor', 0.5 + (4 * inUnit(value ?? 0, chosen.value)) / most, 'V', 3)];
    if (!(volts >= 0 && volts <= 5.2)) throw new InputError('A 5 V sensor answers between 0 and 5 V.');
    return [everyUnit('Pressure', sensorPressure(volts, ratiometricTable(most)) ?? 0)];
  },
};

/** Petrol; diesel is about 0.83 (from memory). */
const PETROL_KG_PER_L = 0.745;

const flow: Sum = {
  id: 'flow',
  title: 'Flow and demand',
  fields: [
    { id: 'litres', label: 'Caught', unit: 'L' },
    { id: 'seconds', label: 'in', unit: 's' },
    { id: 'power', label: 'Engine power', unit: 'kW' },
    { id: 'consumption', label: 'Consumption at full power', unit: 'g/kWh', usual: 340 },
  ],
  formula: 'flow = litres · 3600 / seconds; demand = power · consumption / density (0.745 kg/L)',
  source: 'brake-specific consumption: from memory; a port-injection engine’s usual one',
  work: ({ numbers: { litres, seconds, power, consumption = 340 } }) => {
    const results: SumResult[] = [];
    if (seconds !== undefined && !(seconds > 0)) throw new InputError('Give the seconds that it was caught in.');
    if (litres !== undefined && seconds !== undefined) {
      results.push(line('Delivered', (litres * 3600) / seconds, 'L/h', 3));
    }
    if (power !== undefined) {
      results.push(line('Needed at full power', (power * consumption) / 1000 / PETROL_KG_PER_L, 'L/h', 3));
    }
    return results;
  },
};

export const PRESSURE_SUMS: readonly Sum[] = [pressure, regulator, sensor, flow];
