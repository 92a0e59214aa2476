import { InputError } from '../errors.js';

/** Resistivity of annealed copper at 20 °C, ohm metre: 100 % IACS (IEC 60028, cited by ASTM B258; from memory). */
export const COPPER_OHM_M = 1.7241e-8;
/** Temperature coefficient of that copper at 20 °C, 1/K (IEC 60028, from memory). */
const COPPER_PER_K = 3.93e-3;
const REFERENCE_C = 20;

/**
 * Diameter of an AWG number, m: 0.005 inch at 36, 0.46 inch at 4/0, 39 even ratios between (ASTM B258).
 * @param gauge 36 to -3 (0000)
 */
export function awgDiameterM(gauge: number): number {
  if (!(gauge >= -3 && gauge <= 40)) throw new InputError('AWG numbers here go from 0000 (-3) to 40.');
  return 0.127e-3 * 92 ** ((36 - gauge) / 39);
}

/** Cross-section of an AWG number, m2. */
export function awgAreaM2(gauge: number): number {
  return (Math.PI / 4) * awgDiameterM(gauge) ** 2;
}

/** Resistance of a solid copper conductor of a length and cross-section at a temperature, ohm: R = rho l / A (1 + a dT). */
export function wireOhm(lengthM: number, areaM2: number, temperatureC = REFERENCE_C): number {
  if (!(lengthM >= 0) || !(areaM2 > 0)) throw new InputError('A wire needs a length and a cross-section above zero.');
  return ((COPPER_OHM_M * lengthM) / areaM2) * (1 + COPPER_PER_K * (temperatureC - REFERENCE_C));
}

/** Largest resistance of stranded automotive conductors at 20 °C by nominal mm2, ohm a metre (ISO 6722-1, from memory). */
export const ISO_6722_OHM_PER_M: Readonly<Record<string, number>> = {
  '0.35': 54.4e-3,
  '0.5': 37.1e-3,
  '0.75': 24.7e-3,
  '1': 18.5e-3,
  '1.5': 12.7e-3,
  '2.5': 7.6e-3,
  '4': 4.71e-3,
  '6': 3.14e-3,
};
