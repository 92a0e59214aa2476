import { getCoreRowModel, getSortedRowModel, useReactTable, type Header } from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import type { ReactNode } from 'react';

/** One column of a table. */
export interface Column<T> {
  readonly title: string;
  readonly cell: (row: T) => ReactNode;
  /** What rows may be sorted by here; the column's title is pressed for it. */
  readonly sortBy?: (row: T) => number | string;
  /** Numbers stand right. */
  readonly right?: boolean;
  readonly className?: string;
}

/** Rows of things under named columns; the first column names the row. */
export function DataTable<T>({
  columns,
  rows,
  keyOf,
  caption,
  className = 'w-full',
  rowClass,
}: {
  readonly columns: readonly Column<T>[];
  readonly rows: readonly T[];
  readonly keyOf: (row: T, index: number) => string;
  readonly caption?: ReactNode;
  readonly className?: string;
  readonly rowClass?: (row: T) => string | undefined;
}) {
  // What it answers changes with every call, and nothing here is memoized by a compiler.
  // eslint-disable-next-line react-hooks/incompatible-library
  const table = useReactTable<T>({
    data: rows as T[],
    columns: columns.map(({ sortBy }, i) => ({
      id: String(i),
      enableSorting: sortBy !== undefined,
      sortDescFirst: false,
      ...(sortBy && { accessorFn: sortBy }),
    })),
    getRowId: keyOf,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const side = (i: number) => (columns[i].right ? 'text-right' : 'text-left');
  return (
    <table className={className}>
      {caption && <caption className="pb-1 text-left font-semibold">{caption}</caption>}
      <thead className="label">
        {table.getHeaderGroups().map(({ id, headers }) => (
          <tr key={id} className="border-b-2 border-ink">
            {headers.map((header, i) => (
              <th key={header.id} scope="col" className={`py-1 pr-2 ${side(i)}`} {...sortedAs(header)}>
                <Title header={header} title={columns[i].title} />
              </th>
            ))}
          </tr>
        ))}
      </thead>
      <tbody>
        {table.getRowModel().rows.map((row) => (
          <tr key={row.id} className={`border-b border-line ${rowClass?.(row.original) ?? ''}`}>
            {columns.map(({ cell, className: own = '' }, i) => {
              const look = `py-1.5 pr-2 ${side(i)} ${own}`;
              return i === 0 ? (
                <th key={i} scope="row" className={look}>
                  {cell(row.original)}
                </th>
              ) : (
                <td key={i} className={look}>
                  {cell(row.original)}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Title<T>({ header: { column }, title }: { header: Header<T, unknown>; title: string }) {
  if (!column.getCanSort()) return title;
  const sorted = column.getIsSorted();
  const Arrow = sorted === 'asc' ? ArrowUp : ArrowDown;
  return (
    <button
      type="button"
      className="inline-flex min-h-11 items-center gap-1 hover:text-ink"
      onClick={column.getToggleSortingHandler()}
    >
      {title} {sorted && <Arrow aria-hidden className="size-4" />}
    </button>
  );
}

function sortedAs<T>({ column }: Header<T, unknown>) {
  const sorted = column.getIsSorted();
  return sorted ? { 'aria-sort': sorted === 'asc' ? ('ascending' as const) : ('descending' as const) } : {};
}
