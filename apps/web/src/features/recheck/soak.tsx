import { caseSoak, NOT_POSSIBLE, type SoakWorth } from '@jarro/core';
import { useState, type FormEvent } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import { readNumber } from '../../app/units';
import type { CaseDetail } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { isRechecked } from '../case/evidence';
import { useMayMeasure } from '../case/use-may-measure';

/** How long a fault that comes and goes was waited for, and what its silence is worth. */
export function Soak({ item }: { item: CaseDetail }) {
  const [minutes, setMinutes] = useState('');
  const [drops, setDrops] = useState('');
  const [problem, setProblem] = useState<string>();
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const editable = useMayMeasure(item);
  const repaired = isRechecked(item);
  const keep = async (value: unknown) => {
    const entry = { kind: 'soak', at: 'vehicle', value, keyState: 'idle', faultPresent: !repaired } as const;
    const result = await addEntry({ caseId: item.id, ...entry });
    if ('error' in result) return;
    setMinutes('');
    setDrops('');
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const [ran, came] = [readNumber(minutes), readNumber(drops)];
    if (ran === undefined || came === undefined) return setProblem('Type the minutes and the drops as numbers.');
    setProblem(undefined);
    void keep({ minutes: ran, drops: came });
  };
  const worth = caseSoak(item.evidence, item.stage);
  return (
    <section aria-label="Soak" className="space-y-2">
      <h3 className="text-xl">Soak, for a fault that comes and goes</h3>
      <p
        className={
          worth.after.drops > 0
            ? 'font-semibold text-rust'
            : worth.enough && worth.before.drops > 0 && repaired
              ? 'text-mineral'
              : ''
        }
      >
        {soakText(worth, repaired)}
      </p>
      {editable && (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
          <Field
            label="Minutes it ran as it failed before"
            width="w-64"
            inputMode="decimal"
            required
            value={minutes}
            onChange={(event) => setMinutes(event.target.value)}
          />
          <Field
            label="Drops counted"
            width="w-32"
            inputMode="numeric"
            required
            value={drops}
            onChange={(event) => setDrops(event.target.value)}
          />
          <Button type="submit" disabled={isLoading}>
            Keep this soak
          </Button>
          {repaired && worth.before.drops > 0 && (
            <Button look="bare" disabled={isLoading} onClick={() => void keep(NOT_POSSIBLE)}>
              A soak can’t be done here
            </Button>
          )}
          <ErrorNotice text={problem ?? errorText(error)} />
        </form>
      )}
    </section>
  );
}

function soakText({ before, after, enoughMinutes, quietByChance }: SoakWorth, repaired: boolean): string {
  const rate = `Before the repair it came ${before.drops} times in ${before.minutes} minutes.`;
  if (!repaired) {
    return before.drops > 0
      ? `${rate.replace('Before the repair it', 'It')} ${Math.ceil(enoughMinutes ?? 0)} minutes without a drop will prove the repair.`
      : 'Count how often it comes now: only then does its silence after the repair prove anything.';
  }
  if (after.drops > 0) return 'The fault came back during the soak.';
  if (before.drops === 0) return 'No drop was counted before the repair, so a quiet run proves nothing by itself.';
  if (after.minutes === 0) {
    return `${rate} Let it run ${Math.ceil(enoughMinutes ?? 0)} minutes without a drop: then the old fault would have kept quiet by chance in one of twenty cases only.`;
  }
  const percent = Math.max(1, Math.round(100 * (quietByChance ?? 1)));
  const left = Math.ceil((enoughMinutes ?? 0) - after.minutes);
  return `${rate} It kept quiet for ${after.minutes} minutes since; with the old fault that happens in ${percent} of 100 cases.${left > 0 ? ` ${left} minutes more are enough.` : ''}`;
}
