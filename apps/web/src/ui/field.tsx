import type { ComponentProps } from 'react';

/** A labelled input of the forms that people fill once. */
export function Field({
  label,
  hint,
  width = '',
  ...rest
}: ComponentProps<'input'> & { label: string; hint?: string; width?: string }) {
  return (
    <label className={`block ${width}`}>
      <span className="label">{label}</span>
      <input className="input mt-1" {...rest} />
      {hint && <span className="label">{hint}</span>}
    </label>
  );
}
