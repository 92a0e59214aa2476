import type { ComponentProps, ReactNode } from 'react';

/** A labelled text of the composer. */
export function TextField({
  label,
  problem,
  ...input
}: ComponentProps<'input'> & { label: string; problem?: string | undefined }) {
  return (
    <Labelled label={label} problem={problem}>
      <input className="input mt-1" maxLength={120} {...input} />
    </Labelled>
  );
}

/** A labelled number with its unit. */
export function NumberField({
  label,
  unit,
  problem,
  ...input
}: ComponentProps<'input'> & { label: string; unit: string; problem?: string | undefined }) {
  return (
    <Labelled label={label} problem={problem}>
      <span className="mt-1 flex items-center gap-2">
        <input className="input min-w-0 text-right font-semibold" inputMode="decimal" {...input} />
        <span className="label shrink-0">{unit}</span>
      </span>
    </Labelled>
  );
}

/** A box to tick, large enough for a glove. */
export function Tick({ label, ...input }: ComponentProps<'input'> & { label: string }) {
  return (
    <label className="flex min-h-11 items-center gap-3">
      <input type="checkbox" className="size-6 accent-[var(--enamel)]" {...input} />
      {label}
    </label>
  );
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
