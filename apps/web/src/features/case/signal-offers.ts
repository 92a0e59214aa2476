import { moduleSupply, signalEntries, type CaptureEntry, type Station } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { momentOf, standingCaptures, type LinkedCapture } from './evidence';

export interface SignalOffer {
  readonly capture: LinkedCapture;
  readonly entries: readonly CaptureEntry[];
}

/** The newest of a case's captures that measured what may be taken among its readings, and what that is. */
export function newestOffer(item: CaseDetail, stations: readonly Station[]): SignalOffer | undefined {
  const hasModule = stations.some(({ kind }) => kind === 'module');
  const offers = standingCaptures(item).flatMap((capture) => {
    const told = capture.analysis
      ? signalEntries(capture.analysis, momentOf(capture).keyState, moduleSupply(stations))
      : [];
    // A path without a module has no lines for a duty or a sweep to be of.
    const entries = told.filter(({ kind }) => hasModule || (kind !== 'duty' && kind !== 'sweep'));
    return entries.length > 0 ? [{ capture, entries }] : [];
  });
  return offers.at(-1);
}
