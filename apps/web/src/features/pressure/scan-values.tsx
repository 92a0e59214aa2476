import { type Entry, newestEntry, pressureText } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import type { WhatToMeasure } from '../case/measure-sheet';
import { ReadingTile } from './gauge-tile';

const PARAMETERS = [
  'commanded_duty',
  'feedback_duty',
  'desired_pressure',
  'actual_pressure',
  'sensor_volts',
  'short_trim',
  'long_trim',
] as const;

/** What the scan tool says, typed off it; and the three-way check of the rail sensor. */
export function ScanValues({
  item,
  entries,
  measure,
}: {
  item: CaseDetail;
  entries: readonly Entry[];
  measure: (what: WhatToMeasure) => (() => void) | undefined;
}) {
  return (
    <section aria-label="Scan values" className="space-y-2 border-t border-line pt-3">
      <h3 className="text-lg">Scan values</h3>
      <div className="grid grid-cols-2 gap-2 md:grid-cols-4">
        {PARAMETERS.map((at) => (
          <ReadingTile
            key={at}
            kind="scan"
            at={at}
            entry={newestEntry(entries, 'scan', at)}
            onMeasure={measure({ kind: 'scan', at })}
          />
        ))}
      </div>
      <ThreeWay item={item} entries={entries} />
    </section>
  );
}

function ThreeWay({ item, entries }: { item: CaseDetail; entries: readonly Entry[] }) {
  const unit = usePressureUnit();
  const { sensor } = item.sheet;
  if (!sensor) {
    const wants = item.intake.features.railSensor === 'yes';
    if (!wants || item.sheet.highSide) return null;
    return (
      <p className="label">
        Three-way check: needs the gauge, the scan value and the sensor’s volts at idle
        {!item.sheet.sensorTableKnown && ', and the sensor’s table in the intake'}.
      </p>
    );
  }
  const number = (kind: 'pressure' | 'scan', at: string) => Number(newestEntry(entries, kind, at, 'idle')?.value);
  const ways = [
    { name: 'Gauge', pascal: number('pressure', 'rail'), liar: sensor.verdict === 'gauge-or-sensor' },
    { name: 'Scan', pascal: number('scan', 'actual_pressure'), liar: sensor.verdict === 'scan' },
    { name: 'Sensor, by its volts', pascal: sensor.tablePa, liar: sensor.verdict === 'sensor' },
  ];
  return (
    <div className="rounded-2xl border border-line p-3">
      <div className="grid grid-cols-3 gap-3">
        {ways.map(({ name, pascal, liar }) => (
          <div key={name}>
            <div className="label">{name}</div>
            <div className={`text-4xl font-bold ${liar ? 'text-rust' : ''}`}>
              {pressureText(pascal, unit)} <span className="text-base font-normal text-soft">{unit}</span>
            </div>
            {liar && <div className="font-semibold text-rust">differs</div>}
          </div>
        ))}
      </div>
      <p className="mt-2 font-semibold">{sensor.text}</p>
    </div>
  );
}
