import { fitHold, judgeHold } from '../measure/pressure/hold.js';
import type { HoldBlock, HoldRecord } from '../measure/pressure/hold-record.js';
import type { KeyState } from '../terms/key-states.js';
import { KEY_STATE_NAMES, REFERENCE_NAMES, TRUST_NAMES } from '../terms/words.js';
import { pressureText, shownAs, type PressureUnitName } from '../units/display.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { NOT_POSSIBLE } from './entry.js';
import { FIRST_CHECKS } from './first-checks.js';
import { RECHECK_CHECKS } from './recheck-checks.js';
import type { Helped, HowTaken } from './how-taken.js';
import type { ReadingKind } from './reading.js';
import type { SweepRecord } from '../measure/pulses/sweep-record.js';
import type { CaptureResult, SoakRecord, VolumeRecord } from './records.js';
import { EVIDENCE, findMeasure, MEASURES } from './registry.js';

/** A reading, or an entry of a case, as far as words are made of it. */
export interface Describable extends HowTaken {
  readonly kind: ReadingKind;
  readonly at: string;
  readonly value: unknown;
  readonly keyState?: KeyState | null;
  readonly faultPresent?: boolean | null;
}

/** One piece of evidence in words. */
export interface Described {
  /** Where or of what: "Relay 87". */
  readonly title: string;
  /** What was found, and how, as far as not in the usual way: "11.17 V against battery −". */
  readonly text: string;
  /** When it was found: "prime, fault present"; empty where nobody said. */
  readonly moment: string;
}

/** What was blocked in a hold test, in words. */
export const BLOCK_NAMES: Readonly<Record<HoldBlock, string>> = {
  none: 'Nothing blocked',
  supply: 'Supply line blocked',
  return: 'Return line blocked',
};

/** How a circuit was helped while it was read, in words. */
export const HELP_NAMES: Readonly<Record<Helped, string>> = {
  bridged: 'Relay bridged',
  fed: 'Pump fed directly',
  'module-bypassed': 'Module passed by',
};

/** A driver module's lines that carry a duty. */
export const DUTY_LINE_NAMES = { output: 'Given out', command: 'Asked, at its pin', feedback: 'Answered' } as const;

const CHECKS = [...FIRST_CHECKS, ...RECHECK_CHECKS];

/** Names of places that no station has: those of the first version, and some beside the path. */
const PLACE_NAMES: Readonly<Record<string, string>> = {
  fuse_output: 'Fuse, out',
  relay_output: 'Relay 87',
  switch_output: 'Cut-off, out',
  pump_feed: 'Pump feed',
  pump_ground: 'Ground pin',
  injector_kick: 'Injector kick',
  lift_pump: 'Lift pump',
};

/** Words for one piece of evidence, the same on screen, in a report and at the command line. */
export function describeEvidence(entry: Describable, profile: SystemProfile, unit: PressureUnitName): Described {
  const { keyState, faultPresent } = entry;
  const moment = [
    keyState && KEY_STATE_NAMES[keyState].toLowerCase(),
    typeof faultPresent === 'boolean' && `fault ${faultPresent ? 'present' : 'absent'}`,
  ];
  const title = titleOf(entry, profile);
  const found = entry.value === NOT_POSSIBLE ? 'not possible here' : `${foundOf(entry, unit)}${againstOf(entry)}`;
  const text = [found, ...mannerOf(entry)].filter(Boolean).join(', ');
  return { title, text, moment: moment.filter(Boolean).join(', ') };
}

/** The same as one sentence: "Relay 87: 11.17 V against battery −, prime, fault present". */
export function sentenceOf({ title, text, moment }: Described): string {
  return `${title}: ${[text, moment].filter(Boolean).join(', ')}`;
}

function titleOf({ kind, at, value }: Describable, { stations }: SystemProfile): string {
  if (kind === 'check') return CHECKS.find((check) => check.at === at)?.title ?? measureOf(kind, at)?.title ?? at;
  if (kind === 'capture') return 'Capture';
  if (typeof value === 'object' || kind === 'hold') return EVIDENCE[kind].key;
  if (kind === 'duty' && Object.hasOwn(DUTY_LINE_NAMES, at)) {
    return `Duty, ${DUTY_LINE_NAMES[at as keyof typeof DUTY_LINE_NAMES].toLowerCase()}`;
  }
  const station = stations.find(({ id }) => id === at)?.name;
  const place =
    station ?? PLACE_NAMES[at] ?? measureOf(kind, at)?.title ?? MEASURES.find((one) => one.at === at)?.title ?? at;
  const says = kind === 'voltage' || station === undefined;
  return says ? place : `${EVIDENCE[kind].key}: ${place}`;
}

function foundOf(entry: Describable, unit: PressureUnitName): string {
  const { kind, at, value } = entry;
  switch (kind) {
    case 'check':
      return CHECKS.find((c) => c.at === at)?.answers.find((a) => a.value === value)?.label ?? String(value);
    case 'hold':
      return typeof value === 'string' ? words(value) : holdText(value as HoldRecord, unit);
    case 'volume': {
      const { volumeM3, durationS } = value as VolumeRecord;
      return `${(volumeM3 * 1000).toFixed(2)} L in ${durationS.toFixed(0)} s`;
    }
    case 'sweep': {
      const { steps } = value as SweepRecord;
      return `${steps.length} step${steps.length === 1 ? '' : 's'}`;
    }
    case 'soak': {
      const { minutes, drops } = value as SoakRecord;
      return `${minutes} minutes, ${drops === 0 ? 'no drop' : drops === 1 ? 'one drop' : `${drops} drops`}`;
    }
    case 'capture':
      return captureText(value as CaptureResult);
    default:
      return typeof value === 'number' ? numberText(kind, at, value, unit) : words(String(value));
  }
}

function numberText(kind: ReadingKind, at: string, value: number, unit: PressureUnitName): string {
  const measure = measureOf(kind, at);
  if (measure?.value.type !== 'number') return kind === 'voltage' ? `${value.toFixed(2)} V` : String(value);
  const shown = shownAs(measure.value.unit, at, unit);
  return `${shown.text(value)} ${shown.unit}`;
}

function holdText({ points, blocked }: HoldRecord, unit: PressureUnitName): string {
  const result = fitHold({ points });
  const rate =
    'fit' in result &&
    (judgeHold(result.fit).standing === 'too-short'
      ? 'too short to tell'
      : `${pressureText(result.fit.ratePaPerMin, unit)} ${unit} a minute`);
  return [`${points.length} points`, blocked !== 'none' && BLOCK_NAMES[blocked].toLowerCase(), rate]
    .filter(Boolean)
    .join(', ');
}

function captureText({ meanA, ripplePercent, rpm, pattern }: CaptureResult): string {
  const parts = [
    meanA !== undefined && `${meanA.toFixed(2)} A`,
    ripplePercent !== undefined && `ripple ${ripplePercent.toFixed(0)} %`,
    rpm !== undefined && `${rpm.toFixed(0)} rpm`,
    pattern !== undefined && words(pattern),
  ];
  return parts.filter(Boolean).join(', ');
}

/** A voltage always says against what. */
function againstOf({ kind, value, reference }: Describable): string {
  const against = reference ?? (kind === 'voltage' && typeof value === 'number' ? 'battery-' : undefined);
  return against ? ` against ${REFERENCE_NAMES[against].toLowerCase()}` : '';
}

/** How it was taken, as far as it isn't the usual way. */
function mannerOf({
  unloaded,
  helped,
  boosted,
  pierced,
  commandPercent,
  trust,
}: Describable): (string | false | undefined)[] {
  return [
    unloaded && 'plug off',
    helped && HELP_NAMES[helped].toLowerCase(),
    boosted !== undefined && (boosted ? 'battery helped' : 'battery on its own'),
    pierced && 'insulation pierced',
    commandPercent !== undefined && `commanded ${commandPercent} %`,
    trust && trust !== 'normal' && `trusted: ${TRUST_NAMES[trust].toLowerCase()}`,
  ];
}

function measureOf(kind: ReadingKind, at: string) {
  return kind === 'capture' ? undefined : findMeasure(kind, at);
}

function words(answer: string): string {
  return answer.replaceAll('-', ' ');
}
