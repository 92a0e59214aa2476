import { grouped, whenSwitched } from '@jarro/core';
import type { DriveResult, PulseTrain } from '@jarro/core';
import { DataTable } from '../../ui/data-table';

const CAUSES: Readonly<Record<DriveResult['cause'], { readonly name: string; readonly tone: string }>> = {
  none: { name: 'Passed on as asked', tone: 'text-mineral' },
  upstream: { name: 'Breaks before the module', tone: 'text-rust' },
  module: { name: 'Breaks at the module', tone: 'text-rust' },
  undetermined: { name: 'Can’t tell where it breaks', tone: 'text-ochre' },
};

/** A driver module's lines: where the chain from command to output breaks, and what each line does. */
export function SwitchedLines({
  pulses,
  drive,
}: {
  readonly pulses: Readonly<Record<string, PulseTrain>>;
  readonly drive: DriveResult | undefined;
}) {
  return (
    <section aria-label="Switched lines" className="space-y-2">
      {drive && (
        <p>
          <span className={`block text-2xl leading-tight font-bold ${CAUSES[drive.cause].tone}`}>
            {CAUSES[drive.cause].name}
          </span>
          {drive.because}
        </p>
      )}
      <DataTable
        className="w-full max-w-3xl"
        rows={Object.entries(pulses)}
        keyOf={([name]) => name}
        columns={[
          { title: 'Line', cell: ([name, train]) => <Line name={name} train={train} /> },
          { title: 'Duty', cell: ([, train]) => <Duty train={train} /> },
          { title: 'Frequency', cell: ([, { frequencyHz }]) => frequencyText(frequencyHz) },
          { title: 'On for', cell: ([, { onTimeMs }]) => (onTimeMs === undefined ? '–' : timeText(onTimeMs)) },
          { title: 'Low to high', cell: ([, { stuck, lowV, highV }]) => (stuck ? '–' : levelsText(lowV, highV)) },
          { title: 'Missing', cell: ([, train]) => <Odd train={train} /> },
        ]}
      />
    </section>
  );
}

/** Before and after nothing is asked: the key is off, or the prime over. */
function Line({ name, train }: { name: string; train: PulseTrain }) {
  return (
    <>
      <span className="font-semibold">{name}</span>
      <span className="block text-[0.85rem] text-soft">{whenSwitched(train)}</span>
    </>
  );
}

/** Points of duty: what moves by more was stepped or regulated, and its mean is a duty that it never had. */
const MOVES_PERCENT = 5;

function Duty({ train }: { train: PulseTrain }) {
  const { stuck, dutyPercent, usualDutyPercent, lowV, highV, missing, trend = [] } = train;
  if (!stuck) {
    const usual = (usualDutyPercent ?? dutyPercent).toFixed(1);
    const moments = trend.map((moment) => moment.dutyPercent);
    const [least, most] = [Math.min(...moments), Math.max(...moments)];
    if (missing > 0 || !(most - least > MOVES_PERCENT)) return <b className="text-xl">{usual} %</b>;
    return (
      <>
        <b className="text-xl">{`${least.toFixed(0)} to ${most.toFixed(0)} %`}</b>
        <span className="block text-[0.85rem] text-soft">{usual} % over the record</span>
      </>
    );
  }
  const level = (highV ?? lowV ?? 0).toFixed(2);
  return (
    <span className="text-rust">
      never switches: it stays at {level} V{stuck === 'between' ? ', neither low nor high' : ''}
    </span>
  );
}

function frequencyText(hertz: number): string {
  return hertz > 0 ? `${hertz.toFixed(hertz < 1000 ? 1 : 0)} Hz` : '–';
}

function timeText(milliseconds: number): string {
  return `${milliseconds.toFixed(milliseconds < 1 ? 3 : 2)} ms`;
}

function levelsText(lowV: number | undefined, highV: number | undefined): string {
  return lowV === undefined || highV === undefined ? '–' : `${lowV.toFixed(1)} to ${highV.toFixed(1)} V`;
}

function Odd({ train: { stuck, missing, extra = [] } }: { train: PulseTrain }) {
  if (stuck) return '–';
  const odd = [missing > 0 && grouped(missing), extra.length > 0 && `${grouped(extra.length)} too many`].filter(
    Boolean,
  );
  return odd.length > 0 ? <span className="font-semibold text-rust">{odd.join(', ')}</span> : 'none';
}
