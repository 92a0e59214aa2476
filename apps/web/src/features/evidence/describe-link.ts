import {
  caseProfile,
  describeEvidence,
  ENTRY_KINDS,
  findCaution,
  sentenceOf,
  stageGuide,
  type CaseSystem,
  type Describable,
  type Described,
  type PressureUnitName,
  type Stage,
} from '@jarro/core';
import type { AnalysisValue, CaseDetail, EvidenceItem, EvidenceKind, PhotoValue, VerdictValue } from '@jarro/api-types';
import { VERDICT_NAMES } from '../../app/words';

/** What may be voided by hand: an intake is saved anew, a verdict reopened, a caution can't be unseen. */
export const VOIDABLE: ReadonlySet<EvidenceKind> = new Set([...ENTRY_KINDS, 'photo', 'capture', 'note']);

/** One link of the chain in words and in the reader's units: what was found by the core, what happens around it here. */
export function describeLink(link: EvidenceItem, item: CaseDetail, unit: PressureUnitName): Described {
  const around = describeAround(link, item);
  if (around) return { ...around, moment: '' };
  const { how, ...entry } = link;
  const profile = caseProfile(item.intake, item.system ?? undefined);
  return describeEvidence({ ...entry, ...how } as Describable, profile, unit);
}

/** The same as one sentence. */
export function linkSentence(link: EvidenceItem, item: CaseDetail, unit: PressureUnitName): string {
  return sentenceOf(describeLink(link, item, unit));
}

function describeAround(
  { id, kind, at, value }: EvidenceItem,
  item: CaseDetail,
): { readonly title: string; readonly text: string } | undefined {
  switch (kind) {
    case 'intake':
      return { title: 'Intake', text: 'saved' };
    case 'photo': {
      const { caption, fileName } = value as PhotoValue;
      return { title: 'Photo', text: caption || fileName };
    }
    case 'capture': {
      const capture = item.captures.find((one) => one.id === id);
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
        text: `of entry ${item.evidence.find((one) => one.id === at)?.sequence ?? ''}: ${reasonOf(value)}`,
      };
    default:
      return undefined;
  }
}

function reasonOf(value: unknown): string {
  return typeof value === 'object' && value !== null && 'reason' in value ? String(value.reason) : '';
}
