/** Rail sensor table: volts and Pa, rising, straight between points. */
export type SensorTable = readonly (readonly [number, number])[];

/** A ratiometric sensor on 5 V: 0.5 V at no pressure, 4.5 V at full scale (common practice, no published source). */
export function ratiometricTable(fullScalePa: number): SensorTable {
  return [
    [0.5, 0],
    [4.5, fullScalePa],
  ];
}

/** Pressure for a voltage; beyond the table's ends along its last stretch. @returns undefined for a table of fewer than two points */
export function sensorPressure(volts: number, table: SensorTable): number | undefined {
  if (table.length < 2) return undefined;
  const next = table.findIndex(([v]) => v >= volts);
  const i = Math.min(table.length - 1, Math.max(1, next < 0 ? table.length - 1 : next));
  const [v0, p0] = table[i - 1];
  const [v1, p1] = table[i];
  return p0 + ((volts - v0) / (v1 - v0)) * (p1 - p0);
}

/** Which of gauge, scan value and sensor volts is wrong. */
export type SensorVerdict = 'agree' | 'sensor' | 'scan' | 'gauge-or-sensor' | 'all-differ';

/** The three-way check’s outcome. */
export interface SensorCheck {
  readonly tablePa: number;
  readonly verdict: SensorVerdict;
  /** Sensor's pressure less the gauge's, Pa. */
  readonly errorPa: number;
  readonly text: string;
}

/** Agreement of three ways to read one pressure: gauge error, table error and needle movement together (common practice). */
const AGREE = 0.06;
const AGREE_PA = 14e3;

/**
 * The three-way check: gauge, scan value, and sensor volts through its table. Whichever differs from two that agree is the
 * liar. Scan data come from the same volts, so a scan value and volts that agree against the gauge leave gauge or sensor.
 */
export function checkRailSensor(
  gaugePa: number,
  scanPa: number,
  volts: number,
  table: SensorTable,
): SensorCheck | undefined {
  const tablePa = sensorPressure(volts, table);
  if (tablePa === undefined) return undefined;
  const near = (a: number, b: number) =>
    Math.abs(a - b) <= Math.max(AGREE_PA, AGREE * Math.max(Math.abs(a), Math.abs(b)));
  const errorPa = tablePa - gaugePa;
  const result = (verdict: SensorVerdict, text: string): SensorCheck => ({ tablePa, verdict, errorPa, text });
  if (near(gaugePa, scanPa) && near(gaugePa, tablePa)) return result('agree', 'Gauge, scan and sensor agree.');
  if (near(gaugePa, tablePa)) {
    return result(
      'scan',
      'The sensor’s volts are right, yet the scan value differs: the control unit reads or shows it wrongly (reference, wiring, substitute value).',
    );
  }
  if (near(scanPa, tablePa)) {
    return errorPa < 0
      ? result(
          'sensor',
          'The sensor reads lower than the gauge, so the controller asks for more than it needs. Prove the gauge (bled, right port), then the sensor is the liar and the pump is not.',
        )
      : result(
          'sensor',
          'The sensor reads higher than the gauge, so the controller asks for too little. Prove the gauge (bled, right port), then the sensor is the liar.',
        );
  }
  if (near(gaugePa, scanPa))
    return result(
      'gauge-or-sensor',
      'Gauge and scan agree; the volts do not fit the table. Check the table is this sensor’s and the meter’s ground.',
    );
  return result('all-differ', 'No two of the three agree: repeat them at one moment, gauge bled, before judging any.');
}
