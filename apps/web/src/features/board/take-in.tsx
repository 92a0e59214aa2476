import { PackageOpen } from 'lucide-react';
import { useId } from 'react';
import { useNavigate } from 'react-router';
import { errorText, useTakeInMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';

/** Takes a whole case in, that another shop's Jarro gave out, or opens one from a case file. */
export function TakeIn() {
  const input = useId();
  const may = useMay();
  const navigate = useNavigate();
  const [takeIn, { error, isLoading }] = useTakeInMutation();
  if (!may('measure')) return null;
  const take = async (file: File) => {
    const result = await takeIn(file);
    if (!('error' in result)) await navigate(`/cases/${result.data.id}`);
  };
  return (
    <>
      <ErrorNotice text={errorText(error)} />
      <input
        id={input}
        type="file"
        accept=".zip,.json"
        aria-label="Case to take in"
        tabIndex={-1}
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void take(file);
          event.target.value = '';
        }}
      />
      <Button disabled={isLoading} onClick={() => document.getElementById(input)?.click()}>
        <PackageOpen aria-hidden className="size-5" /> {isLoading ? 'Checking and storing …' : 'Take a case in'}
      </Button>
    </>
  );
}
