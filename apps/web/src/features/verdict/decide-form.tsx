import { DECISION_NAMES, VERDICTS, type Diagnosis, type Verdict } from '@jarro/core';
import { useMemo, useState, type FormEvent } from 'react';
import { errorText, useDecideMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';
import { useTheBench } from '../case/bench';
import { CostCard } from './cost-card';

/** Written before the verdict is given. */
interface Words {
  readonly statement: string;
  readonly reason: string;
}
const NOTHING_SAID: Words = { statement: '', reason: '' };

/** Every verdict with the weight of what it condemns, the heaviest first. */
export function DecideForm({ diagnosis }: { diagnosis: Diagnosis }) {
  const { item } = useTheBench();
  const lead = useMay()('override');
  const [chosen, setChosen] = useState<Verdict>();
  const [kept, keep] = useKept<Words>(`verdict/${item.id}`);
  const { statement, reason } = kept ?? NOTHING_SAID;
  const [decide, { error, isLoading }] = useDecideMutation();
  const ordered = useMemo(() => byWeight(diagnosis), [diagnosis]);
  const kind = chosen ?? ordered[0];
  const gate = diagnosis.gate[kind];
  const barred = !gate.allowed;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const request = { caseId: item.id, kind, statement, ...(barred && reason && { overrideReason: reason }) };
    const result = await decide(request);
    if (!('error' in result)) keep(undefined);
  };
  return (
    <form onSubmit={(event) => void submit(event)} className="space-y-4">
      <Choice
        label="What does the evidence say?"
        options={ordered.map((value) => ({ value, label: DECISION_NAMES[value] }))}
        value={kind}
        onChange={setChosen}
      />
      {barred ? (
        <div className="rounded-2xl border border-dashed border-ochre p-4">
          <p className="font-semibold">{`${DECISION_NAMES[kind]}: the evidence doesn’t allow it yet.`}</p>
          <ul className="mt-1 list-disc space-y-1 pl-5">
            {gate.missing.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
          {lead ? (
            <label className="mt-3 block">
              <span className="label">Override as lead, with a reason that stays in the report</span>
              <textarea
                className="input mt-1 py-2"
                rows={2}
                minLength={10}
                maxLength={500}
                value={reason}
                onChange={(event) => keep({ statement, reason: event.target.value })}
              />
            </label>
          ) : (
            <p className="mt-2 text-soft">Only a lead may override this, with a reason that stays in the report.</p>
          )}
        </div>
      ) : (
        <ul className="list-disc space-y-1 rounded-2xl border border-dashed border-mineral p-4 pl-9">
          {gate.proven.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <CostCard key={kind} verdict={kind} diagnosis={diagnosis} />
      <label className="block">
        <span className="label">In a sentence: what, on which evidence</span>
        <textarea
          className="input mt-1 py-2"
          rows={3}
          required
          minLength={3}
          maxLength={1000}
          value={statement}
          onChange={(event) => keep({ statement: event.target.value, reason })}
        />
      </label>
      <ErrorNotice text={errorText(error)} />
      <Button
        type="submit"
        look="rust"
        className="text-lg"
        disabled={isLoading || (barred && (!lead || reason.length < 10))}
      >
        Give the verdict
      </Button>
    </form>
  );
}

function byWeight({ families, gate }: Diagnosis): readonly Verdict[] {
  const weight = (verdict: Verdict) =>
    families
      .filter(({ family }) => (VERDICTS[verdict] as readonly string[]).includes(family))
      .reduce((sum, { probability }) => sum + probability, Number(gate[verdict].allowed));
  return (Object.keys(VERDICTS) as Verdict[]).sort((a, b) => weight(b) - weight(a));
}
