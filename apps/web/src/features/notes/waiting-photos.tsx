import type { PhotoValue } from '@jarro/api-types';
import type { Stage } from '@jarro/core';
import { useEffect, useState } from 'react';
import { useWaiting } from '../../app/outbox';
import { pictureOf } from '../../app/device-pictures';

/** Photos of a stage, a station or an entry that wait on this device until the server can be reached. */
export function WaitingPhotos({
  caseId,
  stage,
  about,
}: {
  caseId: string;
  stage: Stage;
  about?: NonNullable<PhotoValue['about']>;
}) {
  const wanted = JSON.stringify(about);
  const photos = useWaiting().flatMap((letter) => {
    if (!('photo' in letter) || letter.photo.caseId !== caseId) return [];
    const { photo, id } = letter;
    const fits = about ? JSON.stringify(photo.about) === wanted : photo.stage === stage;
    return fits ? [{ id, caption: photo.caption || photo.fileName }] : [];
  });
  if (photos.length === 0) return null;
  return (
    <ul aria-label="Photos that wait on this device" className="grid grid-cols-2 gap-3 sm:grid-cols-3">
      {photos.map(({ id, caption }) => (
        <li key={id}>
          <Picture id={id} caption={caption} />
          <p className="text-[0.93rem]">{caption}</p>
          <p className="label">waits on this device</p>
        </li>
      ))}
    </ul>
  );
}

function Picture({ id, caption }: { id: string; caption: string }) {
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    let made: string | undefined;
    let isWanted = true;
    const show = (picture: Blob | undefined) => {
      if (!picture || !isWanted) return;
      made = URL.createObjectURL(picture);
      setAddress(made);
    };
    pictureOf(id).then(show, (error: unknown) => console.warn('A waiting picture could not be read', error));
    return () => {
      isWanted = false;
      if (made) URL.revokeObjectURL(made);
    };
  }, [id]);
  const look = 'h-36 w-full rounded-xl border border-dashed border-ochre object-cover';
  return address ? <img src={address} alt={caption} className={look} /> : <div className={look} />;
}
