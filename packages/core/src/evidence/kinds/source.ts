import type { EvidenceKind } from '../kind.js';
import { slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { minutesToPump } from '../site.js';

/** Beyond this nothing that leaves a pump running loses volts, ohm; an open feed is foreseen there. */
const MOST_OHM = 10;

/** What the volts at the pump's feed lose for each ampere that it draws, by a record of both. */
export const source: EvidenceKind = {
  key: 'Source Ω',
  places: [
    {
      at: 'feed',
      title: 'Source resistance at the feed',
      stage: 'control',
      value: {
        type: 'number',
        unit: 'Ω',
        least: 0,
        most: MOST_OHM,
        beyond: `Between the battery and a pump that runs lie 0 to ${MOST_OHM} Ω; check the clamp’s scale.`,
      },
      states: ['prime', 'cranking', 'idle', 'loaded'],
      howTo: 'Volts at the pump’s feed and a clamp on its wire, recorded together from the start: V against I.',
    },
  ],
  title: ({ state }) => `Record the pump’s volts and current together, ${state}: what the feed loses for each ampere`,
  minutes: (site) => minutesToPump(site) + 8,
  danger: () => 'power-path',
  foresee: sourceParts,
  probe: 0,
  example: { at: 'feed', value: 0.12, state: 'prime', reference: 'battery-' },
};

/** A battery's own resistance with its posts, and what sound ones and sound looms differ by, ohm (common practice, no published source). */
const BATTERY_OHM = 0.01;
const DIFFER_OHM = 0.03;
/** A clamp's scale, contacts that differ from car to car, and other loads that move along with the pump. */
const SHARE = 0.2;
const LAWS = 0.1;

/**
 * Resistances of the supply side as seen from the feed (Thévenin; other loads load them, and a module's duty scales what lies
 * before it). From the pump's own ground pin the ground side is in it too; where nobody said it may be.
 */
function sourceParts({ value, reference }: Reading, scene: Scene): Part[] {
  if (typeof value !== 'number') return [];
  const grounded = reference === 'battery-' ? 0 : reference === 'local-ground' ? 1 : 0.5;
  const of: NumberPart['of'] = ({ feedOhm, groundOhm }) =>
    Math.min(MOST_OHM, BATTERY_OHM + feedOhm + (grounded > 0 ? grounded * groundOhm : 0));
  const unsaid = grounded === 0.5 ? Math.min(MOST_OHM, scene.now.groundOhm) / 2 : 0;
  const sd = Math.hypot(DIFFER_OHM, SHARE * of(scene.now), slack(of, scene, LAWS), unsaid);
  return [{ value, of, sd, range: MOST_OHM }];
}
