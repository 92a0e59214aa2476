import type { Response } from 'express';

/** Aborts when whoever waits for an answer has gone. */
export function goneOf(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => {
    if (!response.writableFinished) gone.abort();
  });
  return gone.signal;
}
