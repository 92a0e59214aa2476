import { RIGHT_SIZE } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** A fuse of the right size, once, and the pump commanded: whether what blew the old one is still there. */
export const newFuse: EvidenceKind = {
  key: 'New fuse',
  stations: { value: wordsOf('holds', 'blows'), at: ['fuse', 'fusible-link'] },
  anyState: true,
  title: () => 'Fit a new fuse of the right size, once, and command the pump',
  minutes: ({ access }) => access + 1,
  cautions: () => [RIGHT_SIZE],
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, blows(scene)),
  probe: 'holds',
  example: { at: 'fuse', value: 'holds', state: 'prime' },
};

/** On a short it goes at once; a stalled or shorted pump takes longer than anybody waits. */
function blows({ fault }: Scene): Answers {
  const heavy = fault.pump?.drag === Infinity || (fault.pump?.shorted ?? 0) > 0.4;
  return answers({ blows: fault.shortBehind !== undefined ? 0.96 : heavy ? 0.2 : 0.006 }, 'holds');
}
