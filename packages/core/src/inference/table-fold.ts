import type { Reading } from '../evidence/reading.js';
import { tableOutput } from '../vehicle/command-table.js';
import type { SystemProfile } from '../vehicle/profile.js';

/** How far a ratio may be from two or a half to count as two-fold. */
const TWOFOLD = 0.12;

/** What was sent to a module, or arrived at its pin. */
export function isCommand({ kind, at, value }: Reading): boolean {
  return (
    typeof value === 'number' && ((kind === 'scan' && at === 'commanded_duty') || (kind === 'duty' && at === 'command'))
  );
}

/** Pairs of a command and an output in one key state that differ two-fold. @returns by how much the table would be off */
export function twofoldPairs(
  profile: SystemProfile,
  readings: readonly Reading[],
): readonly { readonly command: Reading; readonly output: Reading; readonly fold: 2 | 0.5 }[] {
  const commands = readings.filter(isCommand);
  const outputs = readings.filter(({ kind, at }) => kind === 'duty' && at === 'output');
  return commands.flatMap((command) => {
    const output = outputs.find(({ keyState }) => keyState === command.keyState);
    if (!output || !(Number(command.value) > 0)) return [];
    const ratio = Number(output.value) / tableOutput(profile.commandTable, Number(command.value));
    const fold = ([2, 0.5] as const).find((times) => Math.abs(ratio / times - 1) < TWOFOLD);
    return fold ? [{ command, output, fold }] : [];
  });
}
