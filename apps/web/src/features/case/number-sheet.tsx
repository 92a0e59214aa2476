import type { KeyState } from '@jarro/core';
import { useState, type FormEvent, type ReactNode } from 'react';
import { KEY_STATE_NAMES } from '../../app/words';
import { readNumber } from '../../app/units';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { habitual, remember } from '../path/habits';
import { Sheet } from '../../ui/sheet';

const PRESENCE = [
  { value: 'yes', label: 'Fault present' },
  { value: 'no', label: 'Fault absent' },
] as const;

/** A reading in seconds: type the number, Enter. */
export function NumberSheet({
  title,
  hint,
  unit,
  states,
  error,
  busy,
  onKeep,
  onClose,
  children,
}: {
  title: string;
  hint?: string | undefined;
  unit: string;
  /** Key states in which this can be read; a single one is not asked for. */
  states: readonly KeyState[];
  error: string | undefined;
  busy: boolean;
  /** @returns whether it was kept, so that the field is emptied for the next */
  onKeep: (value: number, keyState: KeyState, faultPresent: boolean) => Promise<boolean>;
  onClose: () => void;
  children?: ReactNode;
}) {
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState(habitual().state);
  const [present, setPresent] = useState<'yes' | 'no'>('yes');
  const [problem, setProblem] = useState<string>();
  const keyState = states.includes(chosen) ? chosen : states[0];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(text);
    if (value === undefined) return setProblem(`“${text}” is not a number. Type the reading in ${unit}.`);
    setProblem(undefined);
    remember({ state: keyState });
    if (await onKeep(value, keyState, present === 'yes')) setText('');
  };
  return (
    <Sheet title={title} {...(hint && { hint })} open onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <label className="block">
          <span className="sr-only">
            {title} in {unit}
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
        {states.length > 1 && (
          <Choice
            label="Key"
            options={states.map((value) => ({ value, label: KEY_STATE_NAMES[value] }))}
            value={keyState}
            onChange={setChosen}
          />
        )}
        <Choice label="At that moment" options={PRESENCE} value={present} onChange={setPresent} />
        <ErrorNotice text={problem ?? error} />
        <Button type="submit" look="rust" className="w-full text-lg" disabled={busy}>
          Keep this reading
        </Button>
        {children}
      </form>
    </Sheet>
  );
}
