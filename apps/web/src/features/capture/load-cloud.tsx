import type { StoredAnalysis } from '@jarro/api-types';
import { ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { XyLines } from '../../charts/xy-lines';

type Source = NonNullable<StoredAnalysis['source']>;
type Cloud = NonNullable<StoredAnalysis['cloud']>;

/** Volts at the feed over the pump's current, with the line of the source's resistance: folded away until it is asked for. */
export function LoadCloudView({ cloud, source }: { readonly cloud: Cloud; readonly source: Source }) {
  const [open, setOpen] = useState(false);
  const { resistanceOhm: ohm } = source;
  if (ohm === undefined) return null;
  const { points, openV } = cloud;
  const most = points.reduce((far, [amperes]) => Math.max(far, amperes), 0);
  return (
    <details className="group" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary className="flex min-h-11 cursor-pointer items-center gap-2 font-semibold text-steel">
        <ChevronRight aria-hidden className="size-5 group-open:rotate-90" />
        Volts against current, and what the wiring costs
      </summary>
      {open && (
        <div className="space-y-2 pb-2">
          <XyLines
            label="Volts at the pump’s feed over the pump’s current"
            lines={[
              { name: 'moments of this record', tone: 'steel', points, isCloud: true },
              {
                name: `load line, ${ohm.toFixed(3)} Ω`,
                tone: 'rust',
                points: [
                  [0, openV],
                  [most, openV - ohm * most],
                ],
              },
            ]}
            xText={(amperes) => `${amperes} A`}
            yText={(volts) => `${volts} V`}
            height="h-56"
            yFromZero={false}
          />
          <p>
            Without current the feed would stand at {openV.toFixed(2)} V; every ampere takes {ohm.toFixed(3)} V of it,
            in the battery, the wiring and the contacts before the feed. What the pump does, a start, a drag or an open
            circuit, moves along the line. What the supply does leaves it: a contact that lets go falls below.
          </p>
        </div>
      )}
    </details>
  );
}
