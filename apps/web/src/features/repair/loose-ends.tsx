import { LEFT_IN, looseEnds, type LeftIn, type LooseEnd } from '@jarro/core';
import { Check, Plus, TriangleAlert } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { errorText, useLeaveInMutation, useTakeOutMutation } from '../../app/api';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Choice, optionsOf } from '../../ui/choice';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { useMay } from '../session/use-may';

/** What must not leave the shop in this vehicle: bridges, borrowed parts, wrong fuses, pierced wires. */
export function LooseEnds({ item }: { item: CaseDetail }) {
  const ends = looseEnds(item.evidence);
  const editable = useMay()('measure') && item.stage !== 'closed';
  const [adding, setAdding] = useState(false);
  if (ends.length === 0 && !editable) return null;
  return (
    <section aria-label="Left in the vehicle" className="space-y-1">
      <div className="flex flex-wrap items-center gap-3">
        <h3 className="mr-auto text-xl">Left in the vehicle</h3>
        {editable && (
          <Button onClick={() => setAdding(true)}>
            <Plus aria-hidden className="size-5" /> Something stays in for a while
          </Button>
        )}
      </div>
      {ends.length === 0 && <p className="text-soft">Nothing: no bridge, no borrowed part, no pierced wire.</p>}
      <ul>
        {ends.map((end) => (
          <EndRow key={end.id} caseId={item.id} end={end} editable={editable} />
        ))}
      </ul>
      {adding && <LeaveIn caseId={item.id} onClose={() => setAdding(false)} />}
    </section>
  );
}

function EndRow({ caseId, end, editable }: { caseId: string; end: LooseEnd; editable: boolean }) {
  const [takeOut, { error, isLoading }] = useTakeOutMutation();
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-line py-2">
      {end.closed ? (
        <Check aria-label="put right" className="size-5 text-mineral" />
      ) : (
        <TriangleAlert aria-label="still in" className="size-5 text-rust" />
      )}
      <span className="min-w-52 flex-1">
        {end.text} {end.closed && <span className="text-mineral">{end.ends}</span>}
      </span>
      {editable && !end.closed && (
        <Button
          look="ink"
          disabled={isLoading}
          aria-label={`${end.text} ${end.ends}`}
          onClick={() => void takeOut({ caseId, at: end.id, how: end.ends })}
        >
          {end.ends.replace(/\.$/, '')}
        </Button>
      )}
      <ErrorNotice text={errorText(error)} />
    </li>
  );
}

function LeaveIn({ caseId, onClose }: { caseId: string; onClose: () => void }) {
  const [at, setAt] = useState<LeftIn>('loaned-part');
  const [what, setWhat] = useState('');
  const [leaveIn, { error, isLoading }] = useLeaveInMutation();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const result = await leaveIn({ caseId, at, what });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet title="Something stays in" hint="The case can’t be closed while it is in." open onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <Choice label="What is it?" options={optionsOf(LEFT_IN)} value={at} onChange={setAt} />
        <Field
          label="Which one, and where"
          autoFocus
          required
          minLength={3}
          maxLength={300}
          value={what}
          onChange={(event) => setWhat(event.target.value)}
        />
        <ErrorNotice text={errorText(error)} />
        <Button type="submit" look="rust" disabled={isLoading}>
          Write it down
        </Button>
      </form>
    </Sheet>
  );
}
