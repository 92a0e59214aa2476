import { createStore, del, get, set } from 'idb-keyval';

// Pictures that wait to be sent: far too large for the storage of drafts, so they lie in the browser's database.

interface Picture {
  readonly bytes: ArrayBuffer;
  readonly type: string;
}

const store = createStore('jarro-pictures-1', 'waiting');

/**
 * Keeps a picture on this device, under its letter's id.
 * @throws where the browser has no room for it, or none at all
 */
export async function keepPicture(id: string, picture: Blob): Promise<void> {
  const kept: Picture = { bytes: await picture.arrayBuffer(), type: picture.type };
  await set(id, kept, store);
}

/** @returns undefined where it isn't there: the browser was cleared meanwhile */
export async function pictureOf(id: string): Promise<Blob | undefined> {
  const kept = await get<Picture>(id, store);
  return kept && new Blob([kept.bytes], { type: kept.type });
}

/** It arrived, or was given up. */
export function forgetPicture(id: string): Promise<void> {
  return del(id, store);
}
