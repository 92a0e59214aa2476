import type { KeyState } from '@jarro/core';
import { useState, type FormEvent, type ReactNode } from 'react';
import { readNumber } from '../../app/units';
import { BigNumber } from '../../ui/big-number';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { habitual, remember } from '../path/habits';
import { MomentFields } from '../path/moment';
import { useMoment } from '../path/use-moment';
import { Sheet } from '../../ui/sheet';

/** A reading in seconds: type the number, Enter. */
export function NumberSheet({
  caseId,
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
  caseId: string;
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
  const [{ keyState: chosen, faultPresent }, setMoment] = useMoment(caseId, habitual().state);
  const [problem, setProblem] = useState<string>();
  const keyState = states.includes(chosen) ? chosen : states[0];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(text);
    if (value === undefined) return setProblem(`“${text}” is not a number. Type the reading in ${unit}.`);
    setProblem(undefined);
    remember({ state: keyState });
    if (await onKeep(value, keyState, faultPresent)) setText('');
  };
  return (
    <Sheet title={title} {...(hint && { hint })} open onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <BigNumber label={title} unit={unit} value={text} onChange={setText} />
        <MomentFields states={states} moment={{ keyState, faultPresent }} onChange={setMoment} />
        <ErrorNotice text={problem ?? error} />
        <Button type="submit" look="rust" className="w-full text-lg" disabled={busy}>
          Keep this reading
        </Button>
        {children}
      </form>
    </Sheet>
  );
}
