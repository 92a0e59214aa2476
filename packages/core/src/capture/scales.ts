import { PASCAL_PER } from '../units/units.js';
import type { Channel, Role } from './capture.js';

/** A clamp or transducer that gives volts for amperes or pascals, or a probe that gives a part of its volts. */
export interface ScaledTool {
  readonly kind: 'clamp' | 'transducer' | 'probe';
  readonly name: string;
  /** V per A, V per Pa, or V at the recorder per V at the tip. */
  readonly voltsPerUnit: number;
  /** What it gives where there is nothing to measure, V. */
  readonly zeroV: number;
}

/** A tool's scale for one channel, as its setup takes it. */
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
/** Probes and attenuators divide by 10 or 20, where the recorder wasn't told (common practice, no published source). */
const DIVIDED_BY = [10, 20] as const;

/** A current clamp of so many millivolts an ampere. */
export function clampOf(mVPerA: number, name = `${mVPerA} mV/A`): ScaledTool {
  return { kind: 'clamp', name, voltsPerUnit: mVPerA / 1000, zeroV: 0 };
}

/** A pressure transducer. @param fullScalePa pressure at its highest output @param zeroV output without pressure @param fullV at full scale */
export function transducerOf(fullScalePa: number, name: string, zeroV = ZERO_V, fullV = ZERO_V + SPAN_V): ScaledTool {
  return { kind: 'transducer', name, voltsPerUnit: (fullV - zeroV) / fullScalePa, zeroV };
}

/** A probe or attenuator that passes a so-many-eth of its volts. */
export function probeOf(dividesBy: number, name = `${dividesBy} : 1`): ScaledTool {
  return { kind: 'probe', name, voltsPerUnit: 1 / dividesBy, zeroV: 0 };
}

/** What nearly every shop has. */
export const USUAL_TOOLS: readonly ScaledTool[] = [
  ...CLAMP_MV_PER_A.map((mV) => clampOf(mV)),
  ...FULL_SCALES_PSI.map((psi) => transducerOf(psi * PASCAL_PER.psi, `0.5–4.5 V, ${psi} psi`)),
  ...DIVIDED_BY.map((by) => probeOf(by)),
];

/** The kind of tool that gives what a role asks for. */
export function toolKindFor(role: Role): ScaledTool['kind'] {
  if (role === 'pump_current') return 'clamp';
  return role === 'rail_pressure' ? 'transducer' : 'probe';
}

/** A tool's scale on a channel whose file says how many volts its unit is. */
export function scaleOf(
  { name, voltsPerUnit, zeroV }: ScaledTool,
  { fileFactor }: Pick<Channel, 'fileFactor'>,
): ScaleOffer {
  return {
    label: name,
    factor: round(fileFactor / voltsPerUnit),
    ...(zeroV !== 0 && { zero: round(zeroV / fileFactor) }),
  };
}

/** The usual scales for a channel whose file gives volts where the role asks for something else. */
export function usualScales(role: Role, channel: Pick<Channel, 'unit' | 'fileFactor'>): ScaleOffer[] {
  const wanted = toolKindFor(role);
  if (wanted === 'probe' || (channel.unit !== 'V' && channel.unit !== '1')) return [];
  return USUAL_TOOLS.filter(({ kind }) => kind === wanted).map((tool) => scaleOf(tool, channel));
}

/** Seven digits: what binary fractions add says nothing. */
function round(value: number): number {
  return Number(value.toPrecision(7));
}
