import {
  caseProfile,
  ENTRY_KINDS,
  EMPTY_INTAKE,
  type CaseSystem,
  type Entry,
  type EntryKind,
  type EntryValue,
  type Intake,
  type SystemProfile,
} from '@jarro/core';
import type { EvidenceRecord } from './evidence.entities.js';

/** The links that void others, by the id of what they void. */
export function voidsOf(links: readonly EvidenceRecord[]): ReadonlyMap<string, EvidenceRecord> {
  return new Map(links.filter(({ kind }) => kind === 'void').map((link) => [link.at, link]));
}

/** What still counts, oldest first. */
export function standing(links: readonly EvidenceRecord[]): EvidenceRecord[] {
  const voids = voidsOf(links);
  return links.filter(({ id }) => !voids.has(id));
}

/** The standing links that the reasoning reads. */
export function entriesOf(links: readonly EvidenceRecord[]): Entry[] {
  return standing(links).flatMap(({ id, kind, at, value, keyState, faultPresent, how, takenAt }): Entry[] =>
    (ENTRY_KINDS as readonly string[]).includes(kind) && keyState
      ? [
          {
            id,
            kind: kind as EntryKind,
            at,
            value: value as EntryValue,
            keyState,
            faultPresent: faultPresent ?? true,
            takenAt: takenAt.toISOString(),
            ...how,
          },
        ]
      : [],
  );
}

/** The case's path, as its links say it. @param links with those that choose systems, save intakes and void */
export function profileOf(links: readonly EvidenceRecord[]): SystemProfile {
  const chosen = standing(links).filter(({ kind }) => kind === 'system');
  return caseProfile(newestIntake(links).intake, chosen.at(-1)?.value as CaseSystem | undefined);
}

export interface SavedIntake {
  readonly intake: Intake;
  /** Its place in the chain; 0 when nothing was saved yet. */
  readonly sequence: number;
}

export function newestIntake(links: readonly EvidenceRecord[]): SavedIntake {
  const newest = links.filter(({ kind }) => kind === 'intake').at(-1);
  return newest ? { intake: newest.value as Intake, sequence: newest.sequence } : { intake: EMPTY_INTAKE, sequence: 0 };
}
