import {
  caseProfile,
  ENTRY_KINDS,
  findMeasure,
  findCaution,
  fitHold,
  FIRST_CHECKS,
  judgeHold,
  NOT_POSSIBLE,
  stageGuide,
  type CaseSystem,
  type EntryKind,
  type HoldRecord,
  type Stage,
  type SweepRecord,
  type VolumeRecord,
} from '@jarro/core';
import type {
  AnalysisValue,
  CaseDetail,
  EvidenceItem,
  EvidenceKind,
  PhotoValue,
  PressureUnitName,
  VerdictValue,
} from '@jarro/api-types';
import { pressureText, shownAs } from '../../app/units';
import { REFERENCE_NAMES, TRUST_NAMES, VERDICT_NAMES } from '../../app/words';
import { BLOCK_NAMES } from '../pressure/hold-words';
import { HELP_NAMES } from '../path/how';
import {
  DUTY_LINES,
  isDutyLine,
  isStationKind,
  keyOf,
  stationOrPlace,
  wordOf,
  type StationKindOfReading,
} from '../path/station-kinds';

/** What may be voided by hand: an intake is saved anew, a verdict reopened, a caution can't be unseen. */
export const VOIDABLE: ReadonlySet<EvidenceKind> = new Set([...ENTRY_KINDS, 'photo', 'capture', 'note']);

interface Described {
  readonly title: string;
  readonly text: string;
}

/** One link of the chain in words and in the reader's units. */
export function describeLink(link: EvidenceItem, item: CaseDetail, unit: PressureUnitName): Described {
  const { kind, at, value } = link;
  if (value === NOT_POSSIBLE) return describeNotPossible(link, item);
  switch (kind) {
    case 'check': {
      const check = FIRST_CHECKS.find((c) => c.at === at);
      const answer = check?.answers.find((a) => a.value === value)?.label ?? String(value);
      return { title: check?.title ?? findMeasure('check', at)?.title ?? at, text: answer };
    }
    case 'hold': {
      if (typeof value === 'string') return { title: 'Hold', text: wordOf(value) };
      const { points, blocked } = value as HoldRecord;
      const result = fitHold({ points });
      const parts = [
        `${points.length} points`,
        blocked !== 'none' && BLOCK_NAMES[blocked].toLowerCase(),
        'fit' in result &&
          (judgeHold(result.fit).standing === 'too-short'
            ? 'too short to tell'
            : `${pressureText(result.fit.ratePaPerMin, unit)} ${unit} a minute`),
      ];
      return { title: 'Hold', text: parts.filter(Boolean).join(', ') };
    }
    case 'volume': {
      const { volumeM3, durationS } = value as VolumeRecord;
      return { title: 'Volume', text: `${(volumeM3 * 1000).toFixed(2)} L in ${durationS.toFixed(0)} s` };
    }
    case 'sweep': {
      const { steps } = value as SweepRecord;
      return { title: 'Duty sweep', text: `${steps.length} step${steps.length === 1 ? '' : 's'}` };
    }
    case 'intake':
      return { title: 'Intake saved', text: '' };
    case 'photo': {
      const { caption, fileName } = value as PhotoValue;
      return { title: 'Photo', text: caption || fileName };
    }
    case 'capture': {
      const capture = item.captures.find(({ id }) => id === link.id);
      return { title: 'Capture', text: capture ? `${capture.label} (${capture.fileName})` : '' };
    }
    case 'analysis': {
      const { label, coreVersion } = value as AnalysisValue;
      return {
        title: 'Capture measured again',
        text: `${label}, by Jarro ${coreVersion}; the earlier result stays on record`,
      };
    }
    case 'verdict': {
      const verdict = value as VerdictValue;
      return { title: VERDICT_NAMES[verdict.kind], text: verdict.statement };
    }
    case 'note':
      return { title: `Note, ${stageGuide(at as Stage).title.toLowerCase()}`, text: String(value) };
    case 'caution':
      return { title: 'Caution seen to', text: findCaution(at)?.name ?? at };
    case 'system': {
      const { name, version } = value as CaseSystem;
      return { title: 'Path chosen', text: version === undefined ? `${name}, shipped` : `${name}, version ${version}` };
    }
    case 'void':
      return {
        title: 'Void',
        text: `of entry ${item.evidence.find(({ id }) => id === at)?.sequence ?? ''}: ${reasonOf(value)}`,
      };
    default:
      return isStationKind(kind) ? describeAtStation(link, kind, item, unit) : describeMeasure(link, unit);
  }
}

/** A question that somebody had no way to answer. */
function describeNotPossible({ kind, at, keyState }: EvidenceItem, { intake, system }: CaseDetail): Described {
  const { stations } = caseProfile(intake, system ?? undefined);
  const place = stations.find(({ id }) => id === at)?.name ?? findMeasure(kind as EntryKind, at)?.title ?? at;
  const check = FIRST_CHECKS.find((c) => c.at === at)?.title;
  const what = isStationKind(kind) ? keyOf(kind).toLowerCase() : kind;
  return { title: check ?? `${place}, ${what}`, text: `not possible here${keyState ? ` (${keyState})` : ''}` };
}

/** First version's names of places that the templates call otherwise. */
const FIRST_NAMES: Readonly<Record<string, string>> = {
  fuse_output: 'Fuse, out',
  relay_output: 'Relay 87',
  switch_output: 'Cut-off, out',
  pump_feed: 'Pump feed',
  pump_ground: 'Ground pin',
};

function describeAtStation(
  link: EvidenceItem,
  kind: StationKindOfReading,
  item: CaseDetail,
  unit: PressureUnitName,
): Described {
  const { at, value, how } = link;
  const { intake, system } = item;
  const { stations } = caseProfile(intake, system ?? undefined);
  const line = kind === 'duty' && isDutyLine(at) ? `Duty, ${DUTY_LINES[at].toLowerCase()}` : undefined;
  const place =
    stationOrPlace(stations, at)?.name ?? FIRST_NAMES[at] ?? (at === 'injector_kick' ? 'Injector kick' : at);
  const title = line ?? (kind === 'voltage' ? place : `${keyOf(kind)}: ${place}`);
  const text = typeof value === 'number' ? describeMeasure(link, unit).text : wordOf(String(value));
  const manner = [
    how?.reference && `from ${REFERENCE_NAMES[how.reference].toLowerCase()}`,
    how?.unloaded && 'plug off',
    how?.helped && HELP_NAMES[how.helped].toLowerCase(),
    how?.boosted !== undefined && (how.boosted ? 'battery helped' : 'battery on its own'),
    how?.commandPercent !== undefined && `commanded ${how.commandPercent} %`,
    how?.trust && `trusted: ${TRUST_NAMES[how.trust].toLowerCase()}`,
  ].filter(Boolean);
  return { title, text: [text, ...manner].join(', ') };
}

function describeMeasure({ kind, at, value }: EvidenceItem, unit: PressureUnitName): Described {
  const measure = findMeasure(kind as Parameters<typeof findMeasure>[0], at);
  const title = measure?.title ?? at;
  if (typeof value !== 'number') return { title, text: String(value) };
  if (!measure) return { title, text: kind === 'voltage' ? `${value.toFixed(2)} V` : String(value) };
  if (measure.value.type !== 'number') return { title, text: String(value) };
  const shown = shownAs(measure.value.unit, at, unit);
  return { title, text: `${shown.text(value)} ${shown.unit}` };
}

function reasonOf(value: unknown): string {
  return typeof value === 'object' && value !== null && 'reason' in value ? String(value.reason) : '';
}
