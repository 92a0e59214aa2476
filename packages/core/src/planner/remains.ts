import type { Verdict } from '../terms/verdicts.js';
import type { Plan } from './plan.js';

/** What is left to do when no test would tell anything any more, in plain words. */
export function whatRemains({ posterior, readings, contradictions, gates }: Plan): readonly string[] {
  const open = (Object.keys(gates) as Verdict[]).filter((verdict) => gates[verdict].allowed);
  if (open.length > 0) return ['The evidence allows a verdict: give it, or say why not.'];
  const away = readings.length > 0 && readings.every(({ faultPresent }) => !faultPresent);
  const doubted = contradictions.filter(({ settled }) => !settled);
  const [likeliest] = Object.values(gates).sort((a, b) => b.weight - a.weight);
  return [
    ...(away ? ['All of it was read while the fault was away: read again when it shows.'] : []),
    ...doubted.map(({ explanation }) => explanation),
    ...(posterior.comesAndGoes > 0.3
      ? ['It comes and goes: leave a recorder on the feed, the current and the pressure, and read when it shows.']
      : []),
    ...(doubted.length === 0 ? likeliest.missing.slice(-1) : []),
    'What can’t be read here can’t be proven here: a lead may decide all the same, with a reason that stays.',
  ];
}
