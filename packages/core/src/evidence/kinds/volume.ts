import { InputError } from '../../errors.js';
import { onTheLine } from '../dangers.js';
import type { VolumeRecord } from '../records.js';
import type { EvidenceKind } from '../kind.js';
import { slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { refuseOthers } from '../values.js';

/** Into a measuring jar, in a measured time. */
export const volume: EvidenceKind = {
  key: 'Volume',
  places: [
    {
      at: 'rail',
      title: 'Volume into a measuring jar',
      stage: 'pressure',
      states: ['prime', 'off', 'cranking', 'idle', 'loaded', 'after-off'],
      value: {
        type: 'record',
        holds: '`{"volumeM3","durationS"}`: up to 0.1 m3, in up to ten minutes',
        read: readVolume,
        schema: {
          type: 'object',
          required: ['volumeM3', 'durationS'],
          properties: {
            volumeM3: { type: 'number', minimum: 0, maximum: 0.1 },
            durationS: { type: 'number', exclusiveMinimum: 0, maximum: 600 },
          },
        },
      },
    },
  ],
  anyState: true,
  title: () => 'Volume into a measuring jar',
  minutes: () => 12,
  cautions: onTheLine,
  danger: () => 'pressure',
  foresee: volumeParts,
  probe: { volumeM3: 0.5e-3, durationS: 15 },
  example: { value: { volumeM3: 0.0005, durationS: 15 }, state: 'prime' },
};

/** A jar of fuel, not a tanker. */
const MOST_VOLUME_M3 = 0.1;

function readVolume(value: unknown): VolumeRecord {
  const { volumeM3, durationS } = (value ?? {}) as Partial<VolumeRecord>;
  refuseOthers(value, ['volumeM3', 'durationS']);
  if (typeof volumeM3 !== 'number' || !(volumeM3 >= 0 && volumeM3 <= MOST_VOLUME_M3)) {
    throw new InputError('A volume test fills 0 to 100 litres; enter what the measuring jar shows.');
  }
  if (typeof durationS !== 'number' || !(durationS > 0 && durationS <= 600)) {
    throw new InputError('A volume test lasts up to ten minutes; enter its seconds.');
  }
  return { volumeM3, durationS };
}

/** Of the usual flow; less counts as none. */
const LEAST_FLOW = 1e-6;

/** Into a measuring jar, with next to no pressure to work against: what slips back inside a worn pump hardly shows. */
function volumeParts({ value }: Reading, scene: Scene): Part[] {
  const { volumeM3, durationS } = value as VolumeRecord;
  const of: NumberPart['of'] = ({ freeFlow }) => Math.log(Math.max(LEAST_FLOW, freeFlow));
  const sd = Math.hypot(0.2, slack(of, scene, 0.2), scene.fault.clogged ? 0.4 : 0);
  return [{ value: Math.log(Math.max(LEAST_FLOW, volumeM3 / durationS)), of, sd: Math.min(1.5, sd), range: 5 }];
}
