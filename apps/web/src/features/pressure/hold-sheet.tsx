import { findNumber, fitHold, type HoldBlock, type HoldRecord, judgeHold, pressureText, shownAs } from '@jarro/core';
import { Undo2 } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import type { PressureUnitName } from '@jarro/api-types';
import { readNumber, usePressureUnit } from '../../app/units';
import { BigNumber } from '../../ui/big-number';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { useTheBench } from '../case/bench';
import { useFaultShows } from '../case/fault-slice';
import { HoldCurve } from './hold-curve';
import { BLOCKS, clockText } from './hold-words';
import { useSeconds } from './use-seconds';

/** A hold test that is under way; it goes on while other work is done. */
export interface RunningHold {
  /** Key-off, ms since the epoch; undefined until then. */
  readonly begunAt?: number;
  readonly points: HoldRecord['points'];
  readonly blocked: HoldBlock;
}

const NOT_BEGUN: RunningHold = { points: [], blocked: 'none' };
const GAUGE = findNumber('pressure', 'rail')?.value;

/** The clock runs here, the needle is read there: every number typed is stamped with the moment of its Enter. */
export function HoldSheet({ caseId, onClose }: { caseId: string; onClose: () => void }) {
  const unit = usePressureUnit();
  const { rules } = useTheBench();
  const [kept, keepRunning] = useKept<RunningHold>(`hold/${caseId}`);
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string>();
  const [faultPresent] = useFaultShows(caseId);
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const running = kept ?? NOT_BEGUN;
  const { begunAt, points, blocked } = running;
  const seconds = useSeconds(begunAt, begunAt !== undefined);
  const begin = () => {
    setProblem(undefined);
    keepRunning({ ...running, begunAt: Date.now() });
  };
  const stamp = (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(text);
    if (value === undefined) return setProblem(`“${text}” is not a number. Type the gauge’s ${unit}.`);
    const pascal = shownAs('Pa', 'rail', unit).toSi(value);
    if (GAUGE && (pascal < GAUGE.least || pascal > GAUGE.most)) return setProblem(GAUGE.beyond);
    setProblem(undefined);
    const now = Date.now();
    const since = begunAt ?? now;
    keepRunning({ ...running, begunAt: since, points: [...points, [(now - since) / 1000, pascal]] });
    setText('');
  };
  const end = () => {
    keepRunning(undefined);
    onClose();
  };
  const keep = async () => {
    const value: HoldRecord = { points, blocked };
    const entry = { kind: 'hold', at: 'rail', value, keyState: 'after-off', faultPresent } as const;
    const result = await addEntry({ caseId, ...entry });
    if (!('error' in result)) end();
  };
  return (
    <Sheet
      title="Hold after shut-down"
      hint="Press at key-off, then type what the gauge shows every half minute or so, Enter: each number is timed by its Enter. It goes on while this sheet is closed."
      open
      onClose={onClose}
    >
      <form onSubmit={stamp} className="space-y-4">
        <Choice
          label="Blocked"
          options={BLOCKS}
          value={blocked}
          onChange={(next) => keepRunning({ ...running, blocked: next })}
        />
        <div className="flex items-center gap-4">
          {begunAt === undefined ? (
            <Button look="ink" className="h-24 w-32 text-xl" onClick={begin}>
              Key off
            </Button>
          ) : (
            <span className="w-32 text-5xl font-bold">{clockText(seconds)}</span>
          )}
          <div className="flex-1">
            <BigNumber label="Pressure now" unit={unit} value={text} onChange={setText} />
          </div>
          <Button type="submit" look="ink" className="h-24 text-lg">
            Enter
          </Button>
        </div>
        <ErrorNotice text={problem ?? errorText(error)} />
        {points.length > 0 && <HoldCurve records={[{ points, blocked }]} unit={unit} />}
        <div className="flex flex-wrap items-center justify-between gap-2">
          <Preview points={points} unit={unit} mostPaPerMin={rules.holdLossPaPerMin} />
          {points.length > 0 && (
            <Button onClick={() => keepRunning({ ...running, points: points.slice(0, -1) })}>
              <Undo2 aria-hidden className="size-5" /> Take the last one out
            </Button>
          )}
        </div>
        <div className="flex gap-3">
          {begunAt !== undefined && <Button onClick={end}>Drop this test</Button>}
          <Button
            look="rust"
            className="flex-1 text-lg"
            onClick={() => void keep()}
            disabled={points.length < 3 || isLoading}
          >
            Keep this test
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

function Preview({
  points,
  unit,
  mostPaPerMin,
}: {
  points: HoldRecord['points'];
  unit: PressureUnitName;
  mostPaPerMin: number;
}) {
  const result = fitHold({ points });
  if (!('fit' in result)) return <p className="label">{3 - Math.min(3, points.length)} more until it can be judged.</p>;
  const { standing, text } = judgeHold(result.fit, mostPaPerMin);
  const rate = standing === 'too-short' ? '' : `${pressureText(result.fit.ratePaPerMin, unit)} ${unit} a minute. `;
  return (
    <p className="min-w-60 flex-1 font-semibold">
      {rate}
      {text}
    </p>
  );
}
