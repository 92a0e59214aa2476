import { describeEvidence, sentenceOf, type Describable, type Described } from '../evidence/describe.js';
import { findCaution, stageGuide } from '../terms/stage-guides.js';
import type { Stage } from '../terms/stages.js';
import type { PressureUnitName } from '../units/display.js';
import type { CaseSystem } from '../intake/case-system.js';
import { FOUND_NAMES, type Verdict } from '../terms/verdicts.js';
import type { SystemProfile } from '../vehicle/profile.js';
import type { ChainLink } from './chain.js';
import { LEFT_IN, looseEnds, type LeftIn, type LeftInValue, type TakenOutValue } from './loose-ends.js';
import { markText, type RecordMark } from './record-marks.js';
import { removalText, type RemovalValue } from './removal.js';
import { repairPlan, type RepairPlan } from '../verdict/repair-plan.js';
import type { RepairValue } from './repair-record.js';
import { kindOf } from './repair-state.js';

/** The first version had one word for every fault before the pump. */
export const VERDICT_NAMES: Readonly<Record<Verdict | 'repair-supply', string>> = {
  ...FOUND_NAMES,
  'repair-supply': 'Supply side to repair',
};

/** What a link is told among. */
export interface LinkGround {
  readonly links: readonly ChainLink[];
  readonly captures: readonly { readonly id: string; readonly label: string; readonly fileName: string }[];
  readonly unit: PressureUnitName;
  /** The case's path, whose stations the links name. */
  readonly profile: SystemProfile;
}

/** One link of a case's chain in words, in the reader's units. */
export function describeLink(link: ChainLink, ground: LinkGround): Described {
  const around = describeAround(link, ground);
  if (around) return { ...around, moment: '' };
  const { how, ...entry } = link;
  return describeEvidence({ ...entry, ...how } as Describable, ground.profile, ground.unit);
}

/** The same as one sentence. */
export function linkSentence(link: ChainLink, ground: LinkGround): string {
  return sentenceOf(describeLink(link, ground));
}

function describeAround(
  { id, sequence, kind, at, value }: ChainLink,
  { links, captures }: LinkGround,
): { readonly title: string; readonly text: string } | undefined {
  switch (kind) {
    case 'intake':
      return { title: 'Intake', text: 'saved' };
    case 'photo': {
      const { caption, fileName } = value as { readonly caption: string; readonly fileName: string };
      return { title: 'Photo', text: caption || fileName };
    }
    case 'capture': {
      const capture = captures.find((one) => one.id === id);
      return { title: 'Capture', text: capture ? `${capture.label} (${capture.fileName})` : '' };
    }
    case 'analysis': {
      const { label, coreVersion } = value as { readonly label: string; readonly coreVersion: string };
      return {
        title: 'Capture measured again',
        text: `${label}, by Jarro ${coreVersion}; the earlier result stays on record`,
      };
    }
    case 'verdict': {
      const verdict = value as { readonly kind: Verdict | 'repair-supply'; readonly statement: string };
      return { title: VERDICT_NAMES[verdict.kind], text: verdict.statement };
    }
    case 'note':
      return { title: `Note, ${stageGuide(at as Stage).title.toLowerCase()}`, text: String(value) };
    case 'mark': {
      const mark = value as RecordMark;
      const capture = captures.find((one) => one.id === at);
      return {
        title: 'Mark on a record',
        text: `${mark.atS.toFixed(3)} s${capture ? ` of ${capture.label}` : ''}: ${markText(mark)}`,
      };
    }
    case 'caution':
      return { title: 'Caution seen to', text: findCaution(at)?.name ?? at };
    case 'system': {
      const { name, version } = value as CaseSystem;
      return { title: 'Path chosen', text: version === undefined ? `${name}, shipped` : `${name}, version ${version}` };
    }
    case 'repair':
      return describeRepair(at, value as RepairValue, planOf(sequence, links));
    case 'left-in':
      return { title: LEFT_IN[at as LeftIn], text: (value as LeftInValue).what };
    case 'taken-out': {
      const end = looseEnds(links).find((one) => one.id === at);
      return { title: 'Put right', text: `${end?.text ?? at} ${(value as TakenOutValue).how}` };
    }
    case 'reopen':
      return { title: 'Case opened again', text: reasonOf(value) };
    case 'comeback':
      return { title: 'Comeback', text: `of case ${(value as { readonly number: number }).number}` };
    case 'import': {
      const { shop, number } = value as { readonly shop: string; readonly number: number };
      return { title: 'Taken in', text: `from ${shop}, where it was case ${number}` };
    }
    case 'removal':
      return { title: 'Customer data taken out', text: removalText(value as RemovalValue) };
    case 'close':
      return { title: 'Handed back', text: 'with everything on the hand-over list met' };
    case 'void':
      return {
        title: 'Void',
        text: `of entry ${links.find((one) => one.id === at)?.sequence ?? ''}: ${reasonOf(value)}`,
      };
    default:
      return undefined;
  }
}

/** The plan that a repair followed: that of the verdict before it. */
function planOf(sequence: number, links: readonly ChainLink[]): RepairPlan | undefined {
  const verdict = links.findLast((link) => link.kind === 'verdict' && link.sequence < sequence);
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
