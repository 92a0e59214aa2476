import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { errorText, useReopenMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';

/** Back to diagnosis, with the reason on record. */
export function Reopen({ caseId, suggested = '' }: { caseId: string; suggested?: string }) {
  const [reason, setReason] = useState(suggested);
  const [reopen, { error, isLoading }] = useReopenMutation();
  const navigate = useNavigate();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const result = await reopen({ caseId, reason });
    if (!('error' in result)) void navigate(`/cases/${caseId}/power-path`);
  };
  return (
    <form onSubmit={(event) => void submit(event)} className="flex flex-wrap items-end gap-2">
      <label className="min-w-64 flex-1">
        <span className="label">Why it is opened again, and what was learned</span>
        <input
          className="input mt-1"
          required
          minLength={10}
          maxLength={500}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <Button type="submit" disabled={isLoading}>
        Reopen the case
      </Button>
      <ErrorNotice text={errorText(error)} />
    </form>
  );
}
