import { ShieldAlert, ShieldCheck } from 'lucide-react';
import type { CaseDetail, VerifiedCase } from '@jarro/api-types';
import { errorText, useLazyVerifyQuery } from '../../app/api';
import { counted, when } from '../../app/words';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';

/** Whether the case is as it was left: by its chain and signature at once, and byte by byte when somebody asks. */
export function SealPanel({ item: { id, seal } }: { item: CaseDetail }) {
  const [verify, { data, isFetching, error }] = useLazyVerifyQuery();
  // What was checked then says nothing of an entry that came in since.
  const verified = isFetching || data?.head !== seal.head ? undefined : data;
  const { intact, problems } = verified ?? seal;
  const Mark = intact ? ShieldCheck : ShieldAlert;
  return (
    <section aria-label="Seal" className="card space-y-2 p-3">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <Mark aria-hidden className={`size-6 shrink-0 ${intact ? 'text-mineral' : 'text-rust'}`} />
        <p className={`min-w-0 grow basis-64 font-semibold ${intact ? 'text-mineral' : 'text-rust'}`}>
          {intact ? intactText(seal.entries, verified) : 'This case was changed outside Jarro. Don’t rely on it.'}
        </p>
        <Button disabled={isFetching} onClick={() => void verify(id)}>
          {isFetching ? 'Reading everything again …' : 'Check files and samples too'}
        </Button>
      </div>
      {problems.length > 0 && (
        <ul className="list-disc pl-6 text-rust">
          {problems.map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
      {verified && verified.notSealed.length > 0 && (
        <ul className="list-disc pl-6 text-soft">
          {verified.notSealed.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <ErrorNotice text={isFetching ? undefined : errorText(error)} />
      <p className="label">
        Newest seal <code>{seal.head.slice(0, 16)}</code>
        {seal.since && `, signed since ${when(seal.since)}`}. Write it down somewhere else, and nobody can replace the
        case.
      </p>
    </section>
  );
}

function intactText(links: number, verified: VerifiedCase | undefined): string {
  const entries = counted(links, 'entry', 'entries');
  if (!verified) return `${entries}, and nothing in them was changed.`;
  const captures = counted(verified.captures, 'capture', 'captures');
  const photos = counted(verified.photos, 'photo', 'photos');
  return `Nothing was changed: ${entries}, ${captures} with file and samples, ${photos}.`;
}
