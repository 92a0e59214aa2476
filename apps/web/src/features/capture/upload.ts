import type { JobProgress } from '@jarro/api-types';
import type { ChannelSetup, KeyState } from '@jarro/core';
import { nanoid } from '@reduxjs/toolkit';
import { errorText } from '../../app/api';

export interface UploadRequest {
  readonly caseId: string;
  readonly file: File;
  readonly label: string;
  readonly setups: Record<string, ChannelSetup>;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
  readonly bars?: number | undefined;
  readonly rateHz?: number | undefined;
}

/** How an upload ended. Stopping it is an outcome, not an error. */
export type UploadOutcome = { readonly id: string } | { readonly problem: string } | { readonly stopped: true };

/** What an upload is at: sending is known here, the rest is asked of the server. */
export interface UploadProgress {
  readonly stage: 'sending' | 'waiting' | 'measuring' | 'storing';
  /** 0 to 1; absent where nobody knows. */
  readonly share?: number;
}

const ASK_EVERY_MS = 500;
/** How often it is asked after a break, before it is given up. */
const ASKED_AFTER_BREAK = 60;
const BROKE_OFF: UploadOutcome = { problem: 'The connection broke off. Nothing was stored; send the file again.' };

/** Sends the file as it is. XMLHttpRequest, because fetch tells nothing of the progress of an upload. */
export async function upload(
  request: UploadRequest,
  onProgress: (progress: UploadProgress) => void,
  stop: AbortSignal,
): Promise<UploadOutcome> {
  const job = nanoid();
  const asking = setInterval(() => void tellProgress(request.caseId, job, onProgress), ASK_EVERY_MS);
  try {
    const outcome = await send(request, job, onProgress, stop);
    return outcome === BROKE_OFF ? await afterBreak(request.caseId, job, stop) : outcome;
  } finally {
    clearInterval(asking);
  }
}

async function askJob(caseId: string, job: string): Promise<JobProgress | undefined> {
  const response = await fetch(`/api/cases/${caseId}/jobs/${job}`).catch(() => undefined);
  return response?.ok ? ((await response.json()) as JobProgress) : undefined;
}

async function tellProgress(caseId: string, job: string, onProgress: (progress: UploadProgress) => void) {
  const progress = await askJob(caseId, job);
  if (progress?.state !== 'waiting' && progress?.state !== 'running') return;
  const { stage, share } = progress;
  if (stage === 'storing') onProgress({ stage, share });
  else if (stage !== 'receiving') onProgress({ stage });
}

/** A file that came in whole is measured though the connection is gone, by another server if need be. */
async function afterBreak(caseId: string, job: string, stop: AbortSignal): Promise<UploadOutcome> {
  for (let asked = 0; asked < ASKED_AFTER_BREAK; asked++) {
    if (stop.aborted) return { stopped: true };
    const progress = await askJob(caseId, job);
    if (progress?.id) return { id: progress.id };
    if (progress?.problem) return { problem: progress.problem };
    if (progress?.state === 'receiving') return BROKE_OFF;
    await new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS));
  }
  return { problem: 'The server can’t be reached. Look at the case again before you send the file a second time.' };
}

function send(
  request: UploadRequest,
  job: string,
  onProgress: (progress: UploadProgress) => void,
  stop: AbortSignal,
): Promise<UploadOutcome> {
  const query = new URLSearchParams({
    job,
    fileName: request.file.name,
    label: request.label,
    setups: JSON.stringify(request.setups),
    keyState: request.keyState,
    faultPresent: String(request.faultPresent),
    ...(request.bars !== undefined && { bars: String(request.bars) }),
    ...(request.rateHz !== undefined && { rateHz: String(request.rateHz) }),
  });
  return new Promise((resolve) => {
    const sending = new XMLHttpRequest();
    sending.open('POST', `/api/cases/${request.caseId}/captures?${query.toString()}`);
    sending.setRequestHeader('Content-Type', 'application/octet-stream');
    sending.upload.onprogress = ({ loaded, total }) => onProgress({ stage: 'sending', share: loaded / total });
    sending.onload = () => {
      const body = parsed(sending.responseText);
      if (sending.status < 300 && typeof body === 'object' && body !== null && 'id' in body) {
        resolve({ id: String(body.id) });
      } else resolve({ problem: errorText({ data: body }) ?? 'The upload failed. Try again.' });
    };
    sending.onerror = () => resolve(BROKE_OFF);
    sending.onabort = () => resolve({ stopped: true });
    stop.addEventListener('abort', () => sending.abort());
    sending.send(request.file);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
