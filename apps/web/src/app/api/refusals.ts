/** Nobody answered, or only somebody who says that the server is away: what was sent may be sent again. */
export function isAway(error: unknown): boolean {
  if (typeof error !== 'object' || error === null || !('status' in error)) return false;
  const status = 'originalStatus' in error ? error.originalStatus : error.status;
  return status === 'FETCH_ERROR' || status === 'TIMEOUT_ERROR' || [502, 503, 504].includes(Number(status));
}

/** The sign-in ran out: what was sent is kept once somebody signs in again. */
export function isSignedOut(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'status' in error && error.status === 401;
}

/** The server's own words for what went wrong, or what to do when it can't be reached. */
export function errorText(error: unknown): string | undefined {
  if (!error) return undefined;
  if (typeof error === 'object' && 'data' in error) {
    const { data } = error;
    if (typeof data === 'object' && data !== null && 'detail' in data) return String(data.detail);
  }
  return 'Jarro’s server can’t be reached. Nothing is lost; try again in a moment.';
}
