import { comparedLadders, comparedSweeps, KEY_STATE_NAMES, pressureText, type CaseBench } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';

/** The staircases of one key state before and after the repair, station by station. */
export function LaddersCompared({ before, after }: { before: CaseBench; after: CaseBench }) {
  const compared = comparedLadders(before.ladders, after.ladders);
  if (!compared) return null;
  return (
    <section aria-label="The path, before and after">
      <h3 className="text-xl">The path, before and after</h3>
      <table className="w-full text-right text-lg">
        <thead className="label">
          <tr className="border-b-2 border-ink">
            <th className="text-left font-normal">Loaded volts</th>
            <th className="font-normal">before, {KEY_STATE_NAMES[compared.before].toLowerCase()}</th>
            <th className="font-normal">after, {KEY_STATE_NAMES[compared.after].toLowerCase()}</th>
            <th className="font-normal">a healthy path</th>
          </tr>
        </thead>
        <tbody>
          {compared.stations.map(({ id, name, beforeV, afterV, healthyV }) => (
            <tr key={id} className="border-b border-line">
              <th scope="row" className="py-1 text-left font-normal">
                {name}
              </th>
              <td className="text-soft whitespace-nowrap">{voltsText(beforeV)}</td>
              <td className="pl-2 font-bold whitespace-nowrap">{voltsText(afterV)}</td>
              <td className="pl-2 text-steel whitespace-nowrap">{voltsText(healthyV)}</td>
            </tr>
          ))}
        </tbody>
      </table>
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
          {steps.map(({ commandPercent, before, after }) => (
            <tr key={commandPercent} className="border-b border-line">
              <th scope="row" className="py-1 text-left font-normal">
                {commandPercent} %
              </th>
              <td className="text-soft whitespace-nowrap">{amperes(before?.currentA)}</td>
              <td className="pl-2 font-bold whitespace-nowrap">{amperes(after?.currentA)}</td>
              <td className="text-soft whitespace-nowrap">{pressure(before?.pressurePa)}</td>
              <td className="pl-2 font-bold whitespace-nowrap">{pressure(after?.pressurePa)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
