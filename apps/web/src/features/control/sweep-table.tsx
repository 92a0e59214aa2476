import { pressureText, sweepBeside, type StepBeside, type SweepStep } from '@jarro/core';
import type { CaseDetail, PressureUnitName } from '@jarro/api-types';
import { useShelfQuery } from '../../app/api';
import { usePressureUnit } from '../../app/units';
import { DataTable, type Column } from '../../ui/data-table';
import { ofTheKind } from '../shelf/of-the-kind';
import { SWEEP_COLUMNS, sweepTitle, type SweepColumn } from './sweep-columns';
import { SweepLines } from './sweep-lines';

/** A sweep that was kept, beside the newest known-good of its kind that has one. */
export function SweepTable({
  item,
  steps,
  caption,
}: {
  item: CaseDetail;
  steps: readonly SweepStep[];
  caption: string;
}) {
  const unit = usePressureUnit();
  const { data: shelf = [] } = useShelfQuery();
  const good = ofTheKind(shelf, item).find(({ caseId, numbers }) => caseId !== item.id && numbers.sweep);
  const beside = sweepBeside(steps, good?.numbers.sweep ?? []);
  // A column that nobody read takes room from those that were.
  const read = SWEEP_COLUMNS.filter((column) => steps.some((step) => step[column] !== undefined));
  const columns = read.map((column): Column<StepBeside> => ({
    title: sweepTitle(column, unit),
    right: true,
    cell: ({ step }) => textOf(column, step[column], unit),
  }));
  return (
    <>
      <div className="overflow-x-auto">
        <DataTable
          className="w-full text-lg"
          caption={<span className="label font-normal">{caption}</span>}
          rows={beside.steps}
          keyOf={(_, i) => String(i)}
          columns={good ? [...columns, ...goodColumns(beside.steps, unit)] : columns}
        />
      </div>
      {beside.says && <p className="text-lg font-semibold">{beside.says}</p>}
      <SweepLines
        sweeps={[
          { name: caption, steps, tone: 'ink' },
          ...(good?.numbers.sweep
            ? [{ name: `known-good: ${good.label}`, steps: good.numbers.sweep, tone: 'steel' as const, dash: [7, 4] }]
            : []),
        ]}
      />
    </>
  );
}

const UNITS = { currentA: 'A', rpm: 'rpm' } as const;

/** What the known-good read at the same commands, where it read it, and by how much the current differs. */
function goodColumns(steps: readonly StepBeside[], unit: PressureUnitName): Column<StepBeside>[] {
  const has = (column: SweepColumn) => steps.some(({ good }) => good?.[column] !== undefined);
  const shown = (['currentA', 'pressurePa', 'rpm'] as const).filter(has);
  return [
    ...shown.map((column): Column<StepBeside> => ({
      title: `known-good, ${column === 'pressurePa' ? unit : UNITS[column]}`,
      right: true,
      className: 'text-steel',
      cell: ({ good }) => textOf(column, good?.[column], unit),
    })),
    { title: 'current, share of it', right: true, className: 'font-bold', cell: shareText },
  ];
}

function shareText({ step, good }: StepBeside): string {
  if (step.currentA === undefined || !good?.currentA) return '–';
  return `${((100 * step.currentA) / good.currentA).toFixed(0)} %`;
}

function textOf(column: SweepColumn, value: number | undefined, unit: PressureUnitName): string {
  if (value === undefined) return '–';
  return column === 'pressurePa' ? pressureText(value, unit) : String(Number(value.toFixed(column === 'rpm' ? 0 : 2)));
}
