import { useState } from 'react';
import { errorText, useVoidEntryMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';

/** Evidence is never edited: a wrong entry is voided with its reason and stays on record. */
export function VoidEntry({ caseId, id }: { caseId: string; id: string }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const [voidEntry, { error, isLoading }] = useVoidEntryMutation();
  const submit = async () => {
    const result = await voidEntry({ caseId, id, reason });
    if (!('error' in result)) setOpen(false);
  };
  return (
    <>
      <Button look="bare" onClick={() => setOpen(true)}>
        Void
      </Button>
      <Sheet
        title="Void this entry"
        hint="It stays on record, struck through, with your reason."
        open={open}
        onClose={() => setOpen(false)}
      >
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            void submit();
          }}
        >
          <label className="block">
            <span className="label">Why is it wrong?</span>
            <input
              autoFocus
              required
              minLength={3}
              maxLength={300}
              className="input mt-1"
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
          <ErrorNotice text={errorText(error)} />
          <Button type="submit" look="ink" disabled={isLoading}>
            Void it
          </Button>
        </form>
      </Sheet>
    </>
  );
}
