import type { ChannelSetup } from '@jarro/core';
import { errorText } from '../../app/api';

export interface UploadRequest {
  readonly caseId: string;
  readonly file: File;
  readonly label: string;
  readonly setups: Record<string, ChannelSetup>;
  readonly bars?: number | undefined;
  readonly rateHz?: number | undefined;
}

/** How an upload ended. Stopping it is an outcome, not an error. */
export type UploadOutcome = { readonly id: string } | { readonly problem: string } | { readonly stopped: true };

/** Sends the file as it is. XMLHttpRequest, because fetch tells nothing of the progress of an upload. */
export function upload(
  request: UploadRequest,
  onShare: (share: number) => void,
  stop: AbortSignal,
): Promise<UploadOutcome> {
  const query = new URLSearchParams({
    fileName: request.file.name,
    label: request.label,
    setups: JSON.stringify(request.setups),
    ...(request.bars !== undefined && { bars: String(request.bars) }),
    ...(request.rateHz !== undefined && { rateHz: String(request.rateHz) }),
  });
  return new Promise((resolve) => {
    const sending = new XMLHttpRequest();
    sending.open('POST', `/api/cases/${request.caseId}/captures?${query.toString()}`);
    sending.setRequestHeader('Content-Type', 'application/octet-stream');
    sending.upload.onprogress = ({ loaded, total }) => onShare(total > 0 ? loaded / total : 0);
    sending.onload = () => {
      const body = parsed(sending.responseText);
      if (sending.status < 300 && typeof body === 'object' && body !== null && 'id' in body)
        resolve({ id: String(body.id) });
      else resolve({ problem: errorText({ data: body }) ?? 'The upload failed. Try again.' });
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
