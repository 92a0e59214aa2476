import { describeEvidence, sentenceOf } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Acknowledge } from '../case/acknowledge';
import { useTheBench } from '../case/bench';
import { openCautions } from '../case/cautions';
import { newestOffer } from '../case/signal-offers';
import { TakeOver } from '../case/take-over';

/** Duties, and what fell first, as the newest capture of them shows it. */
export function FromSignals({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const { profile } = useTheBench();
  const unit = usePressureUnit();
  const newest = newestOffer(item, profile.stations);
  if (!newest) return null;
  const said = newest.entries.map((entry) => sentenceOf(describeEvidence(entry, profile, unit)));
  // The server keeps nothing that is measured on the running circuit before its cautions were seen.
  const ahead = editable ? openCautions(item, 'power-path') : [];
  return (
    <>
      <TakeOver item={item} {...newest} said={said.join('; ')} editable={editable && ahead.length === 0} />
      {ahead.length > 0 && <Acknowledge caseId={item.id} cautions={ahead} />}
    </>
  );
}
