import type { SiUnit } from '../units/units.js';
import type { Role } from './capture.js';

interface RoleHint {
  readonly role: Role;
  readonly pattern: RegExp;
}

/** First match wins, so the more particular names come first. */
const NAME_HINTS: readonly RoleHint[] = [
  { role: 'rail_sensor_voltage', pattern: /sensor|frp|\brps\b/i },
  { role: 'rail_pressure', pattern: /press|\brail\b/i },
  { role: 'injector_signal', pattern: /inject|\binj\b/i },
  { role: 'feedback_signal', pattern: /feedback|monitor|\bfb\b/i },
  { role: 'command_signal', pattern: /command|\bcmd\b|control/i },
  { role: 'module_supply_voltage', pattern: /module.*(supply|feed|in\b)/i },
  { role: 'module_output_voltage', pattern: /module|driver/i },
  { role: 'relay_output_voltage', pattern: /relay|\b87\b/i },
  { role: 'pump_ground_voltage', pattern: /ground|gnd|\bearth\b|return/i },
  { role: 'battery_voltage', pattern: /batt|\bvbat\b|\bb\+/i },
  { role: 'pump_current', pattern: /clamp|curr|amp|\bi_?pump\b/i },
  { role: 'pump_feed_voltage', pattern: /pump|feed|volt/i },
];

/**
 * Guesses what each channel was clipped to, from names and units; a person confirms the guess.
 * With a single channel and nothing else to go by it is the pump current, since that is what such a file is recorded for.
 */
export function guessRoles(channels: readonly { name: string; unit: SiUnit }[]): Role[] {
  const taken = new Set<Role>();
  const roles = channels.map((channel): Role => {
    const role = guessOne(channel);
    if (role === 'other' || taken.has(role)) return 'other';
    taken.add(role);
    return role;
  });
  if (channels.length === 1 && roles[0] === 'other') roles[0] = 'pump_current';
  if (!taken.has('pump_current') && channels.length > 1 && roles[0] === 'other' && channels[0].unit === '1') {
    roles[0] = 'pump_current';
  }
  return roles;
}

function guessOne({ name, unit }: { name: string; unit: SiUnit }): Role {
  if (unit === 'A') return 'pump_current';
  if (unit === 'Pa') return 'rail_pressure';
  const hint = NAME_HINTS.find(({ pattern }) => pattern.test(name));
  return hint?.role ?? 'other';
}
