import { LIMITS } from '../limits/limits.js';

/** Whether a regulator follows the manifold’s vacuum. */
export interface RegulatorCheck {
  /** Rise with the hose off, Pa. */
  readonly risePa: number;
  readonly works: boolean;
  readonly text: string;
  readonly rule: string;
  readonly source: string;
}

/** A gauge's own error and the engine's changed idle, as a share and at least. */
const TOLERANCE = 0.25;
const TOLERANCE_PA = 10e3;
/** Idle vacuum of a sound engine, for when nobody read it (common practice, from memory). */
const USUAL_VACUUM_PA = [45e3, 78e3] as const;

/** Hose off, the rail pressure must rise by the manifold vacuum: the regulator's set pressure is against the manifold. */
export function checkRegulator(hoseOnPa: number, hoseOffPa: number, vacuumPa?: number): RegulatorCheck {
  const risePa = hoseOffPa - hoseOnPa;
  const low = vacuumPa === undefined ? USUAL_VACUUM_PA[0] : vacuumPa;
  const high = vacuumPa === undefined ? USUAL_VACUUM_PA[1] : vacuumPa;
  const within = (limit: number) => Math.max(TOLERANCE_PA, TOLERANCE * limit);
  const works = risePa >= low - within(low) && risePa <= high + within(high);
  const { rule, source } = LIMITS.regulatorRise;
  const text = works
    ? 'The regulator follows the vacuum.'
    : risePa < low
      ? 'The pressure hardly follows the vacuum: stuck or leaking regulator, blocked hose, or no vacuum on it.'
      : 'It rises by more than the vacuum: restricted return, or the readings are of different engine speeds.';
  return { risePa, works, text, rule, source };
}
