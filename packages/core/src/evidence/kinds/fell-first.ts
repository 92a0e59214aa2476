import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** The current was gone, and nobody knows whether the volts were. */
const BROKE_OFF = 'broke-off';

const STATES = ['idle', 'loaded', 'cranking', 'prime'] as const;

/** What was watched together until it happens: which of volts and pressure let go first, and what the current did meanwhile. */
export const fellFirst: EvidenceKind = {
  key: 'Fell first',
  places: [
    {
      at: 'stall',
      title: 'What fell first',
      stage: 'control',
      value: wordsOf('voltage', 'pressure', 'together', 'engine'),
      states: STATES,
      howTo:
        'A meter at the pump’s feed and a gauge at the rail, both watched while it happens: the volts gone and then the pressure, the pressure with the volts steady, or the engine with both still there.',
    },
    {
      at: 'current',
      title: 'Current while it faltered',
      stage: 'control',
      value: wordsOf('gone', 'less', 'more', 'unchanged', 'with-volts', BROKE_OFF),
      states: STATES,
      howTo:
        'A clamp on the pump’s wire and a meter at its feed, both watched while it happens: the current gone with the volts there, less or more than usual, unchanged, or going with the volts; broke-off where it was gone and nobody watched the volts.',
    },
  ],
  title: ({ at, state }) =>
    at === 'current'
      ? `Watch current and volts at the pump until it happens, ${state}: what the current does`
      : `Watch volts at the pump and pressure until it happens, ${state}: what falls first`,
  minutes: () => 20,
  danger: () => 'power-path',
  foresee: ({ at, value }, scene) => told(value, sharesOf(at, value, scene)),
  probe: 'voltage',
  example: { at: 'stall', value: 'voltage', state: 'idle' },
};

function sharesOf(at: string, value: Reading['value'], scene: Scene): Answers {
  if (at !== 'current') return firstToFall(scene);
  return value === BROKE_OFF ? brokeOff(scene) : currentThen(scene);
}

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

/** A current is gone below the first share of a sound one, and another below or above the others (common practice, no published source). */
const GONE = 0.12;
const LESS = 0.9;
const MORE = 1.12;

/** By a clamp alone: what opens takes the current away, wherever it is, and hardly anything else does. */
function brokeOff({ now, sound }: Scene): Answers {
  const isOpen = now.currentA / sound.currentA < GONE;
  return isOpen ? answers({ 'flowed-on': 0.05 }, BROKE_OFF) : answers({ [BROKE_OFF]: 0.01 }, 'flowed-on');
}

/**
 * Which way current and volts go parts the pump from what feeds it, and an open pump from one that drags or runs dry. Nothing
 * flows where something does is hardly ever seen: the clamp would have to be off.
 */
function currentThen({ now, sound, vehicle: { pumpAt } }: Scene): Answers {
  if (now.volts[pumpAt] < FALLEN * sound.volts[pumpAt]) {
    return answers({ gone: 0.04, less: 0.04, more: 0.01, unchanged: 0.01 }, 'with-volts');
  }
  const share = now.currentA / sound.currentA;
  if (share < GONE) return answers({ 'with-volts': 0.04, less: 0.04, more: 0.01, unchanged: 0.01 }, 'gone');
  if (share < LESS) return answers({ 'with-volts': 0.05, gone: 0.01, more: 0.03, unchanged: 0.25 }, 'less');
  if (share > MORE) return answers({ 'with-volts': 0.03, gone: 0.005, less: 0.04, unchanged: 0.2 }, 'more');
  return answers({ 'with-volts': 0.01, gone: 0.005, less: 0.12, more: 0.08 }, 'unchanged');
}
