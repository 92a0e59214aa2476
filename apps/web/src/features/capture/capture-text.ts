import type { CaseDetail } from '@jarro/api-types';
import { grouped, PATTERN_NAMES } from '../../app/words';

/** What was measured of a capture of the pump current, in a line. */
export function captureText({ captures }: CaseDetail, id: string): string {
  const ramp = captures.find((one) => one.id === id)?.analysis?.ramp;
  if (!ramp) return 'not measured';
  const { steady, rpm, pattern } = ramp;
  return [
    steady && `${steady.meanA.toFixed(2)} A`,
    steady && `ripple ${steady.ripplePercent.toFixed(0)} %`,
    rpm !== undefined && `${grouped(rpm)} rpm`,
    PATTERN_NAMES[pattern].toLowerCase(),
  ]
    .filter(Boolean)
    .join(', ');
}
