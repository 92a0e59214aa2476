import { marksAround, marksLine, type RecordMark, type SequenceIncident } from '@jarro/core';
import type { StoredAnalysis } from '@jarro/api-types';
import { Button } from '../../ui/button';

type Sequence = NonNullable<StoredAnalysis['sequence']>;

const CAUSES: Readonly<Record<Sequence['cause'], { readonly name: string; readonly tone: string }>> = {
  none: { name: 'Nothing fell', tone: 'text-mineral' },
  upstream: { name: 'The supply fell, not the pump', tone: 'text-rust' },
  pump: { name: 'The pump, with its supply sound', tone: 'text-rust' },
  hydraulic: { name: 'The fuel side, with supply and pump sound', tone: 'text-rust' },
  undetermined: { name: 'Can’t tell which side', tone: 'text-ochre' },
};
const MOST_SHOWN = 12;
/** Two of the blocks that the order is told by. */
const TOGETHER_MS = 2;

/** What fell first each time that something fell, and what the wiring costs. */
export function Incidents({
  sequence,
  source,
  marks = [],
  onShow,
}: {
  readonly sequence: Sequence;
  readonly source: StoredAnalysis['source'];
  /** What people marked on the record. */
  readonly marks?: readonly RecordMark[];
  /** Absent where there is nothing to show it in. */
  readonly onShow?: (incident: SequenceIncident) => void;
}) {
  const { cause, incidents } = sequence;
  const ohm = source?.resistanceOhm;
  const [low, high] = source?.interval ?? [];
  return (
    <section aria-label="What fell first" className="space-y-2">
      <div className="flex flex-wrap items-end gap-x-7 gap-y-2">
        <p className={`text-2xl leading-tight font-bold ${CAUSES[cause].tone}`}>{CAUSES[cause].name}</p>
        {ohm !== undefined && low !== undefined && high !== undefined && (
          <dl>
            <dt className="label">From battery to pump feed</dt>
            <dd className="text-2xl leading-tight font-bold">
              {ohm.toFixed(3)} Ω{' '}
              <span className="text-[0.93rem] font-normal text-soft">± {((high - low) / 2).toFixed(3)}</span>
            </dd>
          </dl>
        )}
      </div>
      {incidents.length > 0 && (
        <ol aria-label="Incidents" className="max-h-72 divide-y divide-line overflow-y-auto border-y border-line">
          {incidents.slice(0, MOST_SHOWN).map((incident) => (
            <li key={incident.startS} className="grid items-center gap-x-4 py-1 sm:grid-cols-[8.5rem_1fr_auto]">
              <span className="font-semibold">
                {incident.startS.toFixed(3)} s
                <span className="label block font-normal">
                  {incident.endS === undefined
                    ? 'to the end'
                    : `for ${(1000 * (incident.endS - incident.startS)).toFixed(0)} ms`}
                </span>
              </span>
              <span>
                {incident.because}
                <span className="label block">{orderOf(incident)}</span>
                <Marked marks={marksAround(marks, incident)} startS={incident.startS} />
              </span>
              {onShow && <Button onClick={() => onShow(incident)}>Show</Button>}
            </li>
          ))}
        </ol>
      )}
      {incidents.length > MOST_SHOWN && <p className="label">And {incidents.length - MOST_SHOWN} more.</p>}
    </section>
  );
}

/** "Feed voltage fell first; Pump current 2 ms later": what went, in order. */
function orderOf({ departures }: SequenceIncident): string {
  const [first, ...later] = departures;
  if (!first) return '';
  const went = ({ channel, rose }: (typeof departures)[number]) => `${channel} ${rose ? 'rose' : 'fell'}`;
  const after = later.map((one) => {
    const lagMs = 1000 * (one.timeS - first.timeS);
    return lagMs < TOGETHER_MS ? `${went(one)} with it` : `${went(one)} ${lagMs.toFixed(0)} ms later`;
  });
  return [`${went(first)} first`, ...after].join(', ');
}

function Marked({ marks, startS }: { readonly marks: readonly RecordMark[]; readonly startS: number }) {
  return marks.length > 0 && <span className="label block">Marked: {marksLine(marks, startS)}</span>;
}
