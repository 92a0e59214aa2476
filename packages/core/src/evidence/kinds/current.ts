import { LARGEST_CURRENT_A } from '../../limits/limits.js';
import type { EvidenceKind } from '../kind.js';
import { slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { minutesToClamp } from '../site.js';
import type { NumberValue } from '../values.js';

const AMPERES: NumberValue = {
  type: 'number',
  unit: 'A',
  least: -LARGEST_CURRENT_A,
  most: LARGEST_CURRENT_A,
  beyond: `No pump current is above ${LARGEST_CURRENT_A} A; check the decimal point.`,
};

/** A clamp or a meter in the pump's circuit. */
export const current: EvidenceKind = {
  key: 'Amps',
  places: [
    {
      at: 'lift_pump',
      title: 'Lift pump, current',
      stage: 'current',
      value: AMPERES,
      states: ['prime', 'cranking', 'idle', 'loaded'],
      howTo: 'The clamp round the lift pump’s own branch, where the other pump’s current doesn’t flow.',
    },
  ],
  stations: { value: AMPERES, at: ['pump'], own: ['pump'] },
  title: ({ at, state }) =>
    at === 'lift_pump' ? `Clamp the lift pump’s current, ${state}` : `Clamp the pump current, ${state}`,
  minutes: (site) => minutesToClamp(site) + 2,
  danger: () => 'power-path',
  foresee: (reading, scene) =>
    reading.at === 'lift_pump' ? liftAmperes(reading.value, scene) : ampereParts(reading.value, scene),
  probe: 0,
  example: { value: 4.5, state: 'prime' },
};

/** A clamp's zero and share, and what pumps of one kind differ by beyond their rating (common practice, no published source). */
const CLAMP_A = 0.08;
const CLAMP_SHARE = 0.035;
const LAWS = 0.1;
/** Of what a rotor that stands draws: its winding's and brushes' own resistance, cold or hot, is on no plate (common practice, no published source). */
export const STALLED_SHARE = 0.3;
const RANGE_A = 30;

export function ampereParts(value: Reading['value'], scene: Scene): Part[] {
  if (typeof value !== 'number') return [];
  const of: NumberPart['of'] = (s) => s.currentA;
  const share = scene.now.locked ? STALLED_SHARE : CLAMP_SHARE;
  return [{ value, of, sd: Math.hypot(CLAMP_A, share * of(scene.now), slack(of, scene, LAWS)), range: RANGE_A }];
}

/** What the profile says of the second pump; it may differ by a quarter (common practice, no published source). */
const LIFT_SHARE = 0.25;

function liftAmperes(value: Reading['value'], scene: Scene): Part[] {
  if (typeof value !== 'number' || scene.vehicle.liftAt < 0) return [];
  const of: NumberPart['of'] = (s) => s.liftA;
  return [{ value, of, sd: Math.hypot(2 * CLAMP_A, LIFT_SHARE * of(scene.now)), range: RANGE_A }];
}
