import { checkCase, linksOfFile, type CaseFile, type Reading } from '@jarro/core';
import { BadRequestException, Injectable } from '@nestjs/common';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { CasesService } from '../cases/cases.service.js';
import { BundleError } from './bundle.js';

const LONGEST_NAME = 120;
const LONGEST_COMPLAINT = 500;
/** Of what is wrong with a file only the first are named. */
const MOST_PROBLEMS = 12;

@Injectable()
export class CaseFileService {
  constructor(
    private readonly access: CaseAccess,
    private readonly cases: CasesService,
    private readonly audit: AuditService,
  ) {}

  /**
   * Opens a new case from what a case file says: its path and its readings, weighed by this shop's own rules. What it can't
   * bring in is named in a note.
   * @throws BundleError for what is no JSON; BadRequestException naming every field that is wrong; nothing is stored then
   */
  async open(me: SignedIn, text: string): Promise<{ id: string }> {
    const { system, complaint, ...file } = read(text);
    const { links, left } = linksOfFile({ ...file, system, complaint });
    const { id } = await this.cases.open(me, {
      model: system.name.slice(0, LONGEST_NAME),
      engine: '',
      plate: '',
      complaint: complaint.slice(0, LONGEST_COMPLAINT) || 'As the case file has it',
    });
    await this.access.write(me, id, 'diagnosis', async ({ manager, append }) => {
      for (const link of links) await append({ ...link, takenBy: me.user.id });
      await append({ kind: 'note', at: 'intake', value: noteOf(file.readings, left), takenBy: me.user.id });
      await this.audit.note(me, 'case.from-file', id, manager);
    });
    return { id };
  }
}

function read(text: string): CaseFile {
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    throw new BundleError('it is no zip and no JSON.');
  }
  const checked = checkCase(content);
  if ('case' in checked) return checked.case;
  const problems = checked.problems.map(({ field, message }) => (field ? `${field}: ${message}` : message));
  throw new BadRequestException({
    message: ['This case file can’t be opened; nothing was stored.', ...problems.slice(0, MOST_PROBLEMS)],
  });
}

function noteOf(readings: readonly Reading[], left: readonly Reading[]): string {
  const taken = readings.length - left.length;
  const opened = `Opened from a case file with ${taken === 1 ? 'one reading' : `${taken} readings`}. They were taken by whoever wrote the file, and when isn't said.`;
  if (left.length === 0) return opened;
  const names = left.map(({ kind, id }) => `${kind} “${id}”`).join(', ');
  return `${opened} Left out, since its samples are not in the file: ${names}. Add the capture itself.`;
}
