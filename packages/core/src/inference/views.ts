import type { Reading } from '../evidence/reading.js';
import { tableOutput } from '../vehicle/command-table.js';
import type { SystemProfile } from '../vehicle/profile.js';
import type { Scored } from './attribution.js';
import { prepare } from './prepared.js';
import { isCommand } from './table-fold.js';
import { USUALLY, Weighing, type View } from './weighing.js';

/** Shares of vehicles on which a controller's command was fixed, and of profiles whose table is off two-fold (common practice, no published source). */
const FIXED_COMMAND = 0.2;
const TWOFOLD = 0.03;
/** A command or output that is likelier a slip than this strains the usual view. */
const STRAINED = 0.3;

/** Whether the likeliest explanations can't make sense of what was commanded or given out. */
export function isStrained(scored: readonly Scored[], readings: readonly Reading[]): boolean {
  if (!readings.some(isCommand)) return false;
  const total = logSum(scored.map(({ log }) => log));
  return readings.some(
    (reading, i) =>
      (isCommand(reading) || reading.kind === 'duty') &&
      scored.reduce((sum, { log, slips }) => sum + Math.exp(log - total) * slips[i], 0) > STRAINED,
  );
}

/** The same readings seen otherwise: the command fixed, or the table misread two-fold. */
export function otherViews(profile: SystemProfile, readings: readonly Reading[], batterySupported: boolean) {
  const view = (own: SystemProfile, { asSeen }: View, share: number, fold: number) => ({
    weighing: new Weighing(prepare(own), readings, batterySupported, { asSeen }),
    share,
    fold,
  });
  const scaled = (fold: number): SystemProfile => ({
    ...profile,
    commandTable: TABLE_STEPS.map((command) => [
      command,
      Math.min(100, fold * tableOutput(profile.commandTable, command)),
    ]),
  });
  return [
    ...(profile.control === 'module-commanded' || profile.control === 'module-self'
      ? [view(profile, { asSeen: true }, FIXED_COMMAND, 1)]
      : []),
    view(scaled(2), USUALLY, TWOFOLD, 2),
    view(scaled(0.5), USUALLY, TWOFOLD, 0.5),
  ];
}

const TABLE_STEPS = Array.from({ length: 21 }, (_, i) => 5 * i);

/** Hypotheses of several views as one set: their likelihoods add, and what each reading says is taken from the likelier. */
export function mixed(views: readonly { readonly scored: readonly Scored[]; readonly log: number }[]): Scored[] {
  const known = new Map<string, Scored[]>();
  for (const { scored, log } of views) {
    for (const one of scored) {
      const name = `${one.suspect.id}/${one.comesAndGoes ? '' : JSON.stringify(one.severity.fault)}`;
      known.set(name, [...(known.get(name) ?? []), { ...one, log: one.log + log }]);
    }
  }
  const merged = [...known.values()].map((same) => ({
    ...same.reduce((a, b) => (b.log > a.log ? b : a)),
    log: logSum(same.map(({ log }) => log)),
  }));
  const total = logSum(merged.map(({ log }) => log));
  return merged.map((one, index) => ({ ...one, index, weight: Math.exp(one.log - total) }));
}

export function logSum(logs: readonly number[]): number {
  const most = Math.max(...logs);
  return most === -Infinity ? most : most + Math.log(logs.reduce((sum, log) => sum + Math.exp(log - most), 0));
}
