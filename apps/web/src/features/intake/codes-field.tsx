import { readTroubleCode, suggestCodes } from '@jarro/core';
import { X } from 'lucide-react';
import { useState } from 'react';
import { useController, useFormContext } from 'react-hook-form';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { UNFINISHED, type IntakeForm } from './intake-form';

/** Trouble codes by their standard's names, typed or chosen. */
export function CodesField() {
  const { control } = useFormContext<IntakeForm>();
  const { field: kept } = useController({ control, name: 'intake.codes' });
  const { field: typing } = useController({ control, name: 'typed.code', rules: { validate: UNFINISHED.code } });
  const codes = kept.value;
  const text = typing.value;
  const [problem, setProblem] = useState<string>();
  const suggestions = suggestCodes(text).filter(({ code }) => !codes.includes(code));
  const add = (typed: string) => {
    const code = readTroubleCode(typed);
    if (!code)
      return setProblem(
        `“${typed}” is no trouble code: a letter P, C, B or U, a digit 0 to 3 and three more, as in P0087.`,
      );
    setProblem(undefined);
    typing.onChange('');
    if (!codes.includes(code.code)) kept.onChange([...codes, code.code]);
  };
  return (
    <section aria-label="Trouble codes">
      <div className="flex items-end gap-2">
        <label className="block w-56">
          <span className="label">Trouble code, or a word of it</span>
          <input
            className="input mt-1"
            value={text}
            autoComplete="off"
            onChange={typing.onChange}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              event.preventDefault();
              if (text.trim()) add(text);
            }}
          />
        </label>
        <Button onClick={() => text.trim() && add(text)}>Add</Button>
      </div>
      {suggestions.length > 0 && (
        <div className="mt-2 flex flex-wrap gap-2">
          {suggestions.map(({ code, name }) => (
            <button
              key={code}
              type="button"
              onClick={() => add(code)}
              className="min-h-11 rounded-xl border border-dashed border-line px-3 text-left hover:border-ink"
            >
              <b>{code}</b> {name}
            </button>
          ))}
        </div>
      )}
      <div className="mt-2">
        <ErrorNotice text={problem} />
      </div>
      <ul className="space-y-1">
        {codes.map((code) => {
          const known = readTroubleCode(code);
          return (
            <li key={code} className="flex items-center gap-2">
              <b>{code}</b>
              <span className="flex-1">
                {known?.name ?? (known?.makers ? 'a maker’s own code: look it up' : 'a generic code beside this job')}
              </span>
              <button
                type="button"
                aria-label={`Remove ${code}`}
                onClick={() => kept.onChange(codes.filter((other) => other !== code))}
                className="grid size-11 place-items-center rounded-xl hover:bg-paper"
              >
                <X aria-hidden className="size-4" />
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
