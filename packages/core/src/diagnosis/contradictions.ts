import { tableOutput } from '../systems/command-table.js';
import type { Posterior } from './posterior.js';
import type { Reading } from './reading.js';

/** Readings that can't all be what they claim to be, and what to do about it. */
export interface Contradiction {
  readonly readings: readonly string[];
  readonly explanation: string;
}

/** A reading likelier a slip than not contradicts the rest. */
const SLIP = 0.6;
/** Volts by which a repeat of the same reading differs from it when a pin isn't touching. */
const REPEAT_V = 0.3;
/** No battery rests above this: something charges it (common practice, no published source). */
const CHARGED_V = 12.95;
const TWOFOLD = 0.12;

/** What to repeat before anything is believed: slips, repeats that differ, the traps that people fall into. */
export function findContradictions(posterior: Posterior, readings: readonly Reading[]): Contradiction[] {
  return [
    ...repeats(readings),
    ...charger(readings),
    ...twofold(posterior, readings),
    ...slips(posterior, readings),
    ...absent(readings),
  ].filter((one, i, all) => all.findIndex((other) => other.readings.join() === one.readings.join()) === i);
}

function name({ kind, at, keyState }: Reading): string {
  return `${kind} at ${at} (${keyState})`;
}

function repeats(readings: readonly Reading[]): Contradiction[] {
  return readings.flatMap((later, i) => {
    if (later.kind !== 'voltage' || typeof later.value !== 'number') return [];
    const before = readings
      .slice(0, i)
      .filter((other) => sameQuestion(other, later))
      .at(-1);
    if (!before || Math.abs(Number(before.value) - later.value) <= REPEAT_V) return [];
    const later2 = readings.slice(i + 1).some((other) => sameQuestion(other, later));
    if (later2) return [];
    return [
      {
        readings: [before.id, later.id],
        explanation: `The repeat of ${name(later)} differs by ${Math.abs(Number(before.value) - later.value).toFixed(2)} V: a pin not touching, or the fault comes and goes. Read it a third time from the battery post.`,
      },
    ];
  });
}

function sameQuestion(a: Reading, b: Reading): boolean {
  return (
    a.kind === b.kind &&
    a.at === b.at &&
    a.keyState === b.keyState &&
    a.reference === b.reference &&
    a.unloaded === b.unloaded &&
    a.faultPresent === b.faultPresent
  );
}

function slips({ slips: shares, suspects }: Posterior, readings: readonly Reading[]): Contradiction[] {
  const meterGround = suspects.find(({ suspect }) => suspect.id === 'meter-ground')?.probability ?? 0;
  const found = readings
    .filter(({ id }) => (shares.get(id) ?? 0) > SLIP)
    .filter(
      (reading) =>
        !readings.some((later) => readings.indexOf(later) > readings.indexOf(reading) && sameQuestion(later, reading)),
    )
    .map((reading): Contradiction => {
      const voltage = reading.kind === 'voltage' || reading.kind === 'test-light';
      const repeat = voltage
        ? 'Repeat it from the battery post, the pin touching clean metal.'
        : 'Repeat it before believing either.';
      return {
        readings: [reading.id],
        explanation: `No single fault explains ${name(reading)} together with the rest. ${repeat}`,
      };
    });
  if (meterGround < 0.5) return found;
  const suspect = readings.filter(({ kind, reference }) => kind === 'voltage' && !reference?.startsWith('battery'));
  if (suspect.length === 0) return found;
  return [
    ...found,
    {
      readings: suspect.map(({ id }) => id),
      explanation:
        'All of these read low as with a bad meter ground. Repeat them with the black lead on the battery post.',
    },
  ];
}

function charger(readings: readonly Reading[]): Contradiction[] {
  return readings
    .filter(({ kind, keyState, value }) => kind === 'battery' && keyState === 'off' && Number(value) > CHARGED_V)
    .map(({ id, value }) => ({
      readings: [id],
      explanation: `${Number(value).toFixed(2)} V with everything off is a charger or a battery fresh off one. Take it off, load the battery a minute, read again.`,
    }));
}

/** Command and output that differ by two fold: a table misread is likelier than a module that halves exactly. */
function twofold({ path }: Posterior, readings: readonly Reading[]): Contradiction[] {
  const commands = readings.filter(({ kind, at }) => (kind === 'duty' && at === 'command') || at === 'commanded_duty');
  const outputs = readings.filter(({ kind, at }) => kind === 'duty' && at !== 'command');
  return commands.flatMap((command) => {
    const output = outputs.find(({ keyState }) => keyState === command.keyState);
    if (!output || !(Number(command.value) > 0)) return [];
    const expected = tableOutput(path.profile.commandTable, Number(command.value));
    const ratio = Number(output.value) / expected;
    const isTwofold = [2, 0.5].some((fold) => Math.abs(ratio / fold - 1) < TWOFOLD);
    if (!isTwofold) return [];
    return [
      {
        readings: [command.id, output.id],
        explanation: `The output is ${ratio > 1 ? 'twice' : 'half'} what the table makes of the command. Before blaming the module check the table: on some systems a command of 50 % means fully on.`,
      },
    ];
  });
}

function absent(readings: readonly Reading[]): Contradiction[] {
  const away = readings.filter(({ faultPresent, kind }) => !faultPresent && kind !== 'visual');
  const none = readings.length > 0 && away.length > 0 && !readings.some(({ faultPresent }) => faultPresent);
  if (!none) return [];
  return [
    {
      readings: away.map(({ id }) => id),
      explanation:
        'All of this was read while the fault was absent: it proves nothing about it. Read again when it shows.',
    },
  ];
}
