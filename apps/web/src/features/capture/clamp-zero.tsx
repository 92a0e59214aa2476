import { useState } from 'react';

/** What a clamp shows with the pump off, where somebody looked: zeroed beforehand, or read off it. */
export function ClampZero({
  name,
  zeroA,
  onChange,
}: {
  /** The channel's. */
  name: string;
  zeroA: number | undefined;
  onChange: (zeroA: number | undefined) => void;
}) {
  const [isRead, setIsRead] = useState(false);
  const chosen = isRead ? 'read' : zeroA === undefined ? 'record' : 'zeroed';
  return (
    <div className="space-y-2">
      <select
        aria-label={`${name}: clamp’s zero`}
        className="input"
        value={chosen}
        onChange={({ target: { value } }) => {
          setIsRead(value === 'read');
          onChange(value === 'zeroed' ? 0 : undefined);
        }}
      >
        <option value="record">find it in the record</option>
        <option value="zeroed">it was zeroed</option>
        <option value="read">it showed …</option>
      </select>
      {isRead && (
        <label className="block">
          <span className="label">A with the pump off</span>
          <input
            className="input mt-1"
            type="number"
            step="any"
            autoFocus
            onChange={({ target: { value } }) => onChange(value === '' ? undefined : Number(value))}
          />
        </label>
      )}
      {isRead && zeroA === undefined && (
        <p className="text-sm text-soft">Until it is typed the zero is found in the record.</p>
      )}
    </div>
  );
}
