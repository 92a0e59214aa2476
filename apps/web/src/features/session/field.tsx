import type { InputHTMLAttributes } from 'react';

/** A labelled input of the forms that people fill once. */
export function Field({
  label,
  hint,
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & { label: string; hint?: string }) {
  return (
    <label className="block">
      <span className="label">{label}</span>
      <input className="input mt-1" {...rest} />
      {hint && <span className="label">{hint}</span>}
    </label>
  );
}
