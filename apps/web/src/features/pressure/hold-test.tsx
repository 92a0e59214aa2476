import { fitHold, HOLD_BLOCKS, judgeHold, type HoldBlock, type HoldRecord } from '@jarro/core';
import { useState, type FormEvent } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail, PressureUnitName } from '../../app/types';
import { pressureText, readNumber, shownAs, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { standing } from '../case/evidence';
import { HoldCurve } from './hold-curve';
import { useSeconds } from './use-seconds';

export const BLOCK_NAMES: Record<HoldBlock, string> = {
  none: 'Nothing blocked',
  supply: 'Supply line blocked',
  return: 'Return line blocked',
};
const BLOCKS = HOLD_BLOCKS.map((value) => ({ value, label: BLOCK_NAMES[value] }));

/** Leak-down after shut-down: the clock runs here, the needle is read there. */
export function HoldTest({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const [open, setOpen] = useState(false);
  const unit = usePressureUnit();
  const records = standing(item).filter(({ kind }) => kind === 'hold');
  const { hold } = item.sheet;
  return (
    <section aria-label="Hold">
      <div className="flex items-center justify-between">
        <h3 className="text-lg">Hold after shut-down</h3>
        {editable && <Button onClick={() => setOpen(true)}>Time a hold test</Button>}
      </div>
      {hold && (
        <p className="mt-1">
          <span className="text-3xl font-bold">{pressureText(hold.fit.ratePaPerMin, unit)}</span> {unit} a minute
          {hold.fit.halfTimeS !== undefined && (
            <>
              {' · half in '}
              <span className="text-xl font-bold">{timeText(hold.fit.halfTimeS)}</span>
              {hold.fit.extrapolated && ' (beyond the record)'}
            </>
          )}
        </p>
      )}
      {records.length > 0 && <HoldCurve records={records.map(({ value }) => value as HoldRecord)} unit={unit} />}
      {records.length === 0 && (
        <p className="label">
          Pressure after key-off, once a minute or so, with each line blocked in turn if it falls.
        </p>
      )}
      {open && <HoldSheet caseId={item.id} onClose={() => setOpen(false)} />}
    </section>
  );
}

export function timeText(seconds: number): string {
  return seconds < 90 ? `${seconds.toFixed(0)} s` : `${(seconds / 60).toFixed(seconds < 600 ? 1 : 0)} min`;
}

/** Start the clock at key-off; every number typed is stamped with the moment of its Enter. */
function HoldSheet({ caseId, onClose }: { caseId: string; onClose: () => void }) {
  const unit = usePressureUnit();
  const [start, setStart] = useState<number>();
  const [points, setPoints] = useState<readonly (readonly [number, number])[]>([]);
  const [blocked, setBlocked] = useState<HoldBlock>('none');
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string>();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const seconds = useSeconds(start, start !== undefined);
  const stamp = (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(text);
    if (value === undefined) return setProblem(`“${text}” is not a number. Type the gauge’s ${unit}.`);
    setProblem(undefined);
    const now = performance.now();
    const begun = start ?? now;
    setStart(begun);
    setPoints([...points, [(now - begun) / 1000, shownAs('Pa', 'rail', unit).toSi(value)]]);
    setText('');
  };
  const keep = async () => {
    const value: HoldRecord = { points, blocked };
    const result = await addEntry({
      caseId,
      kind: 'hold',
      at: 'rail',
      value,
      keyState: 'after-off',
      faultPresent: true,
    });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet
      title="Hold after shut-down"
      hint="Key off, type what the gauge shows, Enter. Again every half minute or so: each number is timed by its Enter."
      open
      onClose={onClose}
    >
      <form onSubmit={stamp} className="space-y-4">
        <Choice label="Blocked" options={BLOCKS} value={blocked} onChange={setBlocked} />
        <div className="flex items-center gap-4">
          <span className="w-32 text-5xl font-bold">{clock(seconds)}</span>
          <label className="flex flex-1 items-baseline gap-2">
            <span className="sr-only">Pressure now in {unit}</span>
            <input
              autoFocus
              inputMode="decimal"
              value={text}
              onChange={(event) => setText(event.target.value)}
              className="input h-20 text-center text-5xl font-bold"
            />
            <span className="text-2xl">{unit}</span>
          </label>
          <Button type="submit" look="ink" className="h-20 text-lg">
            Enter
          </Button>
        </div>
        {points.length > 0 && <HoldCurve records={[{ points, blocked }]} unit={unit} />}
        <Preview points={points} unit={unit} />
        <ErrorNotice text={problem ?? errorText(error)} />
        <Button
          look="rust"
          className="w-full text-lg"
          onClick={() => void keep()}
          disabled={points.length < 3 || isLoading}
        >
          Keep this test
        </Button>
      </form>
    </Sheet>
  );
}

function Preview({ points, unit }: { points: HoldRecord['points']; unit: PressureUnitName }) {
  const result = fitHold({ points });
  if (!('fit' in result)) return <p className="label">{3 - Math.min(3, points.length)} more until it can be judged.</p>;
  return (
    <p className="font-semibold">
      {pressureText(result.fit.ratePaPerMin, unit)} {unit} a minute. {judgeHold(result.fit).text}
    </p>
  );
}

function clock(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
}
