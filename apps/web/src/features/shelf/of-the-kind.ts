import type { CaseDetail, ShelfItem } from '@jarro/api-types';

/** The shelf's standing known-goods of a case's system, or of the same kind of system where it has none of the shop's own. */
export function ofTheKind(shelf: readonly ShelfItem[], { system, intake }: CaseDetail): readonly ShelfItem[] {
  const standing = shelf.filter(({ retired }) => !retired);
  if (system?.line !== undefined) return standing.filter(({ systemLine }) => systemLine === system.line);
  return intake.system === 'unknown' ? [] : standing.filter(({ systemKind }) => systemKind === intake.system);
}
