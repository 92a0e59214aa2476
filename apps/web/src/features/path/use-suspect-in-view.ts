import type { Rung } from '@jarro/core';
import { useEffect, useRef, type RefObject } from 'react';

/** What a station's mark carries that is suspected. */
export const SUSPECT_MARK = 'data-suspect';

/** A row that doesn't fit scrolls to what is suspected first: that is what is looked for. */
export function useSuspectInView<T extends HTMLElement>(rungs: readonly Rung[], isShown = true): RefObject<T | null> {
  const row = useRef<T>(null);
  const suspect = rungs.find(({ standing }) => standing === 'suspect')?.station.id;
  useEffect(() => {
    const mark = row.current?.querySelector(`[${SUSPECT_MARK}]`);
    if (!row.current || !mark) return;
    const away = mark.getBoundingClientRect().left - row.current.getBoundingClientRect().left;
    row.current.scrollLeft += away - row.current.clientWidth / 3;
  }, [suspect, isShown]);
  return row;
}
