import {
  ENTRY_KINDS,
  entriesOf as entriesAmong,
  isVoidable,
  phasesOf,
  presentEvidence,
  presentLinks,
  standing as standingAmong,
  takesReadings as takesReadingsNow,
  type CaseEvidence,
  type CaseGround,
  type Entry,
} from '@jarro/core';
import type { CaptureItem, CaseDetail, EvidenceItem, VerdictValue } from '@jarro/api-types';

type WithEvidence = Pick<CaseDetail, 'evidence'>;
type WithStage = Pick<CaseDetail, 'evidence' | 'stage'>;

/** What still counts, oldest first. */
export function standing({ evidence }: WithEvidence): EvidenceItem[] {
  return standingAmong(evidence);
}

/** What was read of the vehicle as it is now, as the core's reasoning reads it: after the repair where there was one. */
export function entriesOf({ evidence, stage }: WithStage): Entry[] {
  return entriesAmong(presentLinks(evidence, stage));
}

/** Whether readings may be added: for the diagnosis, or for the recheck once the repair is done. */
export function takesReadings({ evidence, stage }: WithStage): boolean {
  return takesReadingsNow(evidence, stage);
}

/** Whether the repair is done and its recheck under way. */
export function isRechecked({ evidence, stage }: WithStage): boolean {
  return phasesOf(evidence, stage).done !== undefined;
}

/** Whether somebody may void it now: what a verdict rests on stays until the case is reopened. */
export function mayBeVoided({ evidence, stage }: WithStage, link: EvidenceItem): boolean {
  if (link.voided || !isVoidable(link) || !takesReadingsNow(evidence, stage)) return false;
  const { done } = phasesOf(evidence, stage);
  return done === undefined || link.sequence > done.sequence;
}

export function isEntry({ kind }: EvidenceItem): boolean {
  return (ENTRY_KINDS as readonly string[]).includes(kind);
}

/** A capture with the link that put it into the chain. */
export interface LinkedCapture extends CaptureItem {
  readonly link: EvidenceItem;
}

/** Captures that stand, oldest first. */
export function standingCaptures(item: CaseDetail): LinkedCapture[] {
  return standing(item).flatMap((link) => {
    const capture = link.kind === 'capture' && item.captures.find(({ id }) => id === link.id);
    return capture ? [{ ...capture, link }] : [];
  });
}

/** What the core makes this case's evidence of. */
export function groundOf({ complaint, evidence, captures, goods }: CaseDetail): CaseGround {
  return {
    complaint,
    links: evidence,
    goods,
    measuredOf: (id) => captures.find((one) => one.id === id)?.analysis ?? undefined,
  };
}

/** The vehicle as it is now, as the core reasons on it. */
export function evidenceOf(item: CaseDetail): CaseEvidence {
  return presentEvidence(groundOf(item), item.stage);
}

/** Verdicts, newest last. */
export function verdictsOf(item: WithEvidence): { readonly link: EvidenceItem; readonly value: VerdictValue }[] {
  return item.evidence.flatMap((link) =>
    link.kind === 'verdict' ? [{ link, value: link.value as VerdictValue }] : [],
  );
}

/** The first version's captures don't say: they were of the prime, with the fault showing. */
export function momentOf({ link }: LinkedCapture) {
  return { keyState: link.keyState ?? 'prime', faultPresent: link.faultPresent ?? true } as const;
}
