import type { Suspect } from '../inference/suspects.js';
import type { Family } from '../terms/families.js';
import { VERDICTS, type Verdict } from '../terms/verdicts.js';

const NAMES = Object.keys(VERDICTS) as Verdict[];

/** The decision that a guilty suspect comes to. A relay's own coil goes out with the relay. */
export function verdictOf({ id, family }: Pick<Suspect, 'id' | 'family'>): Verdict {
  if (id === 'relay-coil') return 'replace-relay';
  const verdict = NAMES.find((name) => (VERDICTS[name] as readonly Family[]).includes(family));
  if (!verdict) throw new Error(`No verdict condemns ${family}.`);
  return verdict;
}
