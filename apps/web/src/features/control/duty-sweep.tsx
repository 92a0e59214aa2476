import { type KeyState, type SweepRecord, type SweepStep, KEY_STATE_NAMES, shownAs } from '@jarro/core';
import { Plus } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { useKept } from '../../app/kept';
import type { CaseDetail, PressureUnitName } from '@jarro/api-types';
import { readNumber, usePressureUnit } from '../../app/units';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { entriesOf } from '../case/evidence';
import { useFaultShows } from '../case/fault-slice';
import { SWEEP_COLUMNS, sweepTitle, type SweepColumn } from './sweep-columns';
import { SweepTable } from './sweep-table';

type Row = Readonly<Partial<Record<SweepColumn, string>>>;

const STATES = ['idle', 'prime', 'cranking', 'loaded'] as const satisfies readonly KeyState[];

/** The command stepped, and what the pump does at each: half the current at every step is the module, not the pump. */
export function DutySweep({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const unit = usePressureUnit();
  const [kept, keep] = useKept<readonly Row[]>(`sweep/${item.id}`);
  const [keyState, setKeyState] = useState<KeyState>('idle');
  const [problem, setProblem] = useState<string>();
  const [faultPresent] = useFaultShows(item.id);
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const rows = kept ?? [{}];
  const sweeps = entriesOf(item).filter(({ kind }) => kind === 'sweep');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const steps = rows.filter((row) => Object.values(row).some((text) => text.trim())).map((row) => stepOf(row, unit));
    const complete = steps.filter((step): step is SweepStep => step !== undefined);
    if (complete.length === 0 || complete.length < steps.length) {
      return setProblem('Give every step its command, and numbers only: leave a field empty that wasn’t read.');
    }
    setProblem(undefined);
    const value: SweepRecord = { steps: complete };
    const entry = { kind: 'sweep', at: 'module', value, keyState, faultPresent } as const;
    const result = await addEntry({ caseId: item.id, ...entry });
    if (!('error' in result)) keep(undefined);
  };
  return (
    <section aria-label="Duty sweep" className="space-y-2">
      <h3 className="text-lg">Duty sweep</h3>
      <p className="label">
        Step the command by the scan tool, or by driving, and read what belongs to each step while it stands.
      </p>
      {sweeps.map(({ id, value, keyState: state }) => (
        <SweepTable key={id} item={item} steps={(value as SweepRecord).steps} caption={KEY_STATE_NAMES[state]} />
      ))}
      {editable && (
        <form onSubmit={(event) => void submit(event)} className="space-y-2">
          <div className="-m-1 overflow-x-auto p-1">
            <div className="grid min-w-md grid-cols-6 gap-1.5">
              {SWEEP_COLUMNS.map((column) => (
                <span key={column} className="label leading-tight">
                  {sweepTitle(column, unit)}
                </span>
              ))}
              {rows.flatMap((row, i) =>
                SWEEP_COLUMNS.map((column) => (
                  <input
                    key={`${i}/${column}`}
                    aria-label={`Step ${i + 1}, ${sweepTitle(column, unit)}`}
                    inputMode="decimal"
                    className="input min-w-0 px-2 text-right text-lg"
                    value={row[column] ?? ''}
                    onChange={(event) =>
                      keep(rows.map((own, k) => (k === i ? { ...own, [column]: event.target.value } : own)))
                    }
                  />
                )),
              )}
            </div>
          </div>
          <Choice
            label="Key"
            options={STATES.map((value) => ({ value, label: KEY_STATE_NAMES[value] }))}
            value={keyState}
            onChange={setKeyState}
          />
          <ErrorNotice text={problem ?? errorText(error)} />
          <div className="flex gap-2">
            <Button onClick={() => keep([...rows, {}])}>
              <Plus aria-hidden className="size-5" /> Another step
            </Button>
            <Button type="submit" look="rust" disabled={isLoading}>
              Keep this sweep
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}

/** @returns undefined without a command, or where something isn't a number */
function stepOf(row: Row, unit: PressureUnitName): SweepStep | undefined {
  const filled = SWEEP_COLUMNS.filter((column) => row[column]?.trim());
  const numbers = filled.map((column) => [column, readNumber(row[column] ?? '')] as const);
  if (!filled.includes('commandPercent') || numbers.some(([, number]) => number === undefined)) return undefined;
  const { toSi } = shownAs('Pa', 'rail', unit);
  return Object.fromEntries(
    numbers.map(([column, number]) => [column, column === 'pressurePa' ? toSi(number ?? 0) : number]),
  ) as unknown as SweepStep;
}
