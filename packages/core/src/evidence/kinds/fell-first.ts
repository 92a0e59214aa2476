import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** A meter at the pump's feed and a gauge, watched together until it happens: which of them let go first. */
export const fellFirst: EvidenceKind = {
  key: 'Fell first',
  places: [
    {
      at: 'stall',
      title: 'What fell first',
      stage: 'control',
      value: wordsOf('voltage', 'pressure', 'together', 'engine'),
      states: ['idle', 'loaded', 'cranking', 'prime'],
      howTo:
        'A meter at the pump’s feed and a gauge at the rail, both watched while it happens: the volts gone and then the pressure, the pressure with the volts steady, or the engine with both still there.',
    },
  ],
  title: ({ state }) => `Watch volts at the pump and pressure until it happens, ${state}: what falls first`,
  minutes: () => 20,
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, firstToFall(scene)),
  probe: 'voltage',
  example: { at: 'stall', value: 'voltage', state: 'idle' },
};

/** Volts at the feed, or pressure, count as fallen below this share of what a sound vehicle has (common practice, no published source). */
const FALLEN = 0.75;

/** Electricity is faster than fuel: volts that fail take the pressure with them a moment later, never the other way. */
function firstToFall({ now, sound, vehicle: { pumpAt } }: Scene): Answers {
  const volts = now.volts[pumpAt] < FALLEN * sound.volts[pumpAt];
  const pressure = now.railPa < FALLEN * sound.railPa;
  if (volts) return answers({ together: 0.1, pressure: 0.04, engine: 0.03 }, 'voltage');
  if (pressure) return answers({ together: 0.05, voltage: 0.02, engine: 0.05 }, 'pressure');
  return answers({ voltage: 0.03, pressure: 0.05, together: 0.03 }, 'engine');
}
