import type { CaseDetail } from '@jarro/api-types';
import { useMay } from '../session/use-may';
import { takesReadings } from './evidence';

/** Whether whoever is signed in may add readings to this case as it stands. */
export function useMayMeasure(item: CaseDetail): boolean {
  return useMay()('measure') && takesReadings(item);
}
