import { grouped } from '@jarro/core';
import type { DriveResult, PulseTrain } from '@jarro/core';

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
      <table className="w-full max-w-3xl">
        <thead className="label text-left">
          <tr>
            <th className="font-normal">Line</th>
            <th className="font-normal">Duty</th>
            <th className="font-normal">Frequency</th>
            <th className="font-normal">On for</th>
            <th className="font-normal">Low to high</th>
            <th className="font-normal">Missing</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(pulses).map(([name, train]) => (
            <LineRow key={name} name={name} train={train} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function LineRow({ name, train }: { name: string; train: PulseTrain }) {
  const { stuck, dutyPercent, usualDutyPercent, frequencyHz, onTimeMs, lowV, highV, missing, extra = [] } = train;
  if (stuck) {
    const level = (highV ?? lowV ?? 0).toFixed(2);
    return (
      <tr>
        <td className="py-1 font-semibold">{name}</td>
        <td colSpan={5} className="text-rust">
          never switches: it stays at {level} V{stuck === 'between' ? ', neither low nor high' : ''}
        </td>
      </tr>
    );
  }
  const odd = [missing > 0 && grouped(missing), extra.length > 0 && `${grouped(extra.length)} too many`];
  return (
    <tr>
      <td className="py-1 font-semibold">{name}</td>
      <td className="text-xl font-bold">{(usualDutyPercent ?? dutyPercent).toFixed(1)} %</td>
      <td>{frequencyHz > 0 ? `${frequencyHz.toFixed(frequencyHz < 1000 ? 1 : 0)} Hz` : '–'}</td>
      <td>{onTimeMs === undefined ? '–' : `${onTimeMs.toFixed(onTimeMs < 1 ? 3 : 2)} ms`}</td>
      <td>{lowV === undefined || highV === undefined ? '–' : `${lowV.toFixed(1)} to ${highV.toFixed(1)} V`}</td>
      <td className={missing > 0 || extra.length > 0 ? 'font-semibold text-rust' : undefined}>
        {odd.filter(Boolean).join(', ') || 'none'}
      </td>
    </tr>
  );
}
