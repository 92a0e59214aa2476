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
  readonly stage: 'sending' | 'measuring' | 'storing';
  /** 0 to 1; absent where nobody knows. */
  readonly share?: number;
}

const ASK_EVERY_MS = 500;

/** Sends the file as it is. XMLHttpRequest, because fetch tells nothing of the progress of an upload. */
export async function upload(
  request: UploadRequest,
  onProgress: (progress: UploadProgress) => void,
  stop: AbortSignal,
): Promise<UploadOutcome> {
  const job = nanoid();
  const asking = setInterval(() => void askProgress(request.caseId, job, onProgress), ASK_EVERY_MS);
  try {
    return await send(request, job, onProgress, stop);
  } finally {
    clearInterval(asking);
  }
}

async function askProgress(caseId: string, job: string, onProgress: (progress: UploadProgress) => void) {
  const response = await fetch(`/api/cases/${caseId}/jobs/${job}`).catch(() => undefined);
  if (!response?.ok) return;
  const { stage, share } = (await response.json()) as { stage: string; share: number };
  if (stage === 'measuring') onProgress({ stage });
  if (stage === 'storing') onProgress({ stage, share });
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
    sending.onerror = () => resolve({ problem: 'The connection broke off. Nothing was stored; send the file again.' });
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
