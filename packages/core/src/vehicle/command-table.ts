import type { CommandTable } from './profile.js';

/**
 * Output duty that a command means, both in per cent; straight between rows, at its last row beyond them. Without a table they
 * are the same.
 */
export function tableOutput(table: CommandTable | undefined, command: number): number {
  if (!table || table.length < 2) return command;
  const next = table.findIndex(([from]) => from >= command);
  const i = Math.min(table.length - 1, Math.max(1, next < 0 ? table.length - 1 : next));
  const [[c0, o0], [c1, o1]] = [table[i - 1], table[i]];
  const along = Math.max(0, Math.min(1, (command - c0) / (c1 - c0)));
  return o0 + along * (o1 - o0);
}
