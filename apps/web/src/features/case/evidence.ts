import { ENTRY_KINDS, type CaseEvidence, type Entry, type EntryKind } from '@jarro/core';
import type { CaptureItem, CaseDetail, EvidenceItem, VerdictValue } from '@jarro/api-types';

type WithEvidence = Pick<CaseDetail, 'evidence'>;

/** What still counts, oldest first. */
export function standing({ evidence }: WithEvidence): EvidenceItem[] {
  return evidence.filter(({ voided }) => !voided);
}

/** The standing entries as the core's reasoning reads them. */
export function entriesOf(item: WithEvidence): Entry[] {
  return standing(item).flatMap((link): Entry[] =>
    isEntry(link) && link.keyState
      ? [
          {
            id: link.id,
            kind: link.kind as EntryKind,
            at: link.at,
            value: link.value as Entry['value'],
            keyState: link.keyState,
            faultPresent: link.faultPresent ?? true,
            takenAt: link.takenAt,
            ...link.how,
          },
        ]
      : [],
  );
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

/** Everything of a case that the core reasons on. */
export function evidenceOf(item: CaseDetail): CaseEvidence {
  const { sequence: _, ...intake } = item.intake;
  const captures = standingCaptures(item).flatMap(({ id, analysis, link: { keyState, faultPresent } }) =>
    analysis?.ramp
      ? // The first version's captures don't say: they were of the prime.
        [{ id, ramp: analysis.ramp, keyState: keyState ?? ('prime' as const), faultPresent: faultPresent ?? true }]
      : [],
  );
  return {
    complaint: item.complaint,
    intake,
    ...(item.system && { system: item.system }),
    entries: entriesOf(item),
    captures,
  };
}

/** Verdicts, newest last. */
export function verdictsOf(item: WithEvidence): { readonly link: EvidenceItem; readonly value: VerdictValue }[] {
  return item.evidence.flatMap((link) =>
    link.kind === 'verdict' ? [{ link, value: link.value as VerdictValue }] : [],
  );
}
