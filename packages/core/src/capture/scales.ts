import { PASCAL_PER } from '../units/units.js';
import type { Channel, Role } from './capture.js';

/** A usual scale of a clamp or transducer, as a setup for one channel. */
export interface ScaleOffer {
  readonly label: string;
  /** A, V or Pa per unit in the file. */
  readonly factor: number;
  /** Reading at zero, in the file's own unit. */
  readonly zero?: number;
}

/** Current clamps give 1, 10 or 100 mV for an ampere (common practice, no published source). */
const CLAMP_MV_PER_A = [1, 10, 100] as const;
/** Ratiometric transducers give 0.5 V at no pressure and 4.5 V at full scale (common practice, no published source). */
const ZERO_V = 0.5;
const SPAN_V = 4;
const FULL_SCALES_PSI = [100, 150, 300, 500] as const;

/** The usual scales for a channel whose file gives volts where the role asks for something else. */
export function usualScales(role: Role, { unit, fileFactor }: Pick<Channel, 'unit' | 'fileFactor'>): ScaleOffer[] {
  if (unit !== 'V' && unit !== '1') return [];
  if (role === 'pump_current') {
    return CLAMP_MV_PER_A.map((mV) => ({ label: `${mV} mV/A`, factor: round((1000 * fileFactor) / mV) }));
  }
  if (role === 'rail_pressure') {
    return FULL_SCALES_PSI.map((psi) => transducer(psi * PASCAL_PER.psi, `0.5–4.5 V, ${psi} psi`, fileFactor));
  }
  return [];
}

/** A 0.5 to 4.5 V transducer of any range. @param fullScalePa at 4.5 V */
export function transducer(fullScalePa: number, label: string, fileFactor: number): ScaleOffer & { zero: number } {
  return { label, factor: round((fullScalePa * fileFactor) / SPAN_V), zero: round(ZERO_V / fileFactor) };
}

/** Seven digits: what binary fractions add says nothing. */
function round(value: number): number {
  return Number(value.toPrecision(7));
}
