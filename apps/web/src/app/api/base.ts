import { createApi } from '@reduxjs/toolkit/query/react';
import { request } from '../requests';

/** Everything asked of the server, cached by what it is about. Each file beside this one adds what it asks. */
export const baseApi = createApi({
  baseQuery: request,
  tagTypes: ['Me', 'Board', 'Case', 'People', 'Audit', 'SetUp', 'System', 'Tool', 'Shelf', 'Backup'],
  endpoints: () => ({}),
});

/** What changes with a case's evidence. */
export const caseAndBoard = (_result: unknown, _error: unknown, { caseId }: { caseId: string }) => [
  { type: 'Case' as const, id: caseId },
  'Board' as const,
];
