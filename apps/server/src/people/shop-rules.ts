import { DEFAULT_HOUSE_RULES, type HouseRules } from '@jarro/core';
import type { Shop } from './people.entities.js';

/** The shop's rules; those that it never chose are the usual ones. */
export function rulesOf({ rules }: Shop): HouseRules {
  return { ...DEFAULT_HOUSE_RULES, ...rules };
}
