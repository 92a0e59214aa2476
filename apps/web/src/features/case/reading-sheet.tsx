import { KEY_STATES, type KeyState } from '@jarro/core';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { ReadingKind } from '../../app/types';
import { STATION_NAMES } from '../../app/words';
import { NumberSheet } from './number-sheet';

const KINDS = Object.keys(STATION_NAMES) as ReadingKind[];

/** Walks down the path: after each voltage the next station comes up by itself. */
export function ReadingSheet({
  caseId,
  kind,
  onKind,
  onClose,
}: {
  caseId: string;
  kind: ReadingKind;
  onKind: (kind: ReadingKind) => void;
  onClose: () => void;
}) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const current = kind === 'current';
  const keep = async (value: number, keyState: KeyState, faultPresent: boolean) => {
    const what = current ? { kind: 'current' as const, at: 'pump' } : { kind: 'voltage' as const, at: kind };
    const result = await addEntry({ caseId, ...what, value, keyState, faultPresent });
    if ('error' in result) return false;
    const next = KINDS[KINDS.indexOf(kind) + 1];
    if (next && next !== 'current') onKind(next);
    else onClose();
    return true;
  };
  return (
    <NumberSheet
      title={STATION_NAMES[kind]}
      hint={current ? 'By a clamp or meter, pump running.' : 'From battery −, by a long lead, with the pump running.'}
      unit={current ? 'A' : 'V'}
      states={KEY_STATES}
      error={errorText(error)}
      busy={isLoading}
      onKeep={keep}
      onClose={onClose}
    >
      <p className="label">
        Back-probe, don’t pierce. No open flame or sparks near fuel vapour; keep clear of moving and hot parts. Pump
        supply is on battery power: a slipped probe can short it.
      </p>
    </NumberSheet>
  );
}
