import { answered, newestEntry, newestNumber, type Entry } from '../evidence/entry.js';
import { feedbackSays } from '../evidence/kinds/duty.js';
import type { PressureSheet } from '../pressure/sheet.js';
import type { HouseRules } from '../rules/house-rules.js';
import { tableOutput } from '../vehicle/command-table.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { SPEC_BASIS_NAMES } from '../vehicle/system-kinds.js';
import { AGREES_PERCENT, LEAST_ASKED_PERCENT, leastSupplyV, type ChainLink } from './drive-chain.js';

/** Between what a link's reading should lie, in its own SI unit or percent, and by what that is known. */
export interface LinkWindow {
  readonly least?: number;
  readonly most?: number;
  readonly by: string;
}

/** What the windows are taken from, besides what was read. */
export interface WindowGrounds {
  readonly profile: SystemProfile;
  readonly rules: HouseRules;
  /** The pressure sheet's, by key state. */
  readonly pressure: PressureSheet['windows'];
}

/**
 * What a link of a driven pump's chain should read, as far as what was read before it, the system or the house say it.
 * @param entries standing ones, oldest first
 * @returns undefined where nothing says it
 */
export function chainWindow(
  { kind, at }: ChainLink,
  entries: readonly Entry[],
  { profile, rules, pressure }: WindowGrounds,
): LinkWindow | undefined {
  const read = answered(entries);
  const state = newestEntry(read, kind, at)?.keyState ?? 'idle';
  switch (`${kind}/${at}`) {
    case 'scan/commanded_duty':
      return { least: LEAST_ASKED_PERCENT, by: 'or nothing is asked' };
    case 'duty/command': {
      const asked = newestNumber(read, 'scan', 'commanded_duty');
      return asked
        ? around(asked.value, 'as the scan tool says')
        : { least: LEAST_ASKED_PERCENT, by: 'or nothing is asked' };
    }
    case 'duty/output': {
      const command = newestNumber(read, 'duty', 'command');
      const { commandTable } = profile;
      const by = commandTable ? 'by this system’s table' : 'as it is asked';
      return command && around(tableOutput(commandTable, command.value), by);
    }
    case 'duty/feedback': {
      const healthy = profile.feedbackTable?.find(
        ({ fromPercent, toPercent }) => feedbackSays((fromPercent + toPercent) / 2, profile.feedbackTable) === 'normal',
      );
      return healthy && { least: healthy.fromPercent, most: healthy.toPercent, by: healthy.meaning };
    }
    case 'voltage/module_ground':
      return { most: rules.groundDropV, by: 'house limit' };
    case 'scan/actual_pressure': {
      const spec = pressure[state as keyof typeof pressure];
      return spec && { least: spec.minPa, most: spec.maxPa, by: SPEC_BASIS_NAMES[spec.basis] };
    }
    default: {
      if (kind === 'voltage') return { least: leastSupplyV(), by: 'of a sound supply' };
      const window = profile.currentWindows[state];
      return window && { least: window.minA, most: window.maxA, by: 'this system’s' };
    }
  }
}

function around(percent: number, by: string): LinkWindow {
  return { least: Math.max(0, percent - AGREES_PERCENT), most: Math.min(100, percent + AGREES_PERCENT), by };
}
