import type { CaseDetail, PhotoValue } from '@jarro/api-types';
import { TAKEN_AWAY } from '@jarro/core';
import { UserX } from 'lucide-react';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { errorText, useRemoveDataMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet, SheetKeep } from '../../ui/sheet';

interface Asked {
  plate: boolean;
  words: string;
  photos: string[];
  reason: string;
}

/** What a customer asked to be taken out goes for good; the case still verifies. For leads. */
export function TakeOut({ item }: { item: CaseDetail }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>
        <UserX aria-hidden className="size-5" /> Take customer data out
      </Button>
      <Sheet
        title="Take customer data out"
        hint="It goes for good: from the case, the board, reports and every file made of it from now on. What was measured stays, and the seal still shows any other change."
        open={open}
        onClose={() => setOpen(false)}
      >
        {open && <TakeOutForm item={item} onDone={() => setOpen(false)} />}
      </Sheet>
    </>
  );
}

function TakeOutForm({ item, onDone }: { item: CaseDetail; onDone: () => void }) {
  const [remove, { error, isLoading }] = useRemoveDataMutation();
  const written = item.vehicle?.plate ?? '';
  const { register, handleSubmit, control } = useForm<Asked>({
    defaultValues: { plate: written !== '', words: '', photos: [], reason: '' },
  });
  const [plate, words, photos] = useWatch({ control, name: ['plate', 'words', 'photos'] });
  const named = namesOf(words);
  const isNothing = !plate && named.length === 0 && photos.length === 0;
  const pictures = item.evidence.filter(
    ({ kind, value }) => kind === 'photo' && (value as PhotoValue).fileName !== TAKEN_AWAY,
  );
  const submit = handleSubmit(async ({ reason, ...asked }) => {
    const result = await remove({ caseId: item.id, ...asked, words: named, reason });
    if (!('error' in result)) onDone();
  });
  return (
    <form className="space-y-4" onSubmit={(event) => void submit(event)}>
      {written !== '' && (
        <label className="flex min-h-11 items-center gap-3">
          <input type="checkbox" className="size-5" {...register('plate')} />
          <span>
            The plate, <strong>{written}</strong>, wherever it is written
          </span>
        </label>
      )}
      <label className="block">
        <span className="label">Names and other words, a comma between them</span>
        <input className="input mt-1" maxLength={600} autoComplete="off" {...register('words')} />
        <span className="label mt-1 block">
          Whole words, whatever their case, in the complaint, notes, intake, captions and file names.
        </span>
      </label>
      {pictures.length > 0 && (
        <fieldset>
          <legend className="label mb-1">Photos</legend>
          <ul className="grid grid-cols-3 gap-2">
            {pictures.map(({ id, value }) => (
              <li key={id}>
                <label className="block rounded-xl border border-line p-1 has-checked:border-rust">
                  <img
                    src={`/api/photos/${id}/thumbnail`}
                    alt={(value as PhotoValue).caption || (value as PhotoValue).fileName}
                    className="h-24 w-full rounded-lg object-cover"
                  />
                  <span className="mt-1 flex min-h-8 items-center gap-2 text-[0.93rem]">
                    <input type="checkbox" className="size-5" value={id} {...register('photos')} />
                    {(value as PhotoValue).caption || 'Photo'}
                  </span>
                </label>
              </li>
            ))}
          </ul>
        </fieldset>
      )}
      <label className="block">
        <span className="label">Why (it stays on record, so without the name)</span>
        <input
          className="input mt-1"
          required
          minLength={3}
          maxLength={300}
          placeholder="Asked for by letter, 3 May"
          {...register('reason')}
        />
      </label>
      <p className="text-[0.93rem] text-soft">
        Not reached: files and backups made before, and what a scope wrote into its own file. Delete those where they
        are kept.
      </p>
      <ErrorNotice text={errorText(error)} />
      <SheetKeep>
        <Button type="submit" look="rust" disabled={isLoading || isNothing}>
          {isLoading ? 'Taking it out …' : 'Take it out for good'}
        </Button>
      </SheetKeep>
    </form>
  );
}

function namesOf(words: string): string[] {
  return words
    .split(',')
    .map((word) => word.trim())
    .filter((word) => word.length >= 2);
}
