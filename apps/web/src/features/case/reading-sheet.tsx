import { useState, type FormEvent } from 'react';
import { errorText, useAddReadingMutation } from '../../app/api';
import type { KeyState, ReadingKind } from '../../app/types';
import { KEY_STATE_NAMES, STATION_NAMES } from '../../app/words';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';

const KINDS = Object.keys(STATION_NAMES) as ReadingKind[];
const STATES = (Object.keys(KEY_STATE_NAMES) as KeyState[]).map((value) => ({ value, label: KEY_STATE_NAMES[value] }));
const PRESENCE = [
  { value: 'yes', label: 'Fault present' },
  { value: 'no', label: 'Fault absent' },
] as const;

/** The key state stays from reading to reading: people measure down the path in one state. */
let lastState: KeyState = 'prime';

/** A reading in seconds: type the number, Enter; the next station comes up by itself. */
export function ReadingSheet({
  caseId,
  kind,
  onKind,
  onClose,
}: {
  caseId: string;
  kind: ReadingKind;
  onKind: (kind: ReadingKind) => void;
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const [keyState, setKeyState] = useState(lastState);
  const [present, setPresent] = useState<'yes' | 'no'>('yes');
  const [problem, setProblem] = useState<string>();
  const [addReading, { error, isLoading }] = useAddReadingMutation();
  const unit = kind === 'current' ? 'A' : 'V';
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const value = Number(text.trim().replace(',', '.'));
    if (!text.trim() || !Number.isFinite(value))
      return setProblem(`“${text}” is not a number. Type the reading in ${unit}.`);
    setProblem(undefined);
    lastState = keyState;
    const result = await addReading({ caseId, kind, value, keyState, faultPresent: present === 'yes' });
    if ('error' in result) return;
    setText('');
    const next = KINDS[KINDS.indexOf(kind) + 1];
    if (next && next !== 'current') onKind(next);
    else onClose();
  };
  return (
    <Sheet
      title={STATION_NAMES[kind]}
      hint={
        kind === 'current'
          ? 'By a clamp or meter, pump running.'
          : 'From battery −, by a long lead, with the pump running.'
      }
      open
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <label className="block">
          <span className="sr-only">
            {STATION_NAMES[kind]} in {unit}
          </span>
          <span className="flex items-baseline gap-3">
            <input
              autoFocus
              inputMode="decimal"
              value={text}
              onChange={(event) => setText(event.target.value)}
              className="input h-24 text-center text-6xl font-bold"
            />
            <span className="text-3xl">{unit}</span>
          </span>
        </label>
        <Choice label="Key" options={STATES} value={keyState} onChange={setKeyState} />
        <Choice label="At that moment" options={PRESENCE} value={present} onChange={setPresent} />
        <ErrorNotice text={problem ?? errorText(error)} />
        <Button type="submit" look="rust" className="w-full text-lg" disabled={isLoading}>
          Keep this reading
        </Button>
        <p className="label">
          Back-probe, don’t pierce. No open flame or sparks near fuel vapour; keep clear of moving and hot parts. Pump
          supply is on battery power: a slipped probe can short it.
        </p>
      </form>
    </Sheet>
  );
}
