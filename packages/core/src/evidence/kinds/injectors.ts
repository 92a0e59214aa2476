import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** What each injector takes from the rail beside the others, by a record of the rail's pressure and one injector's line. */
export const injectors: EvidenceKind = {
  key: 'Injectors',
  places: [
    {
      at: 'balance',
      title: 'Injectors, side by side',
      stage: 'control',
      value: wordsOf('alike', 'one-differs'),
      states: ['idle', 'loaded', 'cranking'],
      howTo: 'The rail sensor’s signal and one injector’s line, recorded together over many engine cycles.',
    },
  ],
  title: ({ state }) => `Record the rail’s pressure and one injector, ${state}: what each injector takes`,
  minutes: () => 15,
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, sideBySide(scene)),
  probe: 'alike',
  example: { at: 'balance', value: 'one-differs', state: 'idle' },
};

/**
 * How often one injector differs, by what is wrong (common practice, no published source): a pump feeds them all alike; a rail
 * that empties may do so through an injector; what is no matter of fuel supply is one cylinder's more often.
 */
function sideBySide({ fault: { leaksDown, lacks } }: Scene): Answers {
  const differs = lacks === 'other' ? 0.25 : leaksDown !== undefined ? 0.2 : lacks === 'compression' ? 0.06 : 0.03;
  return answers({ 'one-differs': differs }, 'alike');
}
