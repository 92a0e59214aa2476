import {
  comparedHolds,
  comparedLadders,
  comparedSweeps,
  holdText,
  KEY_STATE_NAMES,
  pressureText,
  type CaseBench,
  type ComparedStep,
} from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { DataTable, type Column } from '../../ui/data-table';
import { SweepLines } from '../control/sweep-lines';
import { HoldLines } from '../pressure/hold-curve';

const BEFORE = 'whitespace-nowrap text-soft';
const AFTER = 'whitespace-nowrap font-bold';

/** The staircases of one key state before and after the repair, station by station. */
export function LaddersCompared({ before, after }: { before: CaseBench; after: CaseBench }) {
  const compared = comparedLadders(before.ladders, after.ladders);
  if (!compared) return null;
  return (
    <section aria-label="The path, before and after">
      <h3 className="text-xl">The path, before and after</h3>
      <DataTable
        className="w-full text-lg"
        rows={compared.stations}
        keyOf={({ id }) => id}
        columns={[
          { title: 'Loaded volts', cell: ({ name }) => name },
          {
            title: `before, ${KEY_STATE_NAMES[compared.before].toLowerCase()}`,
            right: true,
            className: BEFORE,
            cell: ({ beforeV }) => voltsText(beforeV),
          },
          {
            title: `after, ${KEY_STATE_NAMES[compared.after].toLowerCase()}`,
            right: true,
            className: AFTER,
            cell: ({ afterV }) => voltsText(afterV),
          },
          {
            title: 'a healthy path',
            right: true,
            className: 'whitespace-nowrap text-steel',
            cell: ({ healthyV }) => voltsText(healthyV),
          },
        ]}
      />
    </section>
  );
}

function voltsText(volts: number | undefined): string {
  return volts === undefined ? '–' : `${volts.toFixed(2)} V`;
}

/** A module's steps before and after: half the current at every step was the module, if it is whole now. */
export function SweepsCompared({ item }: { item: CaseDetail }) {
  const unit = usePressureUnit();
  const steps = comparedSweeps(item.evidence, item.stage);
  if (steps.length === 0) return null;
  const amperes = (value: number | undefined) => (value === undefined ? '–' : `${value.toFixed(2)} A`);
  const pressure = (value: number | undefined) => (value === undefined ? '–' : `${pressureText(value, unit)} ${unit}`);
  const difference = (was: number | undefined, is: number | undefined) =>
    was === undefined || is === undefined ? '–' : `${is < was ? '−' : '+'}${Math.abs(is - was).toFixed(2)} A`;
  const hasPressure = steps.some(({ before, after }) => (before?.pressurePa ?? after?.pressurePa) !== undefined);
  const pressures: Column<ComparedStep>[] = [
    { title: 'pressure before', right: true, className: BEFORE, cell: ({ before }) => pressure(before?.pressurePa) },
    { title: 'pressure after', right: true, className: AFTER, cell: ({ after }) => pressure(after?.pressurePa) },
  ];
  const hasSpeed = steps.some(({ before, after }) => (before?.rpm ?? after?.rpm) !== undefined);
  const speeds: Column<ComparedStep>[] = [
    { title: 'rpm before', right: true, className: BEFORE, cell: ({ before }) => before?.rpm ?? '–' },
    { title: 'rpm after', right: true, className: AFTER, cell: ({ after }) => after?.rpm ?? '–' },
  ];
  const of = (phase: 'before' | 'after') => steps.flatMap((step) => step[phase] ?? []);
  return (
    <section aria-label="The duty sweep, before and after">
      <h3 className="text-xl">The duty sweep, before and after</h3>
      <div className="overflow-x-auto">
        <DataTable
          className="w-full text-lg"
          rows={steps}
          keyOf={({ commandPercent }) => String(commandPercent)}
          columns={[
            { title: 'Commanded', cell: ({ commandPercent }) => `${commandPercent} %` },
            {
              title: 'current before',
              right: true,
              className: BEFORE,
              cell: ({ before }) => amperes(before?.currentA),
            },
            { title: 'current after', right: true, className: AFTER, cell: ({ after }) => amperes(after?.currentA) },
            {
              title: 'difference',
              right: true,
              className: BEFORE,
              cell: ({ before, after }) => difference(before?.currentA, after?.currentA),
            },
            ...(hasPressure ? pressures : []),
            ...(hasSpeed ? speeds : []),
          ]}
        />
      </div>
      <SweepLines
        sweeps={[
          { name: 'before', steps: of('before'), tone: 'rust', dash: [7, 4] },
          { name: 'after', steps: of('after'), tone: 'steel' },
        ]}
      />
    </section>
  );
}

/** How the pressure held after shut-down, before and after, on one time. */
export function HoldsCompared({ item }: { item: CaseDetail }) {
  const unit = usePressureUnit();
  const compared = comparedHolds(item.evidence, item.stage);
  if (!compared) return null;
  const { before, after } = compared;
  return (
    <section aria-label="The hold, before and after">
      <h3 className="text-xl">The hold, before and after</h3>
      <HoldLines
        unit={unit}
        lines={[
          { name: `before: ${holdText(before, unit)}`, points: before.record.points, tone: 'rust', dash: [7, 4] },
          { name: `after: ${holdText(after, unit)}`, points: after.record.points, tone: 'steel' },
        ]}
      />
    </section>
  );
}
