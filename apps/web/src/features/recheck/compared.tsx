import {
  entriesOf,
  KEY_STATE_NAMES,
  newestEntry,
  NOT_POSSIBLE,
  phasesOf,
  pressureText,
  presentLinks,
  type CaseBench,
  type CaseLadder,
  type SweepRecord,
} from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';

/** The staircases of one key state before and after the repair, station by station. */
export function LaddersCompared({ before, after }: { before: CaseBench; after: CaseBench }) {
  const is = after.ladders.findLast(isRead);
  if (!is) return null;
  const was =
    before.ladders.find(({ keyState }) => keyState === is.keyState) ?? before.ladders[before.ladders.length - 1];
  const volts = (ladder: CaseLadder, id: string) => ladder.rungs.find(({ station }) => station.id === id)?.volts;
  const rows = is.rungs.filter(
    ({ station }) => volts(was, station.id) !== undefined || volts(is, station.id) !== undefined,
  );
  return (
    <section aria-label="The path, before and after">
      <h3 className="text-xl">The path, before and after</h3>
      <table className="w-full text-right text-lg">
        <thead className="label">
          <tr className="border-b-2 border-ink">
            <th className="text-left font-normal">Loaded volts</th>
            <th className="font-normal">before, {KEY_STATE_NAMES[was.keyState].toLowerCase()}</th>
            <th className="font-normal">after, {KEY_STATE_NAMES[is.keyState].toLowerCase()}</th>
            <th className="font-normal">a healthy path</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ station, healthyV }) => (
            <tr key={station.id} className="border-b border-line">
              <th scope="row" className="py-1 text-left font-normal">
                {station.name}
              </th>
              <td className="text-soft whitespace-nowrap">{voltsText(volts(was, station.id))}</td>
              <td className="pl-2 font-bold whitespace-nowrap">{voltsText(volts(is, station.id))}</td>
              <td className="pl-2 text-steel whitespace-nowrap">{voltsText(healthyV)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function isRead({ rungs }: CaseLadder): boolean {
  return rungs.some(({ volts }) => volts !== undefined);
}

function voltsText(volts: number | undefined): string {
  return volts === undefined ? '–' : `${volts.toFixed(2)} V`;
}

/** A module's steps before and after: half the current at every step was the module, if it is whole now. */
export function SweepsCompared({ item }: { item: CaseDetail }) {
  const unit = usePressureUnit();
  const was = sweepOf(phasesOf(item.evidence, item.stage).before);
  const is = sweepOf(presentLinks(item.evidence, item.stage));
  if (!was || !is) return null;
  const commands = [...new Set([...was.steps, ...is.steps].map(({ commandPercent }) => commandPercent))].sort(
    (a, b) => a - b,
  );
  const step = ({ steps }: SweepRecord, command: number) =>
    steps.find(({ commandPercent }) => commandPercent === command);
  const amperes = (value: number | undefined) => (value === undefined ? '–' : `${value.toFixed(2)} A`);
  const pressure = (value: number | undefined) => (value === undefined ? '–' : `${pressureText(value, unit)} ${unit}`);
  return (
    <section aria-label="The duty sweep, before and after">
      <h3 className="text-xl">The duty sweep, before and after</h3>
      <table className="w-full text-right text-lg">
        <thead className="label">
          <tr className="border-b-2 border-ink">
            <th className="text-left font-normal">Commanded</th>
            <th className="font-normal">before</th>
            <th className="font-normal">after</th>
            <th className="font-normal">before</th>
            <th className="font-normal">after</th>
          </tr>
        </thead>
        <tbody>
          {commands.map((command) => (
            <tr key={command} className="border-b border-line">
              <th scope="row" className="py-1 text-left font-normal">
                {command} %
              </th>
              <td className="text-soft whitespace-nowrap">{amperes(step(was, command)?.currentA)}</td>
              <td className="pl-2 font-bold whitespace-nowrap">{amperes(step(is, command)?.currentA)}</td>
              <td className="text-soft whitespace-nowrap">{pressure(step(was, command)?.pressurePa)}</td>
              <td className="pl-2 font-bold whitespace-nowrap">{pressure(step(is, command)?.pressurePa)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function sweepOf(links: CaseDetail['evidence']): SweepRecord | undefined {
  const value = newestEntry(entriesOf(links), 'sweep', 'module')?.value;
  return value === undefined || value === NOT_POSSIBLE ? undefined : (value as SweepRecord);
}
