import type { BoardPage, CaseDetail, CaseStage, MathItem, VerifiedCase } from '@jarro/api-types';
import type { Family, Intake, LeftIn, MathChannel, PathKind, RecordMark, RepairValue, Verdict } from '@jarro/core';
import { aheadNoMore, aheadOf, withAhead } from '../ahead-slice';
import { listenForChanges } from '../case-changes';
import { baseApi, caseAndBoard } from './base';

/** Which of the shop's cases are asked for. */
export interface BoardQuestion {
  readonly page: number;
  readonly search: string;
  readonly stage: CaseStage | '';
  /** Only what I opened. */
  readonly mine: boolean;
  readonly verdict: Verdict | '';
  /** Only open cases whose evidence speaks for it most. */
  readonly suspect: Family | '';
  /** Only what was opened longer ago than so many days; 0 for any age. */
  readonly olderDays: number;
  /** Only what this person opened; empty for anybody. */
  readonly by: string;
}

/** The board and its cases: what is asked of them and what is done to them. */
export const caseApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    board: build.query<BoardPage, BoardQuestion>({
      query: ({ page, search, stage, mine, verdict, suspect, olderDays, by }) => ({
        url: 'cases',
        params: {
          page,
          ...(search && { search }),
          ...(stage && { stage }),
          ...(mine && { mine }),
          ...(verdict && { verdict }),
          ...(suspect && { suspect }),
          ...(olderDays > 0 && { olderDays }),
          ...(by && { by }),
        },
      }),
      providesTags: ['Board'],
    }),
    openCase: build.mutation<
      { id: string },
      { model: string; year?: number; engine: string; plate: string; complaint: string; comebackOf?: string }
    >({
      query: (body) => ({ url: 'cases', method: 'POST', body }),
      invalidatesTags: ['Board'],
    }),
    caseDetail: build.query<CaseDetail, string>({
      queryFn: async (id, { getState, dispatch }, _options, ask) => {
        const { data, error } = await ask(`cases/${id}`);
        if (error) return { error };
        const item = data as CaseDetail;
        const ahead = aheadOf(getState(), id);
        const arrived = item.evidence.filter((one) => ahead.some((other) => other.id === one.id));
        if (arrived.length > 0) dispatch(aheadNoMore(arrived.map((one) => one.id)));
        return { data: withAhead(item, ahead) };
      },
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
            entry.dispatch(baseApi.util.invalidateTags([{ type: 'Case', id }, 'Board']));
        });
        await entry.cacheEntryRemoved;
        stop();
      },
    }),
    /** Everything that the case rests on is read again: never from a cache. */
    verify: build.query<VerifiedCase, string>({ query: (id) => `cases/${id}/verify`, keepUnusedDataFor: 0 }),
    voidEntry: build.mutation<void, { caseId: string; id: string; reason: string }>({
      query: ({ caseId, id, reason }) => ({
        url: `cases/${caseId}/evidence/${id}/void`,
        method: 'POST',
        body: { reason },
      }),
      invalidatesTags: caseAndBoard,
    }),
    addMark: build.mutation<{ id: string }, { caseId: string; captureId: string } & RecordMark>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/marks`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    addMath: build.mutation<MathItem, { caseId: string; captureId: string; math: MathChannel }>({
      query: ({ captureId, math }) => ({ url: `captures/${captureId}/math`, method: 'POST', body: math }),
      invalidatesTags: (result, _error, { caseId }) => (result ? [{ type: 'Case', id: caseId }] : []),
    }),
    removeMath: build.mutation<void, { caseId: string; captureId: string; channel: number }>({
      query: ({ captureId, channel }) => ({ url: `captures/${captureId}/math/${channel}`, method: 'DELETE' }),
      invalidatesTags: (_result, _error, { caseId }) => [{ type: 'Case', id: caseId }],
    }),
    acknowledge: build.mutation<void, { caseId: string; caution: string }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/cautions`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    saveIntake: build.mutation<{ sequence: number }, { caseId: string; basis: number; intake: Intake }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/intake`, method: 'PUT', body }),
      invalidatesTags: caseAndBoard,
    }),
    measureAgain: build.mutation<{ id: string }, { caseId: string; captureId: string }>({
      query: ({ captureId }) => ({ url: `captures/${captureId}/analyses`, method: 'POST' }),
      invalidatesTags: caseAndBoard,
    }),
    giveSystem: build.mutation<
      { id: string },
      { caseId: string } & ({ template: PathKind } | { line: string; version: number })
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/system`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    decide: build.mutation<
      { id: string },
      { caseId: string; kind: Verdict; statement: string; overrideReason?: string }
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/verdicts`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    reopen: build.mutation<void, { caseId: string; reason: string }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/reopen`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    removeData: build.mutation<
      { id: string },
      { caseId: string; plate: boolean; photos: string[]; words: string[]; reason: string }
    >({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/removals`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    addRepair: build.mutation<{ id: string }, { caseId: string; at: string; value: RepairValue }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/repair`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    leaveIn: build.mutation<{ id: string }, { caseId: string; at: LeftIn; what: string }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/left-in`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    takeOut: build.mutation<{ id: string }, { caseId: string; at: string; how: string }>({
      query: ({ caseId, ...body }) => ({ url: `cases/${caseId}/taken-out`, method: 'POST', body }),
      invalidatesTags: caseAndBoard,
    }),
    closeCase: build.mutation<void, { caseId: string }>({
      query: ({ caseId }) => ({ url: `cases/${caseId}/close`, method: 'POST' }),
      invalidatesTags: caseAndBoard,
    }),
  }),
});

export const {
  useBoardQuery,
  useOpenCaseMutation,
  useCaseDetailQuery,
  useLazyVerifyQuery,
  useVoidEntryMutation,
  useAddMarkMutation,
  useAddMathMutation,
  useRemoveMathMutation,
  useAcknowledgeMutation,
  useSaveIntakeMutation,
  useMeasureAgainMutation,
  useGiveSystemMutation,
  useDecideMutation,
  useReopenMutation,
  useRemoveDataMutation,
  useAddRepairMutation,
  useLeaveInMutation,
  useTakeOutMutation,
  useCloseCaseMutation,
} = caseApi;
