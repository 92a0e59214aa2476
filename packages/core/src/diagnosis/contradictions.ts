import { tableOutput } from '../systems/command-table.js';
import type { StationKind } from '../systems/profile.js';
import type { Family } from './families.js';
import type { Posterior } from './posterior.js';
import type { Reading } from './reading.js';

/** Readings that can't all be what they claim to be, and what to do about it. */
export interface Contradiction {
  readonly readings: readonly string[];
  readonly explanation: string;
  /** Of a wrong part: the family whose verdict takes it out, and so isn't held up by it. */
  readonly spoils?: Family;
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
    ...wrongParts(posterior, readings),
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

/** A jumper or a wrong part in the path: whatever was read through it is of another circuit than the vehicle's. */
function wrongParts({ path }: Posterior, readings: readonly Reading[]): Contradiction[] {
  const { stations } = path.profile;
  return stations.flatMap(({ id, kind, name }, place) => {
    const seen = readings.filter((reading) => reading.kind === 'visual' && reading.at === id).at(-1);
    if (seen?.value !== 'wrong-part') return [];
    const through = readings.filter(
      (reading) =>
        ['voltage', 'test-light', 'current', 'capture'].includes(reading.kind) &&
        stations.findIndex((station) => station.id === reading.at) >= place,
    );
    return [
      {
        readings: [seen.id, ...through.map((reading) => reading.id)],
        ...(SPOILS[kind] && { spoils: SPOILS[kind] }),
        explanation: `A wrong part or a jumper sits at ${name}. ${WRONG_PARTS[kind] ?? ''}Fit the right one, say that it looks clean, and repeat what was read behind it.`,
      },
    ];
  });
}

const SPOILS: Partial<Record<StationKind, Family>> = {
  fuse: 'fuse',
  'fusible-link': 'fuse',
  relay: 'relay-contact',
  'cutoff-switch': 'cutoff-switch',
};

const WRONG_PARTS: Partial<Record<StationKind, string>> = {
  fuse: 'A larger fuse hides what the circuit draws, and a smaller one may be all that is wrong. ',
  'fusible-link': 'Plain wire in place of a link no longer protects the harness. ',
  relay: 'Bridged or of another pinout it hides the relay’s own contact and coil side. ',
  'cutoff-switch': 'A bypassed cut-off switch is never driven with. ',
};

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
