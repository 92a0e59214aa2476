import { useState, type ReactNode } from 'react';
import { readNumber } from '../../app/units';

/** A labelled text of the composer; empty is absent. */
export function TextField({
  label,
  value,
  problem,
  onChange,
  ...rest
}: {
  label: string;
  value: string | undefined;
  problem?: string | undefined;
  onChange: (value: string | undefined) => void;
  maxLength?: number;
  placeholder?: string;
}) {
  return (
    <Labelled label={label} problem={problem}>
      <input
        className="input mt-1"
        maxLength={120}
        {...rest}
        value={value ?? ''}
        onChange={(event) => onChange(event.target.value || undefined)}
      />
    </Labelled>
  );
}

/** A labelled number; empty is absent, and what is no number stays as typed until it is one. */
export function NumberField({
  label,
  unit,
  value,
  problem,
  onChange,
}: {
  label: string;
  unit: string;
  value: number | undefined;
  problem?: string | undefined;
  onChange: (value: number | undefined) => void;
}) {
  const [text, setText] = useState(value === undefined ? '' : shown(value));
  const type = (next: string) => {
    setText(next);
    const number = readNumber(next);
    if (number !== undefined || !next.trim()) onChange(number);
  };
  const wrong = text.trim() && readNumber(text) === undefined ? 'That is not a number.' : problem;
  return (
    <Labelled label={label} problem={wrong}>
      <span className="mt-1 flex items-center gap-2">
        <input
          className="input min-w-0 text-right font-semibold"
          inputMode="decimal"
          value={text}
          onChange={(event) => type(event.target.value)}
        />
        <span className="label shrink-0">{unit}</span>
      </span>
    </Labelled>
  );
}

function shown(value: number): string {
  return String(Number(value.toPrecision(6)));
}

export function Labelled({
  label,
  problem,
  children,
}: {
  label: string;
  problem?: string | undefined;
  children: ReactNode;
}) {
  return (
    <label className="block">
      <span className="label">{label}</span>
      {children}
      {problem && (
        <span role="alert" className="mt-0.5 block text-[0.93rem] text-rust">
          {problem}
        </span>
      )}
    </label>
  );
}
