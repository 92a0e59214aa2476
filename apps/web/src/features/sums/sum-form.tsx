import { InputError, type Sum, type SumField, type SumResult } from '@jarro/core';
import { useState } from 'react';
import { errorText, useAddNoteMutation } from '../../app/api';
import { readNumber } from '../../app/units';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';

/** One sum: numbers in, the answer large, worked out as it is typed. */
export function SumForm({ sum, caseId }: { sum: Sum; caseId: string | undefined }) {
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>(() => usual(sum));
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>(() => firstChoices(sum));
  const [addNote, { error, isLoading, isSuccess, reset }] = useAddNoteMutation();
  const { results, problem } = work(sum, typed, chosen);
  const [answer, ...others] = results;
  const keep = () => {
    if (!caseId || !answer) return;
    void addNote({ caseId, stage: 'power-path', text: noteOf(sum, typed, chosen, results) });
  };
  const change = (set: () => void) => {
    set();
    reset();
  };
  return (
    <section aria-label={sum.title} className="space-y-4">
      <div className="grid grid-cols-2 gap-3">
        {sum.fields.map((field, i) => (
          <Number
            key={field.id}
            field={field}
            autoFocus={i === 0}
            text={typed[field.id] ?? ''}
            unit={chosen[field.id]}
            onText={(text) => change(() => setTyped({ ...typed, [field.id]: text }))}
            onUnit={(unit) => change(() => setChosen({ ...chosen, [field.id]: unit }))}
          />
        ))}
      </div>
      <ErrorNotice text={problem} />
      <output aria-live="polite" className="block min-h-32 rounded-2xl bg-enamel p-4 text-on-enamel">
        {answer ? (
          <>
            <span className="opacity-80">{answer.label}</span>
            <span className="block text-3xl leading-tight font-bold">{answer.text}</span>
            {others.map(({ label, text }) => (
              <span key={label} className="mt-1 block">
                {label}: <span className="font-semibold">{text}</span>
              </span>
            ))}
          </>
        ) : (
          <span className="opacity-80">Fill in what you have; the rest follows.</span>
        )}
      </output>
      <p className="text-[0.93rem]">
        {sum.formula}
        <span className="label block">After: {sum.source}</span>
      </p>
      {caseId && (
        <Button look="ink" className="w-full" onClick={keep} disabled={!answer || isLoading || isSuccess}>
          {isSuccess ? 'Kept in the case' : 'Keep in the case, with its formula'}
        </Button>
      )}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}

function Number({
  field: { id, label, unit, choices },
  text,
  unit: chosen,
  autoFocus,
  onText,
  onUnit,
}: {
  field: SumField;
  text: string;
  unit: string | undefined;
  autoFocus: boolean;
  onText: (text: string) => void;
  onUnit: (unit: string) => void;
}) {
  return (
    <div>
      <label className="label" htmlFor={`sum-${id}`}>
        {label}
      </label>
      <span className="mt-1 flex items-center gap-2">
        <input
          id={`sum-${id}`}
          className="input min-w-0 text-2xl font-bold"
          inputMode="decimal"
          autoFocus={autoFocus}
          value={text}
          onChange={(event) => onText(event.target.value)}
        />
        {choices ? (
          <select
            aria-label={`Unit of ${label}`}
            className="input w-24 shrink-0"
            value={chosen}
            onChange={(event) => onUnit(event.target.value)}
          >
            {choices.map((choice) => (
              <option key={choice}>{choice}</option>
            ))}
          </select>
        ) : (
          <span className="w-10 shrink-0">{unit}</span>
        )}
      </span>
    </div>
  );
}

function usual({ fields }: Sum): Record<string, string> {
  return Object.fromEntries(fields.map(({ id, usual: value }) => [id, value === undefined ? '' : String(value)]));
}

function firstChoices({ fields }: Sum): Record<string, string> {
  return Object.fromEntries(fields.map(({ id, choices }) => [id, choices?.[0] ?? '']));
}

function work(
  sum: Sum,
  typed: Readonly<Record<string, string>>,
  chosen: Readonly<Record<string, string>>,
): { results: readonly SumResult[]; problem?: string } {
  const wrong = sum.fields.find(({ id }) => typed[id]?.trim() && readNumber(typed[id]) === undefined);
  if (wrong) return { results: [], problem: `${wrong.label}: “${typed[wrong.id]}” is not a number.` };
  const numbers = Object.fromEntries(sum.fields.map(({ id }) => [id, readNumber(typed[id] ?? '')]));
  try {
    return { results: sum.work({ numbers, chosen }) };
  } catch (error) {
    if (error instanceof InputError) return { results: [], problem: error.message };
    throw error;
  }
}

/** The sum in words, so that anyone can work it out again. */
function noteOf(
  { title, fields, formula }: Sum,
  typed: Readonly<Record<string, string>>,
  chosen: Readonly<Record<string, string>>,
  results: readonly SumResult[],
): string {
  const given = fields
    .filter(({ id }) => typed[id]?.trim())
    .map(({ id, label, unit }) => `${label} ${typed[id]} ${chosen[id] || unit}`.trim());
  const found = results.map(({ label, text }) => `${label} ${text}`);
  return `Sum, ${title.toLowerCase()}: ${given.join(', ')}. ${found.join('; ')}. By ${formula}.`;
}
