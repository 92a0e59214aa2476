import { answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';

/** What a meter that shows no end stands for. */
export const OPEN_OHM = 5e6;
const MOST_OHM = 1e6;
const LEADS_OHM = 0.15;

/** Off circuit. A weak test: film and lead resistance spread it; a wandering reading is a sign of its own. */
export function resistanceParts({ at, value, reference }: Reading, { vehicle, fault }: Scene): Part[] {
  const place = vehicle.profile.stations.findIndex(({ id }) => id === at);
  if (place < 0) return [];
  if (reference !== undefined) return toGround(value, fault.shortBehind !== undefined && place <= vehicle.pumpAt);
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
  if (typeof value !== 'number') return [manner];
  const open = ohm > MOST_OHM;
  const mean = Math.log((open ? MOST_OHM : ohm) + LEADS_OHM);
  return [
    manner,
    {
      value: Math.log(Math.min(MOST_OHM, Math.max(0, value)) + LEADS_OHM),
      of: () => mean,
      sd: open ? 1.5 : isPump ? 0.7 : 0.45,
      range: 17,
    },
  ];
}

/** A feed that touches ground, and one that doesn't, both its ends off (common practice, no published source). */
const TOUCHING_OHM = 1;

/** From a feed to ground, with plugs and fuse out so that nothing else joins them. */
function toGround(value: Reading['value'], touches: boolean): Part[] {
  if (typeof value !== 'number') return [];
  const mean = Math.log((touches ? TOUCHING_OHM : MOST_OHM) + LEADS_OHM);
  return [
    {
      value: Math.log(Math.min(MOST_OHM, Math.max(0, value)) + LEADS_OHM),
      of: () => mean,
      sd: touches ? 1.2 : 2.5,
      range: 17,
    },
  ];
}
