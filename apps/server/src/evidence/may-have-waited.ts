import { ConflictException } from '@nestjs/common';
import { Type } from 'class-transformer';
import { IsNumber, IsUUID, Max, Min } from 'class-validator';
import type { EntityManager } from 'typeorm';
import { Maybe } from '../http/maybe.js';
import { EvidenceRecord } from './evidence.entities.js';

/** Entries wait on a device for days at most. */
const LONGEST_WAIT_S = 14 * 86_400;

/** What may have waited on a device until the server could be reached. */
export class MayHaveWaited {
  /** Chosen by the device, so that an entry that is sent again isn't kept twice. */
  @Maybe()
  @IsUUID(4)
  id?: string;

  /** How long ago it was made, where it waited on the device: its clock may be wrong, its stopwatch isn't. */
  @Maybe()
  @Type(() => Number)
  @IsNumber()
  @Min(0)
  @Max(LONGEST_WAIT_S, { message: 'This entry waited for more than two weeks. Make it again.' })
  secondsAgo?: number;
}

/** When it was made; undefined for just now. */
export function timeOf({ secondsAgo }: MayHaveWaited): Date | undefined {
  return secondsAgo === undefined ? undefined : new Date(Date.now() - 1000 * secondsAgo);
}

/**
 * Whether it was sent before and is kept already: its answer got lost on the way.
 * @throws ConflictException when the id belongs to something else
 */
export async function hasArrived(
  manager: EntityManager,
  caseId: string,
  { id, kind, at }: Pick<MayHaveWaited, 'id'> & { readonly kind: string; readonly at: string },
): Promise<boolean> {
  if (id === undefined) return false;
  const known = await manager.getRepository(EvidenceRecord).findOneBy({ id });
  if (known && (known.caseId !== caseId || known.kind !== kind || known.at !== at)) {
    throw new ConflictException('Another entry has this id already. Make it again.');
  }
  return known !== null;
}
