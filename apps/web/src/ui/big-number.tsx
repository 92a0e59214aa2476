/** The number that matters, typed so that it can be read from under the vehicle. */
export function BigNumber({
  label,
  unit,
  value,
  onChange,
}: {
  /** For screen readers: what stands above says it to everyone else. */
  label: string;
  unit: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <label className="block">
      <span className="sr-only">
        {label} in {unit}
      </span>
      <span className="flex items-baseline gap-3">
        <input
          autoFocus
          inputMode="decimal"
          value={value}
          onChange={(event) => onChange(event.target.value)}
          className="input h-24 text-center text-6xl font-bold"
        />
        <span aria-hidden className="text-3xl">
          {unit}
        </span>
      </span>
    </label>
  );
}
