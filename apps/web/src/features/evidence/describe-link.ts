import {
  caseProfile,
  ENTRY_KINDS,
  findMeasure,
  fitHold,
  isBenchKind,
  FIRST_CHECKS,
  stageGuide,
  type BenchKind,
  type HoldRecord,
  type Stage,
  type VolumeRecord,
} from '@jarro/core';
import type {
  CaseDetail,
  EvidenceItem,
  EvidenceKind,
  PhotoValue,
  PressureUnitName,
  VerdictValue,
} from '../../app/types';
import { pressureText, shownAs } from '../../app/units';
import { STATION_NAMES, VERDICT_NAMES } from '../../app/words';

/** What may be voided by hand: an intake is saved anew, a verdict reopened, a caution can't be unseen. */
export const VOIDABLE: ReadonlySet<EvidenceKind> = new Set([...ENTRY_KINDS, 'photo', 'capture', 'note']);

interface Described {
  readonly title: string;
  readonly text: string;
}

const SHEET_CHECKS: Readonly<Record<string, string>> = { gauge_bled: 'Gauge bled', hose_fuel: 'Vacuum hose' };

/** One link of the chain in words and in the reader's units. */
export function describeLink(link: EvidenceItem, item: CaseDetail, unit: PressureUnitName): Described {
  const { kind, at, value } = link;
  switch (kind) {
    case 'check': {
      const check = FIRST_CHECKS.find((c) => c.at === at);
      const answer = check?.answers.find((a) => a.value === value)?.label ?? String(value);
      return { title: check?.title ?? SHEET_CHECKS[at] ?? at, text: answer };
    }
    case 'hold': {
      const result = fitHold(value as HoldRecord);
      const { points } = value as HoldRecord;
      const rate = 'fit' in result ? `${pressureText(result.fit.ratePaPerMin, unit)} ${unit} a minute` : '';
      return { title: 'Hold', text: `${points.length} points, ${rate}` };
    }
    case 'volume': {
      const { volumeM3, durationS } = value as VolumeRecord;
      return { title: 'Volume', text: `${(volumeM3 * 1000).toFixed(2)} L in ${durationS.toFixed(0)} s` };
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
    case 'verdict': {
      const verdict = value as VerdictValue;
      return { title: VERDICT_NAMES[verdict.kind], text: verdict.statement };
    }
    case 'note':
      return { title: `Note, ${stageGuide(at as Stage).title.toLowerCase()}`, text: String(value) };
    case 'caution':
      return { title: 'Caution seen to', text: at.replaceAll('-', ' ') };
    case 'void':
      return {
        title: 'Void',
        text: `of entry ${item.evidence.find(({ id }) => id === at)?.sequence ?? ''}: ${reasonOf(value)}`,
      };
    default:
      return isBenchKind(kind) ? describeBench(kind, at, String(value), item) : describeMeasure(link, unit);
  }
}

const BENCH_NAMES: Readonly<Record<BenchKind, string>> = {
  'test-light': 'Test light',
  heard: 'Heard',
  disturb: 'Moved',
  swap: 'Swapped',
  bridge: 'Bridged 30 to 87',
  'direct-feed': 'Fed directly',
  'module-bypass': 'Module bypassed',
  visual: 'Looked at',
};

function describeBench(kind: BenchKind, at: string, value: string, item: CaseDetail): Described {
  const station = caseProfile(item.intake).stations.find(({ id }) => id === at)?.name ?? at;
  return { title: `${BENCH_NAMES[kind]}: ${station}`, text: value };
}

function describeMeasure({ kind, at, value }: EvidenceItem, unit: PressureUnitName): Described {
  const measure = findMeasure(kind as Parameters<typeof findMeasure>[0], at);
  const station = (STATION_NAMES as Partial<Record<string, string>>)[kind === 'current' ? 'current' : at];
  const title = (kind === 'voltage' || kind === 'current' ? station : undefined) ?? measure?.title ?? at;
  if (!measure || typeof value !== 'number') return { title, text: String(value) };
  const shown = shownAs(measure.unit, at, unit);
  return { title, text: `${shown.text(value)} ${shown.unit}` };
}

function reasonOf(value: unknown): string {
  return typeof value === 'object' && value !== null && 'reason' in value ? String(value.reason) : '';
}
