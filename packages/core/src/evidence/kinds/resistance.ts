import { atTheTank } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { READ_MINUTES } from '../site.js';

/** Off circuit: a weak test, offered because people take it. */
export const resistance: EvidenceKind = {
  key: 'Ohms',
  stations: {
    value: {
      type: 'number',
      unit: 'Ω',
      least: 0,
      most: 1e9,
      beyond: 'A resistance is never negative; check the meter’s range.',
      words: ['wandering', 'open'],
    },
  },
  anyState: true,
  onPath: true,
  title: ({ name, reference }) =>
    reference === undefined ? `Ohms across ${name}, unplugged` : `Ohms from ${name} to ground, both ends off`,
  minutes: ({ access }) => access + READ_MINUTES + 1,
  cautions: atTheTank,
  danger: () => 'power-path',
  foresee: resistanceParts,
  probe: 1,
  example: { at: 'connector', value: 'wandering', state: 'off' },
};

/** What a meter that shows no end stands for. */
const OPEN_OHM = 5e6;
const MOST_OHM = 1e6;
const LEADS_OHM = 0.15;

/** The ohms of a reading; "open" is very many, and "wandering" none that could be named. */
export function ohmsOf(value: Reading['value']): number | undefined {
  return value === 'open' ? OPEN_OHM : typeof value === 'number' ? value : undefined;
}

/** Film and lead resistance spread it; a wandering reading is a sign of its own. */
function resistanceParts({ at, value, reference }: Reading, { vehicle, fault }: Scene): Part[] {
  const place = vehicle.profile.stations.findIndex(({ id }) => id === at);
  if (place < 0) return [];
  const read = ohmsOf(value);
  if (reference !== undefined) return toGround(read, fault.shortBehind !== undefined && place <= vehicle.pumpAt);
  const { pumpAt, sound } = vehicle;
  const isPump = place === pumpAt;
  const { addedOhm = 0, shorted = 0 } = fault.pump ?? {};
  const own = isPump ? sound.windingOhm * (1 - shorted) + addedOhm : sound.ohm[place];
  const ohm = own + (fault.at === at ? (fault.ohm ?? 0) : 0);
  const wanders = fault.at === at && (fault.ohm ?? 0) > 0.3 ? 0.4 : fault.commutator && isPump ? 0.2 : 0.015;
  const manner: Part = {
    value: value === 'wandering' ? 'wandering' : 'steady',
    shares: answers({ wandering: wanders }, 'steady'),
  };
  if (read === undefined) return [manner];
  const open = ohm > MOST_OHM;
  return [manner, logOhms(read, open ? MOST_OHM : ohm, open ? 1.5 : isPump ? 0.7 : 0.45)];
}

/** A feed that touches ground, and one that doesn't, both its ends off (common practice, no published source). */
const TOUCHING_OHM = 1;

/** From a feed to ground, with plugs and fuse out so that nothing else joins them. */
function toGround(read: number | undefined, touches: boolean): Part[] {
  if (read === undefined) return [];
  return [logOhms(read, touches ? TOUCHING_OHM : MOST_OHM, touches ? 1.2 : 2.5)];
}

/** Ohms are spread by a factor, whatever their size. */
function logOhms(read: number, foreseen: number, sd: number): Part {
  const mean = Math.log(foreseen + LEADS_OHM);
  return { value: Math.log(Math.min(MOST_OHM, read) + LEADS_OHM), of: () => mean, sd, range: 17 };
}
