import { nanoid } from '@reduxjs/toolkit';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { listenForChanges } from './case-changes';
import type { Intake, PathKind, Stage, SystemProfile, Verdict } from '@jarro/core';
import type {
  AuditLine,
  BoardPage,
  CaseStage,
  CaseDetail,
  Me,
  NewEntry,
  Person,
  PressureUnitName,
  ShopSettings,
  SystemHistory,
  SystemItem,
  UserRole,
  VerifiedCase,
} from '@jarro/api-types';

export interface SetUp {
  readonly code: string;
  readonly shop: string;
  readonly town: string;
  readonly name: string;
  readonly email: string;
  readonly password: string;
}

/** Which of the shop's cases are asked for. */
export interface BoardQuestion {
  readonly page: number;
  readonly search: string;
  readonly stage: CaseStage | '';
  /** Only what I opened. */
  readonly mine: boolean;
}

/** What changes with a case's evidence. */
const caseAndBoard = (_result: unknown, _error: unknown, { caseId }: { caseId: string }) => [
  { type: 'Case' as const, id: caseId },
  'Board' as const,
];

/** Everything asked of the server, cached by what it is about. */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: ['Me', 'Board', 'Case', 'People', 'Audit', 'SetUp', 'System'],
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
    board: build.query<BoardPage, BoardQuestion>({
      query: ({ page, search, stage, mine }) => ({
        url: 'cases',
        params: { page, ...(search && { search }), ...(stage && { stage }), ...(mine && { mine }) },
      }),
      providesTags: ['Board'],
    }),
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
      // What a colleague enters shows without a reload.
      async onCacheEntryAdded(id, entry) {
        const isThere = await entry.cacheDataLoaded.then(
          () => true,
          () => false,
        );
        if (!isThere) return;
        const stop = listenForChanges(id, (version) => {
          const known = entry.getCacheEntry().data?.version;
          if (known !== undefined && version > known)
            entry.dispatch(api.util.invalidateTags([{ type: 'Case', id }, 'Board']));
        });
        await entry.cacheEntryRemoved;
        stop();
      },
    }),
    /** Everything that the case rests on is read again: never from a cache. */
    verify: build.query<VerifiedCase, string>({ query: (id) => `cases/${id}/verify`, keepUnusedDataFor: 0 }),
    addEntry: build.mutation<{ id: string }, NewEntry>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/evidence`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
      // The scale moves with the Enter, not with the answer; a refusal takes the entry back out.
      async onQueryStarted({ caseId, kind, at, value, keyState, faultPresent, ...how }, { dispatch, queryFulfilled }) {
        const patch = dispatch(
          api.util.updateQueryData('caseDetail', caseId, (item) => {
            const takenAt = new Date().toISOString();
            const entry = { id: nanoid(), kind, at, value, keyState, faultPresent, how, takenAt };
            const sequence = item.evidence.length + 1;
            const link = { ...entry, sequence, takenBy: null, hash: '', voided: null };
            return { ...item, evidence: [...item.evidence, link] };
          }),
        );
        await queryFulfilled.catch(patch.undo);
      },
    }),
    voidEntry: build.mutation<void, { caseId: string; id: string; reason: string }>({
      query: ({ caseId, id, reason }) => ({
        url: `cases/${caseId}/evidence/${id}/void`,
        method: 'POST',
        body: { reason },
      }),
      invalidatesTags: caseAndBoard,
    }),
    addNote: build.mutation<{ id: string }, { caseId: string; stage: Stage; text: string }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/notes`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    acknowledge: build.mutation<void, { caseId: string; caution: string }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/cautions`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    saveIntake: build.mutation<{ sequence: number }, { caseId: string; basis: number; intake: Intake }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/intake`, method: 'PUT', body }),
      invalidatesTags: caseAndBoard,
    }),
    addPhoto: build.mutation<{ id: string }, { caseId: string; file: File; caption: string; stage: Stage }>({
      query: ({ caseId, file, caption, stage }) => ({
        url: `cases/${caseId}/photos`,
        method: 'POST',
        params: { fileName: file.name, caption, stage },
        headers: { 'Content-Type': 'application/octet-stream' },
        body: file,
      }),
      invalidatesTags: caseAndBoard,
    }),
    measureAgain: build.mutation<{ id: string }, { caseId: string; captureId: string }>({
      query: ({ captureId }) => ({ url: `captures/${captureId}/analyses`, method: 'POST' }),
      invalidatesTags: caseAndBoard,
    }),
    decide: build.mutation<
      { id: string },
      { caseId: string; kind: Verdict; statement: string; overrideReason?: string }
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/verdicts`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    reopen: build.mutation<void, { caseId: string }>({
      query: ({ caseId }) => ({ url: `cases/${caseId}/reopen`, method: 'POST' }),
      invalidatesTags: caseAndBoard,
    }),
    closeCase: build.mutation<void, { caseId: string }>({
      query: ({ caseId }) => ({ url: `cases/${caseId}/close`, method: 'POST' }),
      invalidatesTags: caseAndBoard,
    }),
    giveSystem: build.mutation<
      { id: string },
      { caseId: string } & ({ template: PathKind } | { line: string; version: number })
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/system`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    systems: build.query<SystemItem[], void>({ query: () => 'systems', providesTags: ['System'] }),
    systemHistory: build.query<SystemHistory, string>({ query: (id) => `systems/${id}`, providesTags: ['System'] }),
    addSystem: build.mutation<{ id: string; version: number }, { profile: SystemProfile }>({
      query: (body) => ({ url: 'systems', method: 'POST', body }),
      invalidatesTags: ['System'],
    }),
    changeSystem: build.mutation<{ version: number }, { id: string; basis: number; profile: SystemProfile }>({
      query: ({ id, ...body }) => ({ url: `systems/${id}`, method: 'PUT', body }),
      invalidatesTags: ['System'],
    }),
    retireSystem: build.mutation<void, { id: string; retired: boolean }>({
      query: ({ id, ...body }) => ({ url: `systems/${id}/retire`, method: 'POST', body }),
      invalidatesTags: ['System'],
    }),
    setUpNeeded: build.query<{ needed: boolean }, void>({ query: () => 'set-up', providesTags: ['SetUp'] }),
    setUp: build.mutation<void, SetUp>({
      query: (body) => ({ url: 'set-up', method: 'POST', body }),
      invalidatesTags: ['SetUp', 'Me'],
    }),
    changePassword: build.mutation<void, { present: string; next: string }>({
      query: (body) => ({ url: 'session/password', method: 'POST', body }),
    }),
    chooseUnit: build.mutation<void, { pressureUnit?: PressureUnitName }>({
      query: (body) => ({ url: 'session/units', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    people: build.query<Person[], void>({ query: () => 'people', providesTags: ['People'] }),
    addPerson: build.mutation<{ id: string }, Omit<Person, 'id' | 'active'> & { password: string }>({
      query: (body) => ({ url: 'people', method: 'POST', body }),
      invalidatesTags: ['People', 'Audit'],
    }),
    changePerson: build.mutation<void, { id: string; role?: UserRole; active?: boolean; password?: string }>({
      query: ({ id, ...body }) => ({ url: `people/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['People', 'Audit', 'Me'],
    }),
    changeShop: build.mutation<void, ShopSettings>({
      query: (body) => ({ url: 'shop', method: 'PUT', body }),
      invalidatesTags: ['Me', 'Audit', 'Case'],
    }),
    audit: build.query<AuditLine[], number | undefined>({
      query: (before) => ({ url: 'audit', params: { before } }),
      providesTags: ['Audit'],
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
  useLazyVerifyQuery,
  useAddEntryMutation,
  useVoidEntryMutation,
  useAddNoteMutation,
  useAcknowledgeMutation,
  useSaveIntakeMutation,
  useAddPhotoMutation,
  useDecideMutation,
  useMeasureAgainMutation,
  useGiveSystemMutation,
  useSystemsQuery,
  useSystemHistoryQuery,
  useAddSystemMutation,
  useChangeSystemMutation,
  useRetireSystemMutation,
  useReopenMutation,
  useCloseCaseMutation,
  useSetUpNeededQuery,
  useSetUpMutation,
  useChangePasswordMutation,
  useChooseUnitMutation,
  usePeopleQuery,
  useAddPersonMutation,
  useChangePersonMutation,
  useChangeShopMutation,
  useAuditQuery,
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
