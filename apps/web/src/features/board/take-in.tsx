import { PackageOpen } from 'lucide-react';
import { useId, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { useNavigate } from 'react-router';
import { baseApi } from '../../app/api';
import { progressText, sendFile, type SendProgress } from '../../app/send-file';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';

/** Takes a whole case in, that another shop's Jarro gave out, or opens one from a case file. */
export function TakeIn() {
  const input = useId();
  const may = useMay();
  const navigate = useNavigate();
  const dispatch = useDispatch();
  const [problem, setProblem] = useState<string>();
  const [progress, setProgress] = useState<SendProgress>();
  const stop = useRef<AbortController>(undefined);
  if (!may('measure')) return null;
  const take = async (file: File) => {
    setProblem(undefined);
    setProgress({ stage: 'sending', share: 0 });
    stop.current = new AbortController();
    const outcome = await sendFile({ url: '/api/bundles', query: {}, file }, setProgress, stop.current.signal);
    setProgress(undefined);
    if ('problem' in outcome) setProblem(outcome.problem);
    if (!('id' in outcome)) return;
    dispatch(baseApi.util.invalidateTags(['Board']));
    await navigate(`/cases/${outcome.id}`);
  };
  return (
    <>
      <ErrorNotice text={problem} />
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
      {progress ? (
        <Button onClick={() => stop.current?.abort()}>{progressText(progress)} · stop</Button>
      ) : (
        <Button onClick={() => document.getElementById(input)?.click()}>
          <PackageOpen aria-hidden className="size-5" /> Take a case in
        </Button>
      )}
    </>
  );
}
