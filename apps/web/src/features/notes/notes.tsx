import type { Stage } from '@jarro/core';
import type { FormEvent } from 'react';
import { errorText, useAddNoteMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import type { CaseDetail } from '@jarro/api-types';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { mayBeVoided, standing } from '../case/evidence';
import { VoidEntry } from '../case/void-entry';

/** What was done, seen and checked in a stage, in words: dated and sealed. */
export function Notes({ item, stage }: { item: CaseDetail; stage: Stage }) {
  const [kept, keep] = useKept<string>(`note/${item.id}/${stage}`);
  const text = kept ?? '';
  const [addNote, { error, isLoading }] = useAddNoteMutation();
  const notes = standing(item).filter(({ kind, at }) => kind === 'note' && at === stage);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    // It stands above from now on; only a note that was refused comes back to be written again.
    keep(undefined);
    const result = await addNote({ caseId: item.id, stage, text });
    if ('error' in result) keep(text);
  };
  return (
    <section aria-label="Notes" className="space-y-3">
      {notes.map((note) => (
        <article key={note.id} className="border-l-4 border-line pl-3">
          <p className="whitespace-pre-wrap">{String(note.value)}</p>
          <p className="label flex items-center gap-2">
            {note.takenBy}, {when(note.takenAt)}
            {mayBeVoided(item, note) && <VoidEntry caseId={item.id} id={note.id} />}
          </p>
        </article>
      ))}
      {item.stage !== 'closed' && (
        <form onSubmit={(event) => void submit(event)} className="space-y-2">
          <label className="block">
            <span className="label">Write down what was done or seen; it can’t be changed later, only voided</span>
            <textarea
              className="input mt-1 py-2"
              rows={3}
              required
              maxLength={2000}
              readOnly={isLoading}
              value={text}
              onChange={(event) => keep(event.target.value || undefined)}
            />
          </label>
          <ErrorNotice text={errorText(error)} />
          <Button type="submit" look="ink" disabled={isLoading}>
            Keep this note
          </Button>
        </form>
      )}
    </section>
  );
}
