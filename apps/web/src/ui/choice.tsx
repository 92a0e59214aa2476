import { ToggleGroup } from 'radix-ui';

export interface Option<T extends string> {
  readonly value: T;
  readonly label: string;
}

const ITEM =
  'min-h-11 rounded-xl border border-line px-4 data-[state=on]:border-enamel data-[state=on]:bg-enamel data-[state=on]:font-semibold data-[state=on]:text-on-enamel';

/** A few large answers, one of them chosen. */
export function Choice<T extends string>({
  label,
  hideLabel = false,
  beside = false,
  options,
  value,
  onChange,
}: {
  label: string;
  /** For when what is asked stands beside it already. */
  hideLabel?: boolean;
  /** The label stands before the answers instead of above them, where height is dear. */
  beside?: boolean;
  options: readonly Option<T>[];
  /** Undefined: nothing chosen yet. */
  value: T | undefined;
  onChange: (value: T) => void;
}) {
  return (
    <div className={beside ? 'flex flex-wrap items-center gap-x-3 gap-y-1' : ''}>
      {!hideLabel && <div className={beside ? 'label w-24' : 'label mb-1'}>{label}</div>}
      <ToggleGroup.Root
        type="single"
        aria-label={label}
        value={value ?? ''}
        onValueChange={(next) => next && onChange(next as T)}
        className="flex flex-wrap gap-2"
      >
        {options.map((option) => (
          <ToggleGroup.Item key={option.value} value={option.value} className={ITEM}>
            {option.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </div>
  );
}

/** Any number of answers. */
export function Choices<T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: Readonly<Record<T, string>>;
  value: readonly T[];
  onChange: (value: T[]) => void;
}) {
  return (
    <div>
      <div className="label mb-1">{label}</div>
      <ToggleGroup.Root
        type="multiple"
        aria-label={label}
        value={[...value]}
        onValueChange={(next) => onChange(next as T[])}
        className="flex flex-wrap gap-2"
      >
        {(Object.entries(options) as [T, string][]).map(([option, name]) => (
          <ToggleGroup.Item key={option} value={option} className={ITEM}>
            {name}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </div>
  );
}

/** Labels by value, as options in their order. */
export function optionsOf<T extends string>(labels: Readonly<Record<T, string>>): Option<T>[] {
  return (Object.entries(labels) as [T, string][]).map(([value, label]) => ({ value, label }));
}
