import { PATTERNS } from '../../measure/current/types.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import { minutesToClamp } from '../site.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** A current's pattern as somebody read it off a scope's own screen, without a file of it. */
export const pattern: EvidenceKind = {
  key: 'Scope screen',
  stations: { value: wordsOf(...PATTERNS), at: ['pump'], own: ['pump'] },
  title: ({ state }) => `Pattern of the pump current on the scope’s screen, ${state}`,
  minutes: (site) => minutesToClamp(site) + 6,
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, patternShares(scene)),
  probe: 'even',
  example: { value: 'even', state: 'idle' },
};

/** Less than this is no current that a pattern could be seen in (common practice, no published source). */
export const NO_CURRENT_A = 0.15;

/** What a pattern is by what is wrong (common practice, no published source). */
export function patternShares({ fault, now, vehicle }: Scene): Answers {
  if (now.currentA < NO_CURRENT_A) return answers({ even: 0.005, irregular: 0.02 }, 'no-current');
  const chopped = vehicle.moduleAt >= 0 && now.output < 0.98 ? 0.2 : 0.004;
  switch (fault.commutator) {
    case 'burnt':
      return answers(
        {
          even: 0.04,
          'random-dropouts': 0.04,
          irregular: 0.04,
          'locked-notch': 0.3,
          'dead-stretch': 0.2,
          pulsed: chopped / 4,
        },
        'burnt-bars',
      );
    case 'dead-spot':
      return answers(
        { even: 0.08, 'burnt-bars': 0.25, 'locked-notch': 0.15, 'brush-bounce': 0.05, 'no-current': 0.1 },
        'dead-stretch',
      );
    case 'brushes':
      return answers(
        {
          even: 0.5,
          irregular: 0.08,
          'burnt-bars': 0.04,
          'locked-notch': 0.04,
          'dead-stretch': 0.08,
          'random-dropouts': 0.12,
        },
        'brush-bounce',
      );
    case undefined:
  }
  if (now.locked) return answers({ even: 0.1, irregular: 0.25, 'no-current': 0.02, pulsed: 0.02 }, 'locked-rotor');
  const loose = fault.at !== undefined && (fault.ohm ?? 0) > 0.3;
  return answers(
    {
      'random-dropouts': loose ? 0.12 : 0.015,
      'brush-bounce': loose ? 0.04 : 0.01,
      'locked-rotor': 0.002,
      'locked-notch': 0.01,
      'burnt-bars': 0.003,
      'dead-stretch': 0.002,
      'no-current': 0.003,
      irregular: 0.05,
      pulsed: chopped,
    },
    'even',
  );
}
