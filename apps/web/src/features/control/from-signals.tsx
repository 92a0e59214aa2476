import { describeEvidence, sentenceOf } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { useTheBench } from '../case/bench';
import { newestOffer } from '../case/signal-offers';
import { TakeOver } from '../case/take-over';

/** Duties, and what fell first, as the newest capture of them shows it. */
export function FromSignals({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const { profile } = useTheBench();
  const unit = usePressureUnit();
  const hasModule = profile.stations.some(({ kind }) => kind === 'module');
  const newest = newestOffer(item, hasModule);
  if (!newest) return null;
  const said = newest.entries.map((entry) => sentenceOf(describeEvidence(entry, profile, unit)));
  return <TakeOver item={item} {...newest} said={said.join('; ')} editable={editable} />;
}
