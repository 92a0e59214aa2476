import { useState, type FormEvent } from 'react';
import { errorText, useDecideMutation, useReopenMutation } from '../../app/api';
import type { CaseDetail, VerdictKind } from '../../app/types';
import { VERDICT_NAMES, when } from '../../app/words';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';
import { verdictsOf } from './evidence';

const KINDS: readonly { value: VerdictKind; label: string }[] = [
  { value: 'no-fault-found', label: 'Clear the pump' },
  { value: 'repair-supply', label: 'Repair the supply side' },
  { value: 'repair-ground', label: 'Repair the ground side' },
  { value: 'replace-pump', label: 'Condemn the pump' },
];

export function VerdictPanel({ item }: { item: CaseDetail }) {
  const [reopen, { isLoading }] = useReopenMutation();
  const may = useMay();
  return (
    <div className="space-y-5">
      <h2 className="text-xl">Verdict</h2>
      {!may('decide') ? (
        <p className="text-soft">Technicians and leads give the verdict.</p>
      ) : item.stage === 'open' ? (
        <DecideForm item={item} />
      ) : (
        <Button onClick={() => void reopen({ caseId: item.id })} disabled={isLoading}>
          Reopen the case
        </Button>
      )}
      {verdictsOf(item)
        .reverse()
        .map(({ link, value: verdict }) => (
          <article key={link.id} className="border-t-2 border-ink pt-2">
            <h3 className="text-lg">{VERDICT_NAMES[verdict.kind]}</h3>
            <p>{verdict.statement}</p>
            {verdict.overrideReason && (
              <p className="mt-1 font-semibold text-rust">Against the gate, by a lead: {verdict.overrideReason}</p>
            )}
            <p className="label mt-1">
              {link.takenBy}, {when(link.takenAt)}
            </p>
          </article>
        ))}
    </div>
  );
}

function DecideForm({ item }: { item: CaseDetail }) {
  const lead = useMay()('override');
  const [kind, setKind] = useState<VerdictKind>('no-fault-found');
  const [statement, setStatement] = useState('');
  const [reason, setReason] = useState('');
  const [decide, { error, isLoading }] = useDecideMutation();
  const barred = kind === 'replace-pump' && !item.gate.allowed;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void decide({ caseId: item.id, kind, statement, ...(barred && reason && { overrideReason: reason }) });
  };
  return (
    <form onSubmit={submit} className="space-y-4">
      <Choice label="What does the evidence say?" options={KINDS} value={kind} onChange={setKind} />
      {barred && (
        <div className="rounded-2xl border border-dashed border-ochre p-4">
          <p className="font-semibold">The pump may not be condemned yet:</p>
          <ul className="mt-1 list-disc space-y-1 pl-5">
            {item.gate.proofs
              .filter((proof) => !proof.met)
              .map((proof) => (
                <li key={proof.text}>{proof.text}</li>
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
                onChange={(event) => setReason(event.target.value)}
              />
            </label>
          ) : (
            <p className="mt-2 text-soft">Only a lead may override this, with a reason that stays in the report.</p>
          )}
        </div>
      )}
      <label className="block">
        <span className="label">In a sentence: what, on which evidence</span>
        <textarea
          className="input mt-1 py-2"
          rows={3}
          required
          minLength={3}
          maxLength={1000}
          value={statement}
          onChange={(event) => setStatement(event.target.value)}
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
