import { ENTRY_KINDS, LOADED_STATES, type Entry, type EntryKind, type LadderStation } from '@jarro/core';
import type { CaptureItem, CaseDetail, EvidenceItem, VerdictValue } from '../../app/types';

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
          },
        ]
      : [],
  );
}

export function isEntry({ kind }: EvidenceItem): boolean {
  return (ENTRY_KINDS as readonly string[]).includes(kind);
}

/** The newest standing loaded voltage of each station, with the fault present. */
export function newestLoaded(item: WithEvidence): Partial<Record<LadderStation, number>> {
  const volts: Partial<Record<LadderStation, number>> = {};
  for (const { kind, at, value, keyState, faultPresent } of entriesOf(item)) {
    if (kind !== 'voltage' || !faultPresent || !LOADED_STATES.has(keyState)) continue;
    volts[at as LadderStation] = Number(value);
  }
  return volts;
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

/** Verdicts, newest last. */
export function verdictsOf(item: WithEvidence): { readonly link: EvidenceItem; readonly value: VerdictValue }[] {
  return item.evidence.flatMap((link) =>
    link.kind === 'verdict' ? [{ link, value: link.value as VerdictValue }] : [],
  );
}
