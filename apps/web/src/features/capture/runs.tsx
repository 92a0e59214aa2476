import { grouped, PATTERN_NAMES } from '@jarro/core';
import type { RampResult } from '@jarro/core';

/** Every stretch in which the pump was powered, where a record holds more than one. The numbers above are the longest's. */
export function Runs({ ramp: { runs = [] } }: { ramp: RampResult }) {
  if (runs.length < 2) return null;
  const longest = runs.reduce((a, b) => (b.toS - b.fromS > a.toS - a.fromS ? b : a));
  return (
    <table className="w-full max-w-3xl">
      <caption className="pb-1 text-left font-semibold">The pump ran {runs.length} times in this record</caption>
      <thead className="label text-left">
        <tr>
          <th className="font-normal">From</th>
          <th className="font-normal">For</th>
          <th className="font-normal">Mean draw</th>
          <th className="font-normal">Speed</th>
          <th className="font-normal">Pattern</th>
        </tr>
      </thead>
      <tbody>
        {runs.map((run) => (
          <tr key={run.fromS} className={run === longest ? 'font-semibold' : undefined}>
            <td className="py-1">{run.fromS.toFixed(2)} s</td>
            <td>{(run.toS - run.fromS).toFixed(2)} s</td>
            <td>{run.steady ? `${run.steady.meanA.toFixed(2)} A` : '–'}</td>
            <td>{run.rpm === undefined ? '–' : `${grouped(run.rpm)} rpm`}</td>
            <td>{PATTERN_NAMES[run.pattern]}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
