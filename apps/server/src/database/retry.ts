import { QueryFailedError } from 'typeorm';

const MOST_TRIES = 6;
const FIRST_PAUSE_MS = 10;

/**
 * Does it again when the database gave it up in favour of another transaction: a deadlock, or on a cluster a conflict
 * with another node. Whatever it did was rolled back, so that doing it again is safe.
 */
export async function retryDeadlocks<T>(work: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await work();
    } catch (error) {
      if (tries >= MOST_TRIES || codeOf(error) !== 'ER_LOCK_DEADLOCK') throw error;
      // Longer from try to try, and never two alike.
      const pauseMs = FIRST_PAUSE_MS * 2 ** tries * (0.5 + Math.random());
      await new Promise((resolve) => setTimeout(resolve, pauseMs));
    }
  }
}

/** The database's own name for what went wrong. */
export function codeOf(error: unknown): string | undefined {
  const cause: unknown = error instanceof QueryFailedError ? error.driverError : error;
  return typeof cause === 'object' && cause !== null && 'code' in cause ? String(cause.code) : undefined;
}
