import { fuseBefore } from '../../physics/solve.js';
import type { Station } from '../../vehicle/profile.js';
import { atTheTank } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { minutesToPump } from '../site.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

const LOOKS = wordsOf('clean', 'burnt', 'corroded', 'broken', 'cracked', 'loose', 'rubbed', 'damaged', 'wrong-part');

/** What somebody saw. */
export const visual: EvidenceKind = {
  key: 'Looked at',
  places: [
    {
      at: 'hose',
      title: 'Hose in the tank',
      stage: 'power-path',
      value: LOOKS,
      states: ['off', 'prime', 'cranking', 'idle', 'loaded', 'after-off'],
      howTo: 'With the pump in the hand: split, loose on its spigot, clamp gone.',
    },
  ],
  stations: { value: LOOKS },
  anyState: true,
  onPath: true,
  title: ({ name }) => `Look at ${name}`,
  minutes: (site) => (site.at === 'hose' ? minutesToPump(site) + 30 : Math.max(1, site.access)),
  cautions: atTheTank,
  danger: () => 'power-path',
  foresee: visualParts,
  probe: 'clean',
  example: { at: 'fuse', value: 'burnt', state: 'off' },
};

// How often a station looks so: common practice, no published source.

const WRONG = { 'wrong-part': 0.01 } as const;
const SOUND: Answers = {
  ...WRONG,
  corroded: 0.04,
  burnt: 0.006,
  broken: 0.0006,
  cracked: 0.006,
  loose: 0.01,
  rubbed: 0.008,
  damaged: 0.01,
};
const RESISTIVE: Answers = {
  ...WRONG,
  corroded: 0.25,
  burnt: 0.1,
  broken: 0.03,
  cracked: 0.02,
  loose: 0.09,
  rubbed: 0.02,
  damaged: 0.05,
};
const OPEN: Answers = {
  ...WRONG,
  corroded: 0.12,
  burnt: 0.06,
  broken: 0.28,
  cracked: 0.02,
  loose: 0.08,
  rubbed: 0.03,
  damaged: 0.06,
};
/** A fuse that let go shows it; by itself it did so most often because it was the wrong one. */
const BLOWN: Answers = { 'wrong-part': 0.12, burnt: 0.66, broken: 0.11, damaged: 0.06, corroded: 0.01 };
const BLOWN_BY_SHORT: Answers = { ...BLOWN, 'wrong-part': 0.015, burnt: 0.75 };
/** A wire that touches ground is rubbed through somewhere. */
const SHORTED: Answers = { ...WRONG, rubbed: 0.25, broken: 0.05, burnt: 0.12, damaged: 0.08, corroded: 0.05 };
const BAD_MODULE: Answers = { ...WRONG, cracked: 0.12, corroded: 0.15, burnt: 0.08, damaged: 0.06 };

/** Inside the tank, with the pump in the hand; a hole may also sit where nobody looks. */
const SPLIT_HOSE: Answers = { broken: 0.5, loose: 0.25, cracked: 0.08, damaged: 0.05 };
const SOUND_HOSE: Answers = { broken: 0.004, loose: 0.008, cracked: 0.01, damaged: 0.01 };

function visualParts({ at, value }: Reading, scene: Scene): Part[] {
  if (at === 'hose') return told(value, answers(scene.fault.split ? SPLIT_HOSE : SOUND_HOSE, 'clean'));
  const station = scene.vehicle.profile.stations.find(({ id }) => id === at);
  return station ? told(value, answers(looks(station, scene), 'clean')) : [];
}

function looks({ id, kind }: Station, { fault, vehicle }: Scene): Answers {
  const { stations } = vehicle.profile;
  const isFuse = kind === 'fuse' || kind === 'fusible-link';
  if (fault.shortBehind !== undefined) {
    const place = stations.findIndex((station) => station.id === id);
    const short = stations.findIndex((station) => station.id === fault.shortBehind);
    const nearest = fuseBefore(stations, short);
    if (place === nearest) return BLOWN_BY_SHORT;
    return place === short ? SHORTED : SOUND;
  }
  if (kind === 'module' && fault.module && !fault.module.groundOpen) return BAD_MODULE;
  if (fault.at !== id) return SOUND;
  if (fault.ohm === Infinity) return isFuse ? BLOWN : OPEN;
  return (fault.ohm ?? 0) > 0.1 ? RESISTIVE : SOUND;
}
