import { fetchBaseQuery } from '@reduxjs/toolkit/query/react';

const ask = fetchBaseQuery({ baseUrl: '/api' });

/** What the server judges a case by, as it stands when this arrives. */
const JUDGED: ReadonlySet<string> = new Set(['decide', 'addRepair', 'closeCase', 'reopen', 'removeData']);

const underWay = new Set<Promise<unknown>>();

/**
 * Asks the server. What it judges a case by goes only after everything written before: an entry shows with the press of
 * its key, so a verdict or the closing that rests on it can be given before the server has it, and would be refused.
 */
export const request: typeof ask = async (what, api, options) => {
  if (api.type === 'query') return ask(what, api, options);
  if (JUDGED.has(api.endpoint)) await Promise.all(underWay);
  const sent = Promise.resolve(ask(what, api, options));
  underWay.add(sent);
  try {
    return await sent;
  } finally {
    underWay.delete(sent);
  }
};
