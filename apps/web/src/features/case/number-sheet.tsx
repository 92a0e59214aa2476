import { type EntryValue, type HowTaken, type KeyState, type Shown } from '@jarro/core';
import { useState, type FormEvent, type ReactNode } from 'react';
import { readNumber } from '../../app/units';
import { BigNumber } from '../../ui/big-number';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useHabits } from '../path/habits';
import { howTaken, USUAL_WAY } from '../path/how';
import { HowFields } from '../path/how-fields';
import { MomentFields, type Moment } from '../path/moment';
import { wordOf } from '../path/station-kinds';
import { useMoment } from '../path/use-moment';
import { Sheet, SheetKeep } from '../../ui/sheet';

/** A reading in seconds: type the number, Enter. */
export function NumberSheet({
  caseId,
  title,
  hint,
  shown,
  states,
  words,
  driven,
  error,
  busy,
  onKeep,
  onClose,
  children,
}: {
  caseId: string;
  title: string;
  hint?: string | undefined;
  shown: Shown;
  /** Key states in which this can be read; a single one is not asked for. */
  states: readonly KeyState[];
  error: string | undefined;
  busy: boolean;
  /** What may be pressed in place of a number. */
  words: readonly string[];
  /** The path has a driver module. */
  driven: boolean;
  /** @returns whether it was kept, so that the field is emptied for the next */
  onKeep: (value: EntryValue, moment: Moment, how: HowTaken) => Promise<boolean>;
  onClose: () => void;
  children?: ReactNode;
}) {
  const [text, setText] = useState('');
  const [habits, remember] = useHabits();
  const [{ keyState: chosen, faultPresent }, setMoment] = useMoment(caseId, habits.state);
  const [how, setHow] = useState(USUAL_WAY);
  const [problem, setProblem] = useState<string>();
  const keyState = states.includes(chosen) ? chosen : states[0];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(text);
    if (value === undefined) return setProblem(`“${text}” is not a number. Type the reading in ${shown.unit}.`);
    setProblem(undefined);
    await keep(shown.toSi(value));
  };
  const keep = async (value: EntryValue) => {
    remember({ state: keyState });
    if (await onKeep(value, { keyState, faultPresent }, howTaken(how))) setText('');
  };
  return (
    <Sheet title={title} {...(hint && { hint })} open onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <BigNumber label={title} unit={shown.unit} value={text} onChange={setText} />
        <MomentFields states={states} moment={{ keyState, faultPresent }} onChange={setMoment} />
        {words.length > 0 && (
          <div className="flex flex-wrap items-center gap-2">
            <span className="label">Without a number:</span>
            {words.map((word) => (
              <Button key={word} className="capitalize" disabled={busy} onClick={() => void keep(word)}>
                {wordOf(word)}
              </Button>
            ))}
          </div>
        )}
        <HowFields how={how} onChange={setHow} driven={driven} connector={false} />
        <ErrorNotice text={problem ?? error} />
        {children}
        <SheetKeep>
          <Button type="submit" look="rust" className="w-full text-lg" disabled={busy}>
            Keep this reading
          </Button>
        </SheetKeep>
      </form>
    </Sheet>
  );
}
