import { ATMOSPHERE_PA, LOW_SIDE_MOST_PA } from '../../limits/limits.js';
import type { Snapshot } from '../../physics/solve.js';
import { onTheLine } from '../dangers.js';
import type { EvidenceKind, NamedPlace } from '../kind.js';
import { answers, sigmoid, slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { minutesToPump, type Site } from '../site.js';
import type { NumberValue } from '../values.js';

/** A hand gauge, by hand on the low side only; what earlier files hold beyond that stays readable. */
export const GAUGE: NumberValue = {
  type: 'number',
  unit: 'Pa',
  least: -ATMOSPHERE_PA,
  most: LOW_SIDE_MOST_PA,
  beyond:
    'A gauge can’t read below a perfect vacuum (-101 kPa), and a hand gauge has no place above 1200 kPa: the direct-injection high side is read by scan tool only.',
  inFiles: [-ATMOSPHERE_PA, 40e6],
};
/** The valve of a port pressed for a moment: it squirts or it doesn't, and says nothing more. */
const GAUGE_OR_VALVE: NumberValue = { ...GAUGE, words: ['none', 'some'] };
const VACUUM: NumberValue = {
  ...GAUGE,
  least: 0,
  most: ATMOSPHERE_PA,
  beyond: 'A vacuum lies between 0 and 30 inHg (101 kPa).',
};

const place = (
  at: string,
  title: string,
  states: NamedPlace['states'],
  howTo?: string,
  value: NumberValue = GAUGE,
): NamedPlace => ({ at, title, stage: 'pressure', value, states, ...(howTo !== undefined && { howTo }) });

/** Read at the engine, away from fuel and the pump's circuit. */
const VACUUM_AT = 'manifold_vacuum';

/** A gauge, wherever it is fitted. */
export const pressure: EvidenceKind = {
  key: 'Pressure',
  places: [
    place(
      'dead_head',
      'Rail with the return pinched',
      ['idle', 'prime'],
      'Soft hose only, with the proper clamp, for a moment: the pressure may rise to twice and more.',
    ),
    place(
      'rail',
      'Gauge at the rail',
      ['prime', 'cranking', 'idle', 'loaded', 'after-off'],
      'Rag round the port, glasses on, air bled by cycling the key.',
      GAUGE_OR_VALVE,
    ),
    place(
      'rail_hose_off',
      'Idle, regulator hose off',
      ['idle'],
      'Look into the hose: fuel in it means a torn diaphragm.',
    ),
    place('rail_snap', 'Lowest on snap throttle', ['loaded'], 'Open fast, watch the needle: it must not sag.'),
    place('before_filter', 'Before the filter', ['idle', 'prime']),
    place('after_filter', 'After the filter', ['idle', 'prime']),
    place(
      'lift_line',
      'Between the two pumps',
      ['prime', 'idle', 'cranking', 'loaded'],
      'In the line from the lift pump to the second pump, by a tee: some tens of kilopascals are plenty there.',
    ),
    place(VACUUM_AT, 'Manifold vacuum', ['idle'], undefined, VACUUM),
  ],
  title: ({ name, state }) => `Fuel pressure at ${name}, ${state}`,
  minutes: minutesTo,
  cautions: onTheLine,
  danger: (at) => (at === VACUUM_AT ? undefined : 'pressure'),
  foresee: pressureParts,
  probe: 0,
  example: { at: 'rail', value: 45, unit: 'psi', state: 'idle' },
};

function minutesTo(site: Site): number {
  switch (site.at) {
    case 'before_filter':
    case 'after_filter':
      return 14;
    case 'dead_head':
      return 10;
    case 'lift_line':
      return minutesToPump(site) + 10;
    default:
      return 8;
  }
}

/** A needle's width and its trembling (common practice, no published source); the gauge's own class is one unknown for all of it. */
const NEEDLE_SHARE = 0.008;
const NEEDLE_PA = 2e3;
const LAWS = 0.08;

const READ: Readonly<Record<string, (s: Snapshot) => number>> = {
  rail: ({ railPa, gauge }) => railPa * gauge,
  rail_snap: ({ railPa, gauge }) => railPa * gauge,
  after_filter: ({ railPa, gauge }) => railPa * gauge,
  dead_head: ({ railPa, gauge }) => railPa * gauge,
  before_filter: ({ beforeFilterPa, gauge }) => beforeFilterPa * gauge,
  rail_hose_off: ({ hoseOffPa, gauge }) => hoseOffPa * gauge,
  manifold_vacuum: ({ vacuumPa }) => vacuumPa,
  lift_line: ({ liftPa, gauge }) => liftPa * gauge,
};

/** A gauge, wherever it is fitted. Engine off, what is left in the rail follows the last run and says little. */
function pressureParts({ at, value, keyState }: Reading, scene: Scene): Part[] {
  const of = READ[at];
  if (!of || keyState === 'off' || keyState === 'after-off') return [];
  if (typeof value !== 'number') return squirts(value, of(scene.now));
  const { sd, range } = gauged(of, scene);
  return [{ value, of, sd: at === 'dead_head' ? Math.hypot(sd, RELIEF_SHARE * of(scene.now)) : sd, range }];
}

/** Where a relief valve in the pump opens differs by so much from maker to maker (common practice, no published source). */
const RELIEF_SHARE = 0.3;

/** Spread of a pressure however it is read. */
export function gauged(of: NumberPart['of'], scene: Scene): Pick<NumberPart, 'sd' | 'range'> {
  const sd = Math.hypot(NEEDLE_PA, NEEDLE_SHARE * of(scene.now), slack(of, scene, LAWS));
  return { sd, range: 2 * scene.vehicle.profile.pump.pressurePa };
}

/** Below this a pressed valve only weeps (common practice, no published source). */
const SQUIRTS_PA = 20e3;

function squirts(value: Reading['value'], pascal: number): Part[] {
  if (typeof value !== 'string') return [];
  return [{ value, shares: answers({ none: 0.02 + 0.95 * sigmoid((SQUIRTS_PA - pascal) / 6e3) }, 'some') }];
}
