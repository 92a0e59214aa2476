import { useState } from 'react';
import { readNumber } from '../../app/units';

type Rows = readonly (readonly (number | undefined)[])[];

/** Pairs of numbers; a growing table always has one more row to type into. What is half typed stays as typed. */
export function TableField({
  label,
  rows,
  growing = false,
  onRows,
}: {
  label: string;
  rows: Rows;
  growing?: boolean;
  onRows: (rows: Rows) => void;
}) {
  const [typed, setTyped] = useState(() => textsOf(rows));
  const shown = growing ? [...typed, ['', '']] : typed;
  const type = (row: number, column: number, text: string) => {
    const next = shown.map((cells, i) => (i === row ? cells.map((cell, k) => (k === column ? text : cell)) : cells));
    const filled = growing ? next.filter((cells) => cells.some((cell) => cell.trim())) : next;
    setTyped(filled);
    onRows(filled.map((cells) => cells.map(readNumber)));
  };
  return (
    <div role="group" aria-label={label} className="space-y-1">
      {shown.map((cells, row) => (
        <div key={row} className="flex items-center gap-1">
          {cells.map((cell, column) => (
            <input
              key={column}
              aria-label={`${label}, row ${row + 1}, ${column === 0 ? 'from' : 'to'}`}
              className="input min-w-0 px-1.5 text-right"
              inputMode="decimal"
              value={cell}
              onChange={(event) => type(row, column, event.target.value)}
            />
          ))}
        </div>
      ))}
    </div>
  );
}

function textsOf(rows: Rows): string[][] {
  return rows.map((row) => row.map((value) => (value === undefined ? '' : String(Number(value.toPrecision(6))))));
}
