import { InputError } from '@jarro/core';

/**
 * Runs work that stops at a signal, for so long at most.
 * @param refusal what to say when it takes longer
 * @param gone aborts it when nobody waits for it any more
 * @throws InputError with the refusal
 */
export async function limited<T>(
  limitMs: number,
  refusal: string,
  gone: AbortSignal | undefined,
  work: (signal: AbortSignal) => Promise<T>,
): Promise<T> {
  const late = AbortSignal.timeout(limitMs);
  try {
    return await work(gone ? AbortSignal.any([gone, late]) : late);
  } catch (error) {
    if (late.aborted && !gone?.aborted) throw new InputError(refusal, { cause: error });
    throw error;
  }
}
