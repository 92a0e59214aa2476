import { ATMOSPHERE_PA } from '../../limits/limits.js';
import type { EvidenceKind, NamedPlace } from '../kind.js';
import type { NumberPart, Part, Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { sensorPressure } from '../../vehicle/rail-sensor.js';
import { tableOutput } from '../../vehicle/command-table.js';
import type { NumberValue } from '../values.js';
import { dutyPart, feedbackParts, PERCENT } from './duty.js';
import { gauged } from './pressure.js';

const RAIL: NumberValue = {
  type: 'number',
  unit: 'Pa',
  least: -ATMOSPHERE_PA,
  most: 40e6,
  beyond: 'No rail pressure is below a perfect vacuum or above 40 MPa; check the unit.',
};
/** SAE J1979 fuel trim: (A - 128) x 100/128 %, so -100 to +99.2 % (from memory). */
const TRIM: NumberValue = {
  type: 'number',
  unit: '%',
  least: -100,
  most: 100,
  beyond: 'A fuel trim lies between -100 and +99.2 %.',
};
const SENSOR_VOLTS: NumberValue = {
  type: 'number',
  unit: 'V',
  least: 0,
  most: 6,
  beyond: 'A rail sensor answers between 0 and 5 V.',
  inFiles: [-60, 60],
};

const ANY = ['idle', 'prime', 'cranking', 'loaded'] as const;
const RUNNING = ['idle', 'loaded'] as const;
const place = (at: string, title: string, value: NumberValue, states: NamedPlace['states'] = ANY): NamedPlace => ({
  at,
  title,
  stage: 'pressure',
  value,
  states,
});

/** Inside the sentence that asks for it. */
const NAMES: Readonly<Record<string, string>> = {
  commanded_duty: 'Duty commanded',
  feedback_duty: 'Feedback duty',
  desired_pressure: 'Rail pressure asked for',
  actual_pressure: 'Rail pressure',
  sensor_volts: 'Rail sensor volts',
  long_trim: 'Long-term trim',
  short_trim: 'Short-term trim',
};

/** What the scan tool shows. */
export const scan: EvidenceKind = {
  key: 'Scan data',
  places: [
    place('commanded_duty', 'Pump duty, commanded', PERCENT),
    place('feedback_duty', 'Pump duty, feedback', PERCENT),
    place('desired_pressure', 'Rail pressure, desired', RAIL),
    place('actual_pressure', 'Rail pressure, actual', RAIL),
    place('sensor_volts', 'Rail sensor volts', SENSOR_VOLTS),
    place('short_trim', 'Short-term trim', TRIM, RUNNING),
    place('long_trim', 'Long-term trim', TRIM, RUNNING),
  ],
  title: ({ at, state }) => `${NAMES[at] ?? at} by scan tool, ${state}`,
  minutes: () => 3,
  danger: () => undefined,
  foresee: scanParts,
  probe: 0,
  example: { at: 'commanded_duty', value: 23, state: 'idle' },
};

const TRIM_RANGE = 100;

function scanParts({ at, value }: Reading, scene: Scene): Part[] {
  const { vehicle, now, fault } = scene;
  const { sensorTable, commandTable, pump } = vehicle.profile;
  if (typeof value !== 'number') return [];
  switch (at) {
    case 'commanded_duty':
      return vehicle.moduleAt < 0 ? [] : [dutyPart(tableOutput(commandTable, value) / 100, ({ wish }) => wish, scene)];
    case 'feedback_duty':
      return feedbackParts(value, scene);
    case 'desired_pressure': {
      const of: NumberPart['of'] = ({ desiredPa }) => desiredPa;
      return [{ value, of, sd: 0.08 * pump.pressurePa, range: 2 * pump.pressurePa }];
    }
    case 'actual_pressure': {
      const of: NumberPart['of'] = ({ sensedPa }) => sensedPa;
      return [{ value, of, ...gauged(of, scene) }];
    }
    case 'sensor_volts': {
      const pascal = sensorTable && sensorPressure(value, sensorTable);
      const of: NumberPart['of'] = ({ sensedPa }) => sensedPa;
      return pascal === undefined ? [] : [{ value: pascal, of, ...gauged(of, scene) }];
    }
    case 'long_trim': {
      // Fuel arrives as the root of the pressure across the injectors (Bernoulli); what is missing is added by the trim.
      const of: NumberPart['of'] = ({ hoseOffPa, desiredPa }) => {
        const arrives = Math.sqrt(Math.max(0.1, hoseOffPa / desiredPa));
        return Math.max(-35, Math.min(45, 100 * (1 / arrives - 1))) + (fault.lacks === 'air' ? 18 : 0);
      };
      return [{ value, of, sd: Math.hypot(5, 0.35 * of(now)), range: TRIM_RANGE }];
    }
    default:
      return [];
  }
}
