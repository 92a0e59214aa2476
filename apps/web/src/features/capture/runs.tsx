import { grouped, PATTERN_NAMES } from '@jarro/core';
import type { RampResult } from '@jarro/core';
import { DataTable } from '../../ui/data-table';

/** Every stretch in which the pump was powered, where a record holds more than one. The numbers above are the longest’s. */
export function Runs({ ramp: { runs = [] } }: { ramp: RampResult }) {
  if (runs.length < 2) return null;
  const longest = runs.reduce((a, b) => (b.toS - b.fromS > a.toS - a.fromS ? b : a));
  return (
    <DataTable
      className="w-full max-w-3xl"
      caption={`${runs.length} stretches in which the pump ran`}
      rows={runs}
      keyOf={({ fromS }) => String(fromS)}
      rowClass={(run) => (run === longest ? 'font-semibold' : undefined)}
      columns={[
        { title: 'From', cell: ({ fromS }) => `${fromS.toFixed(2)} s` },
        { title: 'For', cell: ({ fromS, toS }) => `${(toS - fromS).toFixed(2)} s` },
        { title: 'Mean draw', cell: ({ steady }) => (steady ? `${steady.meanA.toFixed(2)} A` : '–') },
        {
          title: 'Speed',
          cell: ({ rpm, basis }) =>
            rpm === undefined ? '–' : `${grouped(rpm)} rpm${basis === 'assumed' ? ', assumed' : ''}`,
        },
        { title: 'Pattern', cell: ({ pattern }) => PATTERN_NAMES[pattern] },
      ]}
    />
  );
}
