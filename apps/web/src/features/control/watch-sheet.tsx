import {
  judgeWatch,
  WATCH_MARKS,
  watchLine,
  type KeyState,
  type Seen,
  type Watched,
  type WatchMark,
} from '@jarro/core';
import { Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { errorText, useAddEntryMutation, useAddNoteMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet, SheetKeep } from '../../ui/sheet';
import { useFaultShows } from '../case/fault-slice';
import { useSeconds } from '../pressure/use-seconds';

/** A watch that runs, over a change of stage and a reload. */
export interface RunningWatch {
  readonly begunAt: number;
  readonly marks: readonly Seen[];
  readonly watched: Watched;
  /** How long it lasted, s; absent while it runs. */
  readonly lastedS?: number;
}

const KEYS: Readonly<Record<WatchMark, { readonly name: string; readonly key: string }>> = {
  voltage: { name: 'Volts gone', key: 'v' },
  pressure: { name: 'Pressure falling', key: 'p' },
  engine: { name: 'Engine died', key: 'e' },
  back: { name: 'Came back', key: 'b' },
  disturbed: { name: 'Disturbed', key: 'd' },
};

/** For one or two people at a meter and a gauge: a large key for each thing seen, and what their order means. */
export function WatchSheet({ caseId, keyState, onClose }: { caseId: string; keyState: KeyState; onClose: () => void }) {
  const [running, setRunning] = useKept<RunningWatch>(`watch/${caseId}`);
  const [watched, setWatched] = useState<Watched>({ voltage: true, pressure: true });
  const [faultPresent] = useFaultShows(caseId);
  const [addEntry, entryResult] = useAddEntryMutation();
  const [addNote, noteResult] = useAddNoteMutation();
  const ticking = running !== undefined && running.lastedS === undefined;
  const seconds = useSeconds(running?.begunAt, ticking);
  const lastedS = running?.lastedS ?? seconds;
  const keep = async () => {
    if (!running) return;
    const { fell, says } = judgeWatch(running.marks, running.watched, lastedS);
    const order = running.marks.length > 0 ? ` Seen: ${watchLine(running.marks)}.` : '';
    if (fell) {
      const result = await addEntry({ caseId, kind: 'fell-first', at: 'stall', value: fell, keyState, faultPresent });
      if ('error' in result) return;
    }
    const result = await addNote({ caseId, stage: 'control', text: `Watched: ${says}${order}` });
    if ('error' in result) return;
    setRunning(undefined);
    onClose();
  };
  return (
    <Sheet
      title="Watch for it"
      hint="A meter at the pump’s feed, a gauge at the rail. Press at the moment you see it; keys v, p, e, b and d do as well."
      open
      onClose={onClose}
    >
      {running ? (
        <Watching
          running={running}
          ticking={ticking}
          lastedS={lastedS}
          onChange={setRunning}
          error={errorText(entryResult.error ?? noteResult.error)}
          busy={entryResult.isLoading || noteResult.isLoading}
          onKeep={() => void keep()}
        />
      ) : (
        <Begin
          watched={watched}
          onChange={setWatched}
          onBegin={() => setRunning({ begunAt: Date.now(), marks: [], watched })}
        />
      )}
    </Sheet>
  );
}

function Begin({
  watched,
  onChange,
  onBegin,
}: {
  readonly watched: Watched;
  readonly onChange: (watched: Watched) => void;
  readonly onBegin: () => void;
}) {
  return (
    <div className="space-y-4">
      <div role="group" aria-label="Watched" className="grid grid-cols-2 gap-3">
        {(['voltage', 'pressure'] as const).map((what) => (
          <Button
            key={what}
            look={watched[what] ? 'ink' : 'plain'}
            aria-pressed={watched[what]}
            className="min-h-16 text-lg"
            onClick={() => onChange({ ...watched, [what]: !watched[what] })}
          >
            {what === 'voltage' ? 'Volts are watched' : 'Pressure is watched'}
          </Button>
        ))}
      </div>
      <Button look="rust" autoFocus className="min-h-24 w-full text-2xl" onClick={onBegin}>
        Begin
      </Button>
    </div>
  );
}

function Watching({
  running,
  ticking,
  lastedS,
  error,
  busy,
  onChange,
  onKeep,
}: {
  readonly running: RunningWatch;
  readonly ticking: boolean;
  readonly lastedS: number;
  readonly error: string | undefined;
  readonly busy: boolean;
  readonly onChange: (running: RunningWatch | undefined) => void;
  readonly onKeep: () => void;
}) {
  const [what, setWhat] = useState('');
  const { begunAt, marks, watched } = running;
  const press = (mark: WatchMark) => {
    const atS = (Date.now() - begunAt) / 1000;
    const seen = { mark, atS, ...(mark === 'disturbed' && what.trim() && { what: what.trim() }) };
    onChange({ ...running, marks: [...marks, seen] });
  };
  const allowed = (mark: WatchMark) => (mark !== 'voltage' && mark !== 'pressure') || watched[mark];
  useEffect(() => {
    if (!ticking) return;
    const pressed = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.repeat || event.ctrlKey || event.metaKey) return;
      const mark = WATCH_MARKS.find((one) => KEYS[one].key === event.key.toLowerCase());
      if (mark && allowed(mark)) press(mark);
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  });
  return (
    <div className="space-y-4">
      <p className="text-center text-7xl font-bold">
        {clock(lastedS)} <span className="text-3xl font-normal text-soft">min</span>
      </p>
      {ticking ? (
        <>
          <div className="grid grid-cols-2 gap-3">
            {WATCH_MARKS.filter((mark) => mark !== 'disturbed').map((mark) => (
              <Button
                key={mark}
                look={mark === 'back' ? 'plain' : 'ink'}
                disabled={!allowed(mark)}
                className="min-h-24 text-2xl"
                onClick={() => press(mark)}
              >
                {KEYS[mark].name}
              </Button>
            ))}
          </div>
          <div className="grid grid-cols-[1fr_auto] items-end gap-3">
            <label className="block">
              <span className="label">What is disturbed</span>
              <input
                className="input mt-1"
                maxLength={80}
                placeholder="plug wiggled, heat on the relay"
                value={what}
                onChange={(event) => setWhat(event.target.value)}
              />
            </label>
            <Button className="min-h-16 text-lg" onClick={() => press('disturbed')}>
              {KEYS.disturbed.name}
            </Button>
          </div>
        </>
      ) : (
        <p role="status" className="text-2xl font-bold">
          {judgeWatch(marks, watched, lastedS).says}
        </p>
      )}
      {marks.length > 0 && (
        <p className="flex items-center gap-2">
          <span className="grow">{watchLine(marks)}</span>
          {ticking && (
            <Button look="bare" onClick={() => onChange({ ...running, marks: marks.slice(0, -1) })}>
              <Undo2 aria-hidden className="size-5" /> Take the last back
            </Button>
          )}
        </p>
      )}
      <ErrorNotice text={error} />
      <SheetKeep>
        {ticking ? (
          <Button look="rust" className="min-h-14 w-full text-lg" onClick={() => onChange({ ...running, lastedS })}>
            Stop watching
          </Button>
        ) : (
          <div className="flex gap-3">
            <Button look="rust" className="min-h-14 grow text-lg" disabled={busy} onClick={onKeep}>
              Keep what was seen
            </Button>
            <Button className="min-h-14" onClick={() => onChange(undefined)}>
              Discard
            </Button>
          </div>
        )}
      </SheetKeep>
    </div>
  );
}

function clock(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${Math.floor(seconds % 60)
    .toString()
    .padStart(2, '0')}`;
}
