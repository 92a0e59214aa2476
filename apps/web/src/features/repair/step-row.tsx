import type { Particular, RepairStep } from '@jarro/core';
import { Check, CircleSlash2, ShieldAlert, Square } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { errorText, useAddRepairMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';

/** One particular: a tick, or a reason why it was left out. Its caution stands with it. */
export function StepRow({
  caseId,
  step,
  said,
  editable,
}: {
  caseId: string;
  step: RepairStep;
  said: Particular | undefined;
  editable: boolean;
}) {
  const [addRepair, { error, isLoading }] = useAddRepairMutation();
  const [asking, setAsking] = useState<'value' | 'reason'>();
  const keep = async (value: Particular) => {
    const result = await addRepair({ caseId, at: step.id, value });
    if (!('error' in result)) setAsking(undefined);
  };
  const tick = () => (step.asks === undefined ? void keep({ done: true }) : setAsking('value'));
  return (
    <li aria-label={step.text} className="border-b border-line py-2">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Mark said={said} />
        <div className="min-w-60 flex-1">
          <p className="text-[1.07rem] leading-snug font-semibold">{step.text}</p>
          {step.why && <p className="text-[0.93rem] text-soft">{step.why}</p>}
          {said && 'refused' in said && <p className="text-[0.93rem] text-ochre">Left out: {said.refused}</p>}
          {said && 'said' in said && said.said && <p className="text-[0.93rem]">{said.said}</p>}
        </div>
        {editable && (
          <div className="flex gap-1.5">
            <Button
              look={said && 'done' in said ? 'ink' : 'plain'}
              aria-pressed={said !== undefined && 'done' in said}
              disabled={isLoading}
              onClick={tick}
            >
              Done
            </Button>
            <Button
              aria-pressed={said !== undefined && 'refused' in said}
              disabled={isLoading}
              onClick={() => setAsking('reason')}
            >
              Left out
            </Button>
          </div>
        )}
      </div>
      {step.caution && !said && (
        <p className="mt-1 flex gap-2 border-l-4 border-ochre pl-2 text-[0.93rem]">
          <ShieldAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-ochre" /> {step.caution}
        </p>
      )}
      {asking && (
        <Said
          label={asking === 'value' ? (step.asks ?? '') : 'Why was it left out?'}
          onKeep={(text) => void keep(asking === 'value' ? { done: true, said: text } : { refused: text })}
        />
      )}
      <ErrorNotice text={errorText(error)} />
    </li>
  );
}

function Mark({ said }: { said: Particular | undefined }) {
  if (!said) return <Square aria-label="open" className="size-6 text-soft" />;
  return 'done' in said ? (
    <Check aria-label="done" className="size-6 text-mineral" />
  ) : (
    <CircleSlash2 aria-label="left out" className="size-6 text-ochre" />
  );
}

function Said({ label, onKeep }: { label: string; onKeep: (text: string) => void }) {
  const [text, setText] = useState('');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onKeep(text);
  };
  return (
    <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-2 pl-9">
      <label className="min-w-60 flex-1">
        <span className="label">{label}</span>
        <input
          autoFocus
          required
          minLength={3}
          maxLength={300}
          className="input mt-1"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <Button type="submit" look="ink">
        Keep
      </Button>
    </form>
  );
}
