import {
  caseProfile,
  describeEvidence,
  findCaution,
  kindOf,
  LEFT_IN,
  looseEnds,
  repairPlan,
  sentenceOf,
  stageGuide,
  type CaseSystem,
  type Describable,
  type Described,
  type LeftIn,
  type LeftInValue,
  type RepairPlan,
  type RepairValue,
  type TakenOutValue,
  type PressureUnitName,
  type Stage,
} from '@jarro/core';
import type { AnalysisValue, CaseDetail, EvidenceItem, PhotoValue, ReopenValue, VerdictValue } from '@jarro/api-types';
import { VERDICT_NAMES } from '../../app/words';

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
  { id, sequence, kind, at, value }: EvidenceItem,
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
    case 'repair':
      return describeRepair(at, value as RepairValue, planOf(sequence, item));
    case 'left-in':
      return { title: LEFT_IN[at as LeftIn], text: (value as LeftInValue).what };
    case 'taken-out': {
      const end = looseEnds(item.evidence).find((one) => one.id === at);
      return { title: 'Put right', text: `${end?.text ?? at} ${(value as TakenOutValue).how}` };
    }
    case 'reopen':
      return { title: 'Case opened again', text: (value as ReopenValue).reason };
    case 'close':
      return { title: 'Handed back', text: 'with everything on the hand-over list met' };
    case 'void':
      return {
        title: 'Void',
        text: `of entry ${item.evidence.find((one) => one.id === at)?.sequence ?? ''}: ${reasonOf(value)}`,
      };
    default:
      return undefined;
  }
}

/** The plan that a repair followed: that of the verdict before it. */
function planOf(sequence: number, { evidence }: CaseDetail): RepairPlan | undefined {
  const verdict = evidence.findLast((link) => link.kind === 'verdict' && link.sequence < sequence);
  return verdict && repairPlan(kindOf(verdict));
}

function describeRepair(at: string, value: RepairValue, plan: RepairPlan | undefined) {
  if ('what' in value) return { title: 'Repair finished', text: value.what };
  if ('name' in value) return { title: 'Part fitted', text: [value.name, value.number].filter(Boolean).join(', ') };
  const text = plan?.steps.find(({ id }) => id === at)?.text ?? at;
  return 'refused' in value
    ? { title: 'Left out of the repair', text: `${text} Because: ${value.refused}` }
    : { title: 'Repair', text: value.said ? `${text} ${value.said}` : text };
}

function reasonOf(value: unknown): string {
  return typeof value === 'object' && value !== null && 'reason' in value ? String(value.reason) : '';
}
