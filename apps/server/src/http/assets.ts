import type { ServerResponse } from 'node:http';

/** A year (RFC 9111 knows no "for ever"). */
const FOR_GOOD = 'public, max-age=31536000, immutable';
/** Kept, and asked about each time. */
const ASK_FIRST = 'no-cache';

/** What the build names by its content never changes under that name; the page that names it may at any time. */
export function cacheByName(response: ServerResponse, path: string): void {
  response.setHeader('Cache-Control', path.includes('/assets/') ? FOR_GOOD : ASK_FIRST);
}
