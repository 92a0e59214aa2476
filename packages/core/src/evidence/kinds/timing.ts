import { onTheLine } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';

/** Read at the engine, away from fuel and the pump's circuit. */
const ON_TIME = 'injector_on_time';

/** How long something takes. */
export const timing: EvidenceKind = {
  key: 'Time',
  places: [
    {
      at: ON_TIME,
      title: 'Injector on-time',
      stage: 'first-checks',
      value: {
        type: 'number',
        unit: 's',
        least: 0,
        most: 0.5,
        beyond: 'An injector on-time is below half a second; enter milliseconds.',
        inFiles: [0, 600],
      },
      states: ['cranking', 'idle'],
    },
    {
      at: 'rise_time',
      title: 'Rise to prime pressure',
      stage: 'pressure',
      value: {
        type: 'number',
        unit: 's',
        least: 0,
        most: 60,
        beyond: 'A rise time is between 0 and 60 s.',
        inFiles: [0, 600],
      },
      states: ['prime', 'cranking'],
    },
  ],
  title: ({ at, state }) => (at === ON_TIME ? `Injector on-time, ${state}` : `Time to prime pressure, ${state}`),
  minutes: ({ at }) => (at === ON_TIME ? 5 : 1),
  cautions: (site) => (site.at === ON_TIME ? [] : onTheLine(site)),
  danger: (at) => (at === ON_TIME ? undefined : 'pressure'),
  foresee: timingParts,
  probe: 0.5,
  example: { at: 'rise_time', value: 0.8, state: 'prime' },
};

/** Seconds to prime pressure: short of it, leaked empty before, sound (common practice, no published source). */
const RISES = { short: 4, empty: 1.6, sound: 0.8 } as const;

function timingParts({ at, value }: Reading, { fault, now }: Scene): Part[] {
  if (typeof value !== 'number') return [];
  if (at === ON_TIME) return [pulses(value, fault)];
  const short = now.railPa < 0.9 * now.desiredPa;
  const usual = short ? RISES.short : fault.leaksDown ? RISES.empty : RISES.sound;
  return [{ value: Math.log(Math.max(0.05, value)), of: () => Math.log(usual), sd: 0.6, range: 6 }];
}

/** An on-time at all proves that the control unit sees rotation and lets the engine start. */
function pulses(seconds: number, { lacks }: Scene['fault']): Part {
  const absent = lacks === 'injection' ? 0.9 : lacks === 'immobiliser' ? 0.7 : 0.015;
  return { value: seconds > LEAST_ON_TIME_S ? 'present' : 'absent', shares: answers({ absent }, 'present') };
}

/** Shorter than any injector opens (common practice, no published source). */
const LEAST_ON_TIME_S = 0.3e-3;
