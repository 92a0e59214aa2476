import type { Reading, ReadingValue } from '../evidence/reading.js';

/**
 * Values that a test might give, for asking the model what each hypothesis foresees: a number tells of its kind, a record of
 * each of its parts. Which value is asked with doesn't matter.
 */
export const PROBES: Partial<Record<Reading['kind'], readonly ReadingValue[]>> = {
  capture: [{ meanA: 5, rpm: 5000, pattern: 'even' }],
  volume: [{ volumeM3: 0.5e-3, durationS: 15 }],
  hold: [
    {
      points: [
        [0, 3e5],
        [60, 2.9e5],
        [120, 2.8e5],
        [240, 2.7e5],
      ],
      blocked: 'none',
    },
  ],
  check: ['yes'],
  visual: ['clean'],
  heard: ['steady'],
  disturb: ['changed'],
  swap: ['changed'],
  bridge: ['runs'],
  'direct-feed': ['runs'],
  'module-bypass': ['runs'],
  'new-fuse': ['holds'],
  'test-light': ['off'],
};
