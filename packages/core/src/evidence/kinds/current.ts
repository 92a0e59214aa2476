import type { CaptureResult, Reading } from '../reading.js';
import { answers, slack, type Answers, type NumberPart, type Part, type Scene } from '../part.js';

/** A clamp's zero and share, and what pumps of one kind differ by beyond their rating (common practice, no published source). */
const CLAMP_A = 0.08;
const CLAMP_SHARE = 0.035;
const LAWS = 0.1;
const RANGE_A = 30;

export function ampereParts({ value }: Pick<Reading, 'value'>, scene: Scene): Part[] {
  if (typeof value !== 'number') return [];
  const of: NumberPart['of'] = (s) => s.currentA;
  return [{ value, of, sd: Math.hypot(CLAMP_A, CLAMP_SHARE * of(scene.now), slack(of, scene, LAWS)), range: RANGE_A }];
}

const RANGE_RPM = 12_000;
/** A clamp of a scope follows the first peak only so far, and the motor turns meanwhile (common practice, no published source). */
const PEAK_SEEN = 0.85;

/** What the ramp analysis found, part by part. */
export function captureParts({ value }: Pick<Reading, 'value'>, scene: Scene): Part[] {
  const { vehicle, now, fault } = scene;
  const { meanA, rpm, pattern, ripplePercent, inrushPeakA, badBars } = value as CaptureResult;
  const parts: Part[] = meanA === undefined ? [] : ampereParts({ value: meanA }, scene);
  if (rpm !== undefined && rpm > 0) {
    const of: NumberPart['of'] = (s) => s.speed * vehicle.profile.pump.rpm;
    parts.push({ value: rpm, of, sd: Math.hypot(80, 0.05 * of(now), slack(of, scene, LAWS)), range: RANGE_RPM });
  }
  if (inrushPeakA !== undefined && now.stallA > 0) {
    const of: NumberPart['of'] = (s) => (s.locked ? 1 : PEAK_SEEN) * s.stallA;
    parts.push({ value: inrushPeakA, of, sd: Math.hypot(0.5, 0.2 * of(now)), range: 60 });
  }
  if (pattern !== undefined) parts.push({ value: pattern, shares: patternShares(scene) });
  if (ripplePercent !== undefined && ripplePercent > 0 && now.currentA > 0.2) parts.push(ripple(ripplePercent, scene));
  if (badBars !== undefined) {
    const burnt = fault.commutator === 'burnt' || fault.commutator === 'dead-spot';
    parts.push({ value: badBars > 0 ? 'some' : 'none', shares: answers({ some: burnt ? 0.85 : 0.02 }, 'none') });
  }
  return parts;
}

/**
 * Ripple alone accuses nobody: a sound pump shows some 4 to 20 per cent, a strained or worn one more (common practice, no
 * published source); hence spreads that overlap.
 */
function ripple(percent: number, { fault }: Scene): Part {
  const [usual, spread] =
    fault.commutator === 'burnt' || fault.commutator === 'dead-spot'
      ? [40, 0.7]
      : fault.commutator === 'brushes'
        ? [18, 0.8]
        : fault.pump?.drag || fault.clogged
          ? [13, 0.6]
          : [10, 0.6];
  return { value: Math.log(percent), of: () => Math.log(usual), sd: spread, range: 5 };
}

function patternShares({ fault, now, vehicle }: Scene): Answers {
  if (now.currentA < 0.15) return answers({ even: 0.005, irregular: 0.02 }, 'no-current');
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
