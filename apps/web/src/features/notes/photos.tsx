import { TAKEN_AWAY, type Stage } from '@jarro/core';
import { Camera } from 'lucide-react';
import { useId, useState } from 'react';
import { errorText, useAddPhotoMutation, useMeQuery } from '../../app/api';
import type { CaseDetail, EvidenceItem, PhotoValue } from '@jarro/api-types';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { standing } from '../case/evidence';
import { WaitingPhotos } from './waiting-photos';

export type About = NonNullable<PhotoValue['about']>;

/** The standing photos of one station or entry. */
export function photosOf(item: CaseDetail, about: About): EvidenceItem[] {
  const wanted = JSON.stringify(about);
  return picturesOf(item).filter(({ value }) => JSON.stringify((value as PhotoValue).about) === wanted);
}

/** Photos that stand and whose picture wasn't taken out on request. */
export function picturesOf(item: CaseDetail): EvidenceItem[] {
  return standing(item).filter(({ kind, value }) => kind === 'photo' && (value as PhotoValue).fileName !== TAKEN_AWAY);
}

/** Photos of a stage, or of one station or entry. "Take a picture so nobody can say it wasn't so." */
export function Photos({ item, stage, about }: { item: CaseDetail; stage: Stage; about?: About }) {
  const input = useId();
  const [caption, setCaption] = useState('');
  const [problem, setProblem] = useState<string>();
  const { data: me } = useMeQuery();
  const [addPhoto, { error, isLoading }] = useAddPhotoMutation();
  const photos = about ? photosOf(item, about) : picturesOf(item).filter(({ at }) => at === stage);
  const take = async (file: File) => {
    const limit = me?.photoLimitBytes ?? Infinity;
    const large = file.size > limit;
    const mib = (bytes: number) => Math.floor(bytes / 1024 / 1024);
    setProblem(
      large
        ? `${file.name} is ${mib(file.size)} MiB, over the limit of ${mib(limit)} MiB. Take it at a lower resolution.`
        : undefined,
    );
    if (large) return;
    const photo = { caseId: item.id, fileName: file.name, caption, stage, ...(about && { about }) };
    const result = await addPhoto({ photo, picture: file });
    if (!('error' in result)) setCaption('');
  };
  return (
    <section aria-label="Photos" className="space-y-3">
      {photos.length > 0 && (
        <ul className="grid grid-cols-2 gap-3 sm:grid-cols-3">
          {photos.map((photo) => {
            const value = photo.value as PhotoValue;
            return (
              <li key={photo.id}>
                <a href={`/api/photos/${photo.id}`} target="_blank" rel="noreferrer">
                  <img
                    src={`/api/photos/${photo.id}/thumbnail`}
                    alt={value.caption || value.fileName}
                    className="h-36 w-full rounded-xl border border-line object-cover"
                  />
                </a>
                <p className="text-[0.93rem]">{value.caption}</p>
                <p className="label">
                  {photo.takenBy}, {when(photo.takenAt)}
                  {me?.user.role === 'lead' && (
                    <>
                      {' · '}
                      <a className="underline" href={`/api/photos/${photo.id}/original`}>
                        original
                      </a>
                    </>
                  )}
                </p>
              </li>
            );
          })}
        </ul>
      )}
      <WaitingPhotos caseId={item.id} stage={stage} {...(about && { about })} />
      <ErrorNotice text={problem ?? errorText(error)} />
      {item.stage !== 'closed' && (
        <div className="flex flex-wrap items-end gap-2">
          <label className="block min-w-56 flex-1">
            <span className="label">What does the picture show?</span>
            <input
              className="input mt-1"
              maxLength={200}
              value={caption}
              onChange={(event) => setCaption(event.target.value)}
            />
          </label>
          <input
            id={input}
            type="file"
            accept="image/*"
            className="sr-only"
            aria-label="Photo file"
            tabIndex={-1}
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void take(file);
              event.target.value = '';
            }}
          />
          <Button onClick={() => document.getElementById(input)?.click()} disabled={isLoading}>
            <Camera aria-hidden className="size-5" /> {isLoading ? 'Sending …' : 'Add a photo'}
          </Button>
        </div>
      )}
    </section>
  );
}
