import { sameQuestion, type Reading } from '../evidence/reading.js';
import type { StationKind } from '../vehicle/profile.js';
import type { Verdict } from '../terms/verdicts.js';
import type { Posterior } from './posterior.js';
import { isCommand, twofoldPairs } from './table-fold.js';

/** Readings that can't all be what they claim to be, and what to do about it. */
export interface Contradiction {
  readonly readings: readonly string[];
  readonly explanation: string;
  /** Verdicts that it doesn't hold up: it is what they mend. */
  readonly excuses?: readonly Verdict[];
  /** Of a wrong part or a jumper: where it sits. */
  readonly wrongPart?: string;
  /** It was settled by a repeat: told, and in nobody's way. */
  readonly settled?: boolean;
}

/** A reading likelier a slip than not contradicts the rest. */
const SLIP = 0.6;
/** Volts by which a repeat of the same reading differs from it when a pin isn't touching. */
const REPEAT_V = 0.3;
/** No battery rests above this: something charges it (common practice, no published source). */
const CHARGED_V = 12.95;

/** What to repeat before anything is believed: slips, repeats that differ, the traps that people fall into. */
export function findContradictions(posterior: Posterior, readings: readonly Reading[]): Contradiction[] {
  return [
    ...repeats(posterior, readings),
    ...wrongParts(posterior, readings),
    ...charger(readings),
    ...twofold(posterior, readings),
    ...meterGround(posterior, readings),
    ...sensorAgainstGauge(posterior, readings),
    ...slips(posterior, readings),
    ...absent(readings),
  ].filter((one, i, all) => all.findIndex((other) => other.readings.join() === one.readings.join()) === i);
}

function name({ kind, at, keyState }: Reading): string {
  return `${kind} at ${at} (${keyState})`;
}

function isRepeated(reading: Reading, readings: readonly Reading[]): boolean {
  return readings.slice(readings.indexOf(reading) + 1).some((later) => sameQuestion(later, reading));
}

function repeats({ slips, comesAndGoes }: Posterior, readings: readonly Reading[]): Contradiction[] {
  return readings.flatMap((later, i) => {
    if (later.kind !== 'voltage' || typeof later.value !== 'number' || isRepeated(later, readings)) return [];
    const before = readings
      .slice(0, i)
      .filter((other) => sameQuestion(other, later))
      .at(-1);
    if (!before || Math.abs(Number(before.value) - later.value) <= REPEAT_V) return [];
    const apart = `The repeat of ${name(later)} differs by ${Math.abs(Number(before.value) - later.value).toFixed(2)} V`;
    // Either the newer fits everything else, so that the older slipped; or the fault itself was seen to come and go.
    const settled = (slips.get(later.id) ?? 0) < 1 - SLIP || comesAndGoes > SLIP;
    return [
      {
        readings: [before.id, later.id],
        explanation: settled
          ? comesAndGoes > SLIP
            ? `${apart}: the fault comes and goes.`
            : `${apart}. The repeat fits the rest: a pin not touching the first time.`
          : `${apart}: a pin not touching, or the fault comes and goes. Read it a third time from the battery post.`,
        ...(settled && { settled }),
      },
    ];
  });
}

function slips({ slips: shares }: Posterior, readings: readonly Reading[]): Contradiction[] {
  return readings
    .filter((reading) => (shares.get(reading.id) ?? 0) > SLIP && !isRepeated(reading, readings))
    .map((reading): Contradiction => {
      const voltage = reading.kind === 'voltage' || reading.kind === 'test-light';
      const repeat = voltage
        ? 'Repeat it from the battery post, the pin touching clean metal.'
        : 'Repeat it before believing either.';
      return {
        readings: [reading.id],
        explanation: `No single fault explains ${name(reading)} together with the rest. ${repeat}`,
        // What nobody trusted much stands in nobody's way.
        ...(reading.trust === 'low' && { settled: true }),
      };
    });
}

/** Every voltage from the body reads low by the same share. */
function meterGround({ meterGround: probability }: Posterior, readings: readonly Reading[]): Contradiction[] {
  if (probability < 0.5) return [];
  const onBody = readings.filter(
    ({ kind, reference }) => kind === 'voltage' && (reference === 'chassis' || reference === 'local-ground'),
  );
  return [
    {
      readings: onBody.map(({ id }) => id),
      explanation:
        'All of these read low as with a bad meter ground. Repeat them with the black lead on the battery post.',
      settled: true,
    },
  ];
}

/** Gauge and sensor differ by more than both may be off (common practice, no published source). */
const APART = 0.08;
const APART_PA = 15e3;

/** Whether a gauge and the sensor beside it can't both be right. Both in Pa. */
export function readsOtherwise(gaugePa: number, sensedPa: number): boolean {
  return Math.abs(gaugePa - sensedPa) > Math.max(APART_PA, APART * gaugePa);
}

/** The same pressure read two ways at one time: one of them lies. */
function sensorAgainstGauge({ suspects }: Posterior, readings: readonly Reading[]): Contradiction[] {
  const sensor = suspects.find(({ suspect }) => suspect.id === 'rail-sensor')?.probability ?? 0;
  const gauges = readings.filter(({ kind, at }) => kind === 'pressure' && at === 'rail');
  return gauges.flatMap((gauge) => {
    const scan = readings
      .filter(
        ({ kind, at, keyState, faultPresent }) =>
          kind === 'scan' &&
          at === 'actual_pressure' &&
          keyState === gauge.keyState &&
          faultPresent === gauge.faultPresent,
      )
      .at(-1);
    const apart = Math.abs(Number(gauge.value) - Number(scan?.value ?? gauge.value));
    if (!scan || !readsOtherwise(Number(gauge.value), Number(scan.value))) return [];
    const lies =
      sensor > 0.5
        ? ' By all else the sensor is the liar: prove the gauge (bled, right port) and it goes.'
        : ' Prove the gauge first: bled, and on the right port.';
    return [
      {
        readings: [gauge.id, scan.id],
        explanation: `Gauge and scan value differ by ${(apart / 1e3).toFixed(0)} kPa (${gauge.keyState}): one of them lies.${lies}`,
        excuses: ['replace-sensor' as const],
        ...(sensor > 0.9 && { settled: true }),
      },
    ];
  });
}

/** A jumper or a wrong part in the path: whatever was read through it is of another circuit than the vehicle's. */
function wrongParts({ vehicle }: Posterior, readings: readonly Reading[]): Contradiction[] {
  const { stations } = vehicle.profile;
  return stations.flatMap(({ id, kind, name: title }, place) => {
    const seen = readings.filter((reading) => reading.kind === 'visual' && reading.at === id).at(-1);
    if (seen?.value !== 'wrong-part') return [];
    const through = readings.filter(
      (reading) =>
        ['voltage', 'test-light', 'current', 'capture'].includes(reading.kind) &&
        stations.findIndex((station) => station.id === reading.at) >= place,
    );
    const mends = MENDS[kind];
    return [
      {
        readings: [seen.id, ...through.map((reading) => reading.id)],
        wrongPart: id,
        ...(mends && { excuses: [mends] }),
        explanation: `A wrong part or a jumper sits at ${title}. ${WRONG_PARTS[kind] ?? ''}Fit the right one, say that it looks clean, and repeat what was read behind it.`,
      },
    ];
  });
}

const MENDS: Partial<Record<StationKind, Verdict>> = {
  fuse: 'replace-fuse',
  'fusible-link': 'replace-fuse',
  relay: 'replace-relay',
  'cutoff-switch': 'replace-switch',
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

/** A pump that falls short of its pressure by this share isn't merely driven otherwise than the table says. */
const SHORT = 0.88;

/** Command and output that differ by two fold: a table misread is likelier than a module that halves exactly. */
function twofold({ vehicle, tableFold }: Posterior, readings: readonly Reading[]): Contradiction[] {
  const { profile, heldShare } = vehicle;
  const pairs = twofoldPairs(profile, readings);
  if (pairs.length === 0 && tableFold.probability > 0.5) {
    const commands = readings.filter(isCommand);
    return [
      {
        readings: commands.map(({ id }) => id),
        explanation: `What is commanded fits the rest only if it means ${tableFold.fold === 2 ? 'twice' : 'half'} what the table says. Check the table: on some systems a command of 50 % means fully on.`,
      },
    ];
  }
  return pairs.flatMap(({ command, output, fold }) => {
    // A pump that falls short at that duty was really meant to get more.
    const short = readings.some(
      ({ kind, at, keyState, value }) =>
        kind === 'pressure' &&
        at === 'rail' &&
        keyState === output.keyState &&
        Number(value) < SHORT * heldShare * profile.pump.pressurePa,
    );
    if (fold === 0.5 && short) return [];
    return [
      {
        readings: [command.id, output.id],
        explanation: `The output is ${fold === 2 ? 'twice' : 'half'} what the table makes of the command. Before blaming the module check the table: on some systems a command of 50 % means fully on.`,
      },
    ];
  });
}

function absent(readings: readonly Reading[]): Contradiction[] {
  const away = readings.filter(({ faultPresent, kind }) => !faultPresent && kind !== 'visual');
  const isSeen = readings.some(({ faultPresent, isCaught }) => faultPresent || isCaught);
  const none = away.length > 0 && !isSeen;
  if (!none) return [];
  return [
    {
      readings: away.map(({ id }) => id),
      explanation:
        'All of this was read while the fault was absent: it proves nothing about it. Read again when it shows.',
    },
  ];
}
