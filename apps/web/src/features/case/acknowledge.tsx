import type { Caution } from '@jarro/core';
import { Check, ShieldAlert } from 'lucide-react';
import { errorText, useAcknowledgeMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';

/** Shown before anything that can hurt someone; once a case. */
export function Acknowledge({ caseId, cautions }: { caseId: string; cautions: readonly Caution[] }) {
  const [acknowledge, { error, isLoading }] = useAcknowledgeMutation();
  const all = async () => {
    for (const { id } of cautions) {
      const result = await acknowledge({ caseId, caution: id });
      if ('error' in result) return;
    }
  };
  return (
    <section aria-label="Before you start" className="rounded-2xl border-2 border-ochre p-5">
      <h3 className="flex items-center gap-2 text-xl">
        <ShieldAlert aria-hidden className="size-6 text-ochre" /> Before you start
      </h3>
      <ul className="my-3 space-y-2 text-lg">
        {cautions.map(({ id, text }) => (
          <li key={id}>{text}</li>
        ))}
      </ul>
      <ErrorNotice text={errorText(error)} />
      <Button look="rust" className="text-lg" onClick={() => void all()} disabled={isLoading}>
        <Check aria-hidden className="size-5" /> Seen to it
      </Button>
    </section>
  );
}
