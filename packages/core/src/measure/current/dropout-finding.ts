import { finding, type Finding } from '../../limits/limits.js';
import type { Dropout } from './dropouts.js';
import { note, often, type FindingContext } from './finding-context.js';
import type { RampResult } from './types.js';

/** Longer than this no brush jumps off a bar of a pump that runs, s. */
const LONG_S = 0.01;
const isLong = ({ startS, endS }: Dropout) => endS - startS > LONG_S;
const lastsMs = ({ startS, endS }: Dropout) => ((endS - startS) * 1000).toFixed(0);
const BESIDE_VOLTS =
  'Record the voltage at the pump with it: if that stays, the brushes are off the bars; if it falls, the feed is breaking.';

export function dropoutFinding(ramp: RampResult, { breaksS = [], deadShare }: FindingContext): Finding | undefined {
  const { dropouts, pattern } = ramp;
  const random = dropouts.filter((dropout) => !dropout.locked);
  const locked = dropouts.filter((dropout) => dropout.locked);
  if (dropouts.length === 0) return undefined;
  const longest = dropouts.reduce((a, b) => (b.endS - b.startS > a.endS - a.startS ? b : a));
  switch (pattern) {
    case 'dead-stretch': {
      const everyTurn = deadShare !== undefined && locked.length > random.length;
      return finding(
        'dead-stretch',
        'act',
        everyTurn
          ? `Through ${Math.round(100 * deadShare)} % of every turn no current flows: the brushes meet dead bars and the rotor coasts across them. If it stops there it may not start again; a tap on the tank wakes it, which is a test and no repair.`
          : `The current is gone for ${lastsMs(longest)} ms, again and again, while the pump should run. ${BESIDE_VOLTS}`,
        note('Flat zero stretches: brushes off the bars, motor coasting on momentum'),
        [longest.startS, longest.endS],
      );
    }
    case 'brush-bounce':
      return finding(
        'brush-bounce',
        'keep-in-mind',
        `The current breaks for less than a bar's passing, ${often(random.length, ramp)}, at no fixed place of the turn: brushes that bounce, worn or on a rough commutator. Record the voltage at the pump with it: if that falls along, it is the feed.`,
        note('Random ups and downs are brush bounce or a bad connection'),
        [random[0].startS, random[0].endS],
      );
    case 'random-dropouts':
      // What breaks off and starts anew is said by itself.
      if (breaksS.length > 0) return undefined;
      if (isLong(longest)) {
        const gone = random.filter(isLong).length;
        const times = gone === 1 ? 'once' : `${gone} times, longest`;
        return finding(
          'current-gone',
          'act',
          `The current is gone ${times} for ${lastsMs(longest)} ms while the pump should run. ${BESIDE_VOLTS}`,
          note(
            'Ups and downs that don’t come with the turn are brushes or a connection; the voltage beside them tells which',
          ),
          [longest.startS, longest.endS],
        );
      }
      return finding(
        'random-dropouts',
        'keep-in-mind',
        `${random.length} dropouts, ${often(random.length, ramp)}, at no fixed place of the turn: brush bounce or a bad connection. Record the voltage at the pump together with the current to tell which.`,
        note('Random ups and downs are brush bounce or a bad connection'),
        [random[0].startS, random[0].endS],
      );
    default:
      return undefined;
  }
}
