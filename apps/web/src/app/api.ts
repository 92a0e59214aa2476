import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { BoardCase, CaseDetail, KeyState, Me, ReadingKind, VerdictKind } from './types';

/** Everything asked of the server, cached by what it is about. */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: ['Me', 'Board', 'Case'],
  endpoints: (build) => ({
    me: build.query<Me, void>({ query: () => 'session', providesTags: ['Me'] }),
    signIn: build.mutation<void, { email: string; password: string }>({
      query: (body) => ({ url: 'session', method: 'POST', body }),
      invalidatesTags: ['Me', 'Board', 'Case'],
    }),
    signOut: build.mutation<void, void>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      invalidatesTags: ['Me', 'Board', 'Case'],
    }),
    board: build.query<BoardCase[], void>({ query: () => 'cases', providesTags: ['Board'] }),
    openCase: build.mutation<
      { id: string },
      { model: string; year?: number; engine: string; plate: string; complaint: string }
    >({
      query: (body) => ({ url: 'cases', method: 'POST', body }),
      invalidatesTags: ['Board'],
    }),
    caseDetail: build.query<CaseDetail, string>({
      query: (id) => `cases/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'Case', id }],
    }),
    addReading: build.mutation<
      { id: string },
      { caseId: string; kind: ReadingKind; value: number; keyState: KeyState; faultPresent: boolean }
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/readings`, method: 'POST', body }),
      invalidatesTags: (_result, _error, { caseId }) => [{ type: 'Case', id: caseId }, 'Board'],
    }),
    voidEvidence: build.mutation<void, { caseId: string; what: 'readings' | 'captures'; id: string; reason: string }>({
      query: ({ caseId, what, id, reason }) => ({
        url: `cases/${caseId}/${what}/${id}/void`,
        method: 'POST',
        body: { reason },
      }),
      invalidatesTags: (_result, _error, { caseId }) => [{ type: 'Case', id: caseId }, 'Board'],
    }),
    decide: build.mutation<
      { id: string },
      { caseId: string; kind: VerdictKind; statement: string; overrideReason?: string }
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/verdicts`, method: 'POST', body }),
      invalidatesTags: (_result, _error, { caseId }) => [{ type: 'Case', id: caseId }, 'Board'],
    }),
    reopen: build.mutation<void, string>({
      query: (id) => ({ url: `cases/${id}/reopen`, method: 'POST' }),
      invalidatesTags: (_result, _error, id) => [{ type: 'Case', id }, 'Board'],
    }),
  }),
});

export const {
  useMeQuery,
  useSignInMutation,
  useSignOutMutation,
  useBoardQuery,
  useOpenCaseMutation,
  useCaseDetailQuery,
  useAddReadingMutation,
  useVoidEvidenceMutation,
  useDecideMutation,
  useReopenMutation,
} = api;

/** The server's own words for what went wrong, or what to do when it can't be reached. */
export function errorText(error: unknown): string | undefined {
  if (!error) return undefined;
  if (typeof error === 'object' && 'data' in error) {
    const { data } = error;
    if (typeof data === 'object' && data !== null && 'detail' in data) return String(data.detail);
  }
  return 'Jarro’s server can’t be reached. Nothing is lost; try again in a moment.';
}
