import { captureText as textOf } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';

/** What was measured of a capture of the pump current, in a line. */
export function captureText({ captures }: CaseDetail, id: string): string {
  const ramp = captures.find((one) => one.id === id)?.analysis?.ramp;
  return ramp ? textOf(ramp) : 'not measured';
}
