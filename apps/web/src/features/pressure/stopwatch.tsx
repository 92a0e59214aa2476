import { useState } from 'react';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { useSeconds } from './use-seconds';

/** Whoever forgot the second press starts over. */
const LONGEST_S = 600;

/** One large button, pressed twice; space or Enter do as well. */
export function Stopwatch({
  title,
  hint,
  begin,
  end,
  error,
  busy = false,
  onKeep,
  onClose,
}: {
  title: string;
  hint: string;
  /** What to press it at. */
  begin: string;
  end: string;
  error?: string | undefined;
  busy?: boolean;
  onKeep: (seconds: number) => void;
  onClose: () => void;
}) {
  const [start, setStart] = useState<number>();
  const [stopped, setStopped] = useState<number>();
  const ticking = start !== undefined && stopped === undefined;
  const seconds = useSeconds(start, ticking);
  const running = ticking && seconds < LONGEST_S;
  const press = () => {
    if (!running) {
      setStopped(undefined);
      setStart(Date.now());
    } else setStopped((Date.now() - (start ?? 0)) / 1000);
  };
  return (
    <Sheet title={title} hint={hint} open onClose={onClose}>
      <div className="space-y-4 text-center">
        <div className="text-8xl font-bold">
          {(stopped ?? seconds).toFixed(1)} <span className="text-3xl font-normal text-soft">s</span>
        </div>
        <button
          type="button"
          autoFocus
          onClick={press}
          className={`min-h-32 w-full rounded-2xl text-3xl font-bold ${running ? 'bg-rust text-on-rust' : 'bg-enamel text-on-enamel'}`}
        >
          {running ? end : start === undefined ? begin : 'Once more'}
        </button>
        <ErrorNotice text={error} />
        {stopped !== undefined && (
          <Button
            look="rust"
            className="w-full text-lg"
            onClick={() => onKeep(Math.round(stopped * 10) / 10)}
            disabled={busy}
          >
            Keep this time
          </Button>
        )}
      </div>
    </Sheet>
  );
}
