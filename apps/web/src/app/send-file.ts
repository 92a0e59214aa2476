import type { JobProgress } from '@jarro/api-types';
import { nanoid } from '@reduxjs/toolkit';
import { errorText } from './api';

/** How the sending of a file ended. Stopping it is an outcome, not an error. */
export type SendOutcome = { readonly id: string } | { readonly problem: string } | { readonly stopped: true };

/** What it is at: sending is known here, the rest is asked of the server. */
export interface SendProgress {
  readonly stage: 'sending' | Exclude<JobProgress['stage'], 'receiving'>;
  /** 0 to 1; absent where nobody knows. */
  readonly share?: number;
}

/** How far it is, in words. */
export function progressText({ stage, share }: SendProgress): string {
  const names = {
    sending: 'Sending',
    waiting: 'Waiting for another file',
    measuring: 'Measuring',
    checking: 'Checking',
    storing: 'Storing',
  };
  return share === undefined || share === 1 ? `${names[stage]} …` : `${names[stage]} ${Math.round(share * 100)} %`;
}

const ASK_EVERY_MS = 500;
/** How often it is asked after a break, before it is given up. */
const ASKED_AFTER_BREAK = 60;
const BROKE_OFF: SendOutcome = { problem: 'The connection broke off. Nothing was stored; send the file again.' };

/** Sends a file as it is, and waits for the job that the server makes of it. */
export async function sendFile(
  to: { readonly url: string; readonly query: Readonly<Record<string, string>>; readonly file: File },
  onProgress: (progress: SendProgress) => void,
  stop: AbortSignal,
): Promise<SendOutcome> {
  const job = nanoid();
  const asking = setInterval(() => void tellProgress(job, onProgress), ASK_EVERY_MS);
  try {
    const outcome = await send({ ...to, query: { ...to.query, job } }, onProgress, stop);
    return outcome === BROKE_OFF ? await afterBreak(job, stop) : outcome;
  } finally {
    clearInterval(asking);
  }
}

/** @returns 'none' where the server knows of no such job; undefined where it can't be reached */
async function askJob(job: string): Promise<JobProgress | 'none' | undefined> {
  const response = await fetch(`/api/jobs/${job}`).catch(() => undefined);
  if (response?.status === 404) return 'none';
  return response?.ok ? ((await response.json()) as JobProgress) : undefined;
}

async function tellProgress(job: string, onProgress: (progress: SendProgress) => void) {
  const progress = await askJob(job);
  if (progress === undefined || progress === 'none') return;
  const { state, stage, share } = progress;
  if ((state !== 'waiting' && state !== 'running') || stage === 'receiving') return;
  onProgress(share > 0 ? { stage, share } : { stage });
}

/** A file that came in whole is worked on though the connection is gone, by another server if need be. */
async function afterBreak(job: string, stop: AbortSignal): Promise<SendOutcome> {
  for (let asked = 0; asked < ASKED_AFTER_BREAK; asked++) {
    if (stop.aborted) return { stopped: true };
    const progress = await askJob(job);
    if (progress === 'none' || progress?.state === 'receiving') return BROKE_OFF;
    if (progress?.id) return { id: progress.id };
    if (progress?.problem) return { problem: progress.problem };
    await new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS));
  }
  return { problem: 'The server can’t be reached. Look whether it is there before you send the file a second time.' };
}

/** XMLHttpRequest, because fetch tells nothing of the progress of an upload. */
function send(
  { url, query, file }: Parameters<typeof sendFile>[0],
  onProgress: (progress: SendProgress) => void,
  stop: AbortSignal,
): Promise<SendOutcome> {
  return new Promise((resolve) => {
    const sending = new XMLHttpRequest();
    sending.open('POST', `${url}?${new URLSearchParams(query).toString()}`);
    sending.setRequestHeader('Content-Type', 'application/octet-stream');
    sending.upload.onprogress = ({ loaded, total }) => onProgress({ stage: 'sending', share: loaded / total });
    sending.onload = () => {
      const body = parsed(sending.responseText);
      if (sending.status < 300 && typeof body === 'object' && body !== null && 'id' in body) {
        resolve({ id: String(body.id) });
      } else resolve({ problem: errorText({ data: body }) ?? 'The file couldn’t be sent. Try again.' });
    };
    sending.onerror = () => resolve(BROKE_OFF);
    sending.onabort = () => resolve({ stopped: true });
    stop.addEventListener('abort', () => sending.abort());
    sending.send(file);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
