import { describeEvidence, sentenceOf, signalEntries } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { useTheBench } from '../case/bench';
import { standingCaptures } from '../case/evidence';
import { momentOf, TakeOver } from '../case/take-over';

/** Duties, and what fell first, as the newest capture of them shows it. */
export function FromSignals({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const { profile } = useTheBench();
  const unit = usePressureUnit();
  const hasModule = profile.stations.some(({ kind }) => kind === 'module');
  const offers = standingCaptures(item).flatMap((capture) => {
    const told = capture.analysis ? signalEntries(capture.analysis, momentOf(capture).keyState) : [];
    // A path without a module has no lines for a duty or a sweep to be of.
    const entries = told.filter(({ kind }) => hasModule || (kind !== 'duty' && kind !== 'sweep'));
    return entries.length > 0 ? [{ capture, entries }] : [];
  });
  const newest = offers.at(-1);
  if (!newest) return null;
  const said = newest.entries.map((entry) => sentenceOf(describeEvidence(entry, profile, unit)));
  return <TakeOver item={item} {...newest} said={said.join('; ')} editable={editable} />;
}
