import { caseProfile, describeLink as describe, sentenceOf, type Described, type PressureUnitName } from '@jarro/core';
import type { CaseDetail, EvidenceItem } from '@jarro/api-types';

/** One link of the chain in words and in the reader's units. */
export function describeLink(
  link: EvidenceItem,
  { evidence, captures, intake, system }: CaseDetail,
  unit: PressureUnitName,
): Described {
  return describe(link, { links: evidence, captures, unit, profile: caseProfile(intake, system ?? undefined) });
}

/** The same as one sentence. */
export function linkSentence(link: EvidenceItem, item: CaseDetail, unit: PressureUnitName): string {
  return sentenceOf(describeLink(link, item, unit));
}
