import { InputError } from '../../errors.js';
import { PATTERNS } from '../../measure/current/types.js';
import type { EvidenceKind } from '../kind.js';
import { answers, slack, type NumberPart, type Part, type Scene } from '../part.js';
import type { CaptureResult } from '../records.js';
import type { Reading } from '../reading.js';
import { minutesToClamp } from '../site.js';
import { ampereParts, STALLED_SHARE } from './current.js';
import { NO_CURRENT_A, patternShares } from './pattern.js';

const NUMBERS = ['meanA', 'rpm', 'ripplePercent', 'inrushPeakA', 'badBars'] as const;

/** What the ramp analysis made of a capture of the pump's current. */
export const capture: EvidenceKind = {
  key: 'Captured',
  stations: {
    value: {
      type: 'record',
      holds: `any of ${NUMBERS.join(', ')} and pattern, as \`analyze\` gives them`,
      read: readResult,
      schema: {
        type: 'object',
        properties: {
          ...Object.fromEntries(NUMBERS.map((name) => [name, { type: 'number', minimum: 0 }])),
          pattern: { enum: PATTERNS },
        },
      },
    },
    at: ['pump'],
    own: ['pump'],
  },
  title: ({ state }) => `Capture the pump current, ${state}`,
  minutes: (site) => minutesToClamp(site) + 6,
  danger: () => 'power-path',
  foresee: captureParts,
  probe: { meanA: 5, rpm: 5000, pattern: 'even' },
  example: { value: { meanA: 4.4, pattern: 'burnt-bars', badBars: 2 }, state: 'prime' },
};

function readResult(value: unknown): CaptureResult {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    throw new InputError(`A capture’s result is an object of ${NUMBERS.join(', ')} and pattern, each optional.`);
  }
  const result = value as Readonly<Record<string, unknown>>;
  const wrong = NUMBERS.find((name) => {
    const number = result[name];
    return number !== undefined && !(typeof number === 'number' && number >= 0 && Number.isFinite(number));
  });
  if (wrong) throw new InputError(`${wrong}: give a number that isn’t negative.`);
  if (result.pattern !== undefined && !(PATTERNS as readonly unknown[]).includes(result.pattern)) {
    throw new InputError(`pattern: say one of: ${PATTERNS.join(', ')}.`);
  }
  return result;
}

const LAWS = 0.1;
const RANGE_RPM = 12_000;
/** A clamp of a scope follows the first peak only so far, and the motor turns meanwhile (common practice, no published source). */
const PEAK_SEEN = 0.85;

/**
 * What the ramp analysis found, part by part. Each part is asked of every fault, of those as well under which nothing could
 * flow: one that is judged by fewer numbers than the others would win by them.
 */
function captureParts({ value }: Reading, scene: Scene): Part[] {
  const { vehicle, now, fault } = scene;
  const { meanA, rpm, pattern, ripplePercent, inrushPeakA, badBars } = value as CaptureResult;
  const parts: Part[] = meanA === undefined ? [] : ampereParts(meanA, scene);
  if (rpm !== undefined && rpm > 0) {
    const of: NumberPart['of'] = (s) => s.speed * vehicle.profile.pump.rpm;
    parts.push({ value: rpm, of, sd: Math.hypot(80, 0.05 * of(now), slack(of, scene, LAWS)), range: RANGE_RPM });
  }
  if (inrushPeakA !== undefined) {
    const of: NumberPart['of'] = (s) => (s.locked ? 1 : PEAK_SEEN) * s.stallA;
    parts.push({
      value: inrushPeakA,
      of,
      sd: Math.hypot(0.5, (now.locked ? STALLED_SHARE : 0.2) * of(now)),
      range: 60,
    });
  }
  if (pattern !== undefined) parts.push({ value: pattern, shares: patternShares(scene) });
  // A driver that switches a current makes a ripple of its own.
  if (ripplePercent !== undefined && ripplePercent > 0 && pattern !== 'pulsed')
    parts.push(ripple(ripplePercent, scene));
  if (badBars !== undefined) {
    const burnt = fault.commutator === 'burnt' || fault.commutator === 'dead-spot';
    parts.push({ value: badBars > 0 ? 'some' : 'none', shares: answers({ some: burnt ? 0.85 : 0.02 }, 'none') });
  }
  return parts;
}

/**
 * Ripple alone accuses nobody: a sound pump shows some 4 to 20 per cent, a strained or worn one more (common practice, no
 * published source); hence spreads that overlap. Of a rotor that stands only noise is left; where nothing flows none is read.
 */
function ripple(percent: number, scene: Scene): Part {
  const [usual, spread] = usualRipple(scene);
  return { value: Math.log(percent), of: () => Math.log(usual), sd: spread, range: 5 };
}

/** Per cent of the draw, and how many times more or less, as a natural logarithm. */
function usualRipple({ fault, now }: Scene): readonly [percent: number, spread: number] {
  if (now.currentA < NO_CURRENT_A) return [0.01, 0.6];
  if (now.locked) return [1, 1.2];
  if (fault.commutator === 'burnt' || fault.commutator === 'dead-spot') return [40, 0.7];
  if (fault.commutator === 'brushes') return [18, 0.8];
  return fault.pump?.drag || fault.clogged ? [13, 0.6] : [10, 0.6];
}
