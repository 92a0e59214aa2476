import { useEffect, useState } from 'react';

/** Seconds since a moment of `Date.now()`, about ten times a second while running. */
export function useSeconds(start: number | undefined, running: boolean): number {
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (!running) return;
    const tick = setInterval(() => setNow(Date.now()), 100);
    return () => clearInterval(tick);
  }, [running, start]);
  return start === undefined ? 0 : Math.max(0, (now - start) / 1000);
}
