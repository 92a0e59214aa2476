import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import { createApi, type BaseQueryApi, type FetchArgs, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import { v4 as newId } from 'uuid';
import { listenForChanges } from './case-changes';
import { keepPicture, pictureOf } from './device-pictures';
import { caseOf, entryWaits, requestOf, type Letter } from './outbox-slice';
import { request } from './requests';
import type {
  Family,
  Intake,
  LeftIn,
  MathChannel,
  PathKind,
  RecordMark,
  RepairValue,
  ScaledTool,
  SystemProfile,
  Verdict,
} from '@jarro/core';
import type {
  AuditLine,
  BoardPage,
  CaseStage,
  CaseDetail,
  Colleague,
  EvidenceItem,
  Learned,
  MathItem,
  MayHaveWaited,
  Me,
  NewEntry,
  NewNote,
  NewPhoto,
  Person,
  PressureUnitName,
  ShelfItem,
  ShopSettings,
  SystemHistory,
  SystemItem,
  ToolItem,
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
  readonly verdict: Verdict | '';
  /** Only open cases whose evidence speaks for it most. */
  readonly suspect: Family | '';
  /** Only what was opened longer ago than so many days; 0 for any age. */
  readonly olderDays: number;
  /** Only what this person opened; empty for anybody. */
  readonly by: string;
}

/** What changes with a case's evidence. */
const caseAndBoard = (_result: unknown, _error: unknown, { caseId }: { caseId: string }) => [
  { type: 'Case' as const, id: caseId },
  'Board' as const,
];

/** Everything asked of the server, cached by what it is about. */
export const api = createApi({
  baseQuery: request,
  tagTypes: ['Me', 'Board', 'Case', 'People', 'Audit', 'SetUp', 'System', 'Tool', 'Shelf'],
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
    /**
     * Where the server can't be reached the entry waits on this device, and counts as made. The scale moves with the
     * Enter, not with the answer; a refusal takes the entry back out. It bears the server's id from the first, so what is
     * opened on its row stays open when the answer comes.
     */
    addEntry: build.mutation<{ id: string }, Omit<NewEntry, keyof MayHaveWaited>>({
      queryFn: (entry, store, _options, ask) => sendOrWait({ entry }, store, ask),
      invalidatesTags: caseAndBoard,
    }),
    /** The same for a note. */
    addNote: build.mutation<{ id: string }, Omit<NewNote, keyof MayHaveWaited>>({
      queryFn: (note, store, _options, ask) => sendOrWait({ note }, store, ask),
      invalidatesTags: caseAndBoard,
    }),
    /** The same for a photo, but that it shows only once it is kept: here or there. */
    addPhoto: build.mutation<{ id: string }, { photo: Omit<NewPhoto, keyof MayHaveWaited>; picture: File }>({
      queryFn: ({ photo, picture }, store, _options, ask) => sendOrWait({ photo }, store, ask, picture),
      invalidatesTags: (_result, _error, { photo }) => [{ type: 'Case', id: photo.caseId }, 'Board'],
    }),
    sendWaiting: build.mutation<{ id: string }, { letter: Letter; id: string; secondsAgo: number }>({
      queryFn: async ({ letter, ...waited }, _store, _options, ask) => {
        // A browser that can’t read its own database has lost it as well.
        const picture = 'photo' in letter ? await pictureOf(waited.id).catch(() => undefined) : undefined;
        if ('photo' in letter && !picture) return { error: said(410, PICTURE_GONE) };
        const { error } = await ask(requestOf(letter, waited, picture));
        return error ? { error } : { data: { id: waited.id } };
      },
      invalidatesTags: (result, _error, { letter }) => (result ? [{ type: 'Case', id: caseOf(letter) }, 'Board'] : []),
    }),
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
    colleagues: build.query<Colleague[], void>({ query: () => 'session/colleagues', providesTags: ['People', 'Me'] }),
    handOver: build.mutation<void, { to: string; pin: string }>({
      query: (body) => ({ url: 'session/person', method: 'POST', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Me', 'Board', 'Case']),
    }),
    setCode: build.mutation<void, { password: string; pin?: string }>({
      query: (body) => ({ url: 'session/pin', method: 'PUT', body }),
      invalidatesTags: ['Me'],
    }),
    shelf: build.query<ShelfItem[], void>({ query: () => 'shelf', providesTags: ['Shelf'] }),
    putOnShelf: build.mutation<{ id: string }, { captureId: string; label: string; temperatureC?: number }>({
      query: (body) => ({ url: 'shelf', method: 'POST', body }),
      invalidatesTags: ['Shelf'],
    }),
    retireKnownGood: build.mutation<void, { id: string; retired: boolean }>({
      query: ({ id, ...body }) => ({ url: `shelf/${id}/retire`, method: 'POST', body }),
      invalidatesTags: ['Shelf'],
    }),
    learned: build.query<Learned, void>({ query: () => 'learned', providesTags: ['Board', 'Me'] }),
    tools: build.query<ToolItem[], void>({ query: () => 'tools', providesTags: ['Tool'] }),
    addTool: build.mutation<{ id: string }, ScaledTool>({
      query: (body) => ({ url: 'tools', method: 'POST', body }),
      invalidatesTags: ['Tool'],
    }),
    toolUsed: build.mutation<void, string>({
      query: (id) => ({ url: `tools/${id}/used`, method: 'POST' }),
      invalidatesTags: ['Tool'],
    }),
    removeTool: build.mutation<void, string>({
      query: (id) => ({ url: `tools/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Tool'],
    }),
    changePassword: build.mutation<void, { present: string; next: string }>({
      query: (body) => ({ url: 'session/password', method: 'POST', body }),
      invalidatesTags: ['Me'],
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
  useSendWaitingMutation,
  useColleaguesQuery,
  useHandOverMutation,
  useSetCodeMutation,
  useLearnedQuery,
  useShelfQuery,
  usePutOnShelfMutation,
  useRetireKnownGoodMutation,
  useToolsQuery,
  useAddToolMutation,
  useToolUsedMutation,
  useRemoveToolMutation,
  useVoidEntryMutation,
  useAddNoteMutation,
  useAddMarkMutation,
  useAddMathMutation,
  useRemoveMathMutation,
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
  useRemoveDataMutation,
  useAddRepairMutation,
  useLeaveInMutation,
  useTakeOutMutation,
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

/** The state that the queries live in, as their selectors take it. */
type ApiState = Parameters<ReturnType<typeof api.endpoints.me.select>>[0];

/** Adds a link to the case on the screen until the server's own comes. */
function showAhead(
  dispatch: ThunkDispatch<ApiState, unknown, UnknownAction>,
  caseId: string,
  link: (sequence: number) => EvidenceItem,
): { readonly undo: () => void } {
  return dispatch(
    api.util.updateQueryData('caseDetail', caseId, (item) => ({
      ...item,
      evidence: [...item.evidence, link(item.evidence.length + 1)],
    })),
  );
}

/** What was made as it shows before the server has it: without a seal. */
function unsealed(letter: Exclude<Letter, { photo: unknown }>, id: string, sequence: number, me?: Me): EvidenceItem {
  const made = {
    ...{ id, sequence, hash: '', voided: null },
    takenAt: new Date().toISOString(),
    takenBy: me?.user.name ?? null,
  };
  if ('note' in letter) {
    const { stage, text } = letter.note;
    return { ...made, kind: 'note', at: stage, value: text, keyState: null, faultPresent: null, how: null };
  }
  const { kind, at, value, keyState, faultPresent, caseId: _, ...how } = letter.entry;
  return { ...made, kind, at, value, keyState, faultPresent, how };
}

const PICTURE_GONE = 'Its picture is no longer on this device. Take it again.';
const NO_ROOM = 'The server can’t be reached, and this device has no room for the photo. Take it again later.';

/** What the server would answer, said by this device. */
function said(status: number, detail: string): FetchBaseQueryError {
  return { status, data: { detail } };
}

/**
 * Shows a letter, sends it, and lets it wait on this device where nobody answers.
 * @param picture of a photo, which isn't shown ahead
 */
async function sendOrWait(
  letter: Letter,
  { dispatch, getState }: Pick<BaseQueryApi, 'dispatch' | 'getState'>,
  ask: (what: FetchArgs) => ReturnType<typeof request>,
  picture?: Blob,
): Promise<{ data: { id: string } } | { error: FetchBaseQueryError }> {
  const id = newId();
  const me = whoIsIn(getState());
  const shown =
    'photo' in letter
      ? undefined
      : showAhead(dispatch as ThunkDispatch<ApiState, unknown, UnknownAction>, caseOf(letter), (sequence) =>
          unsealed(letter, id, sequence, me),
        );
  const { error } = await ask(requestOf(letter, { id }, picture));
  if (!error) return { data: { id } };
  if (!me || !(isAway(error) || isSignedOut(error))) {
    shown?.undo();
    return { error };
  }
  if (picture) {
    const hasRoom = await keepPicture(id, picture).then(
      () => true,
      () => false,
    );
    if (!hasRoom) return { error: said(507, NO_ROOM) };
  }
  dispatch(entryWaits({ ...letter, id, userId: me.user.id, takenAtMs: Date.now() }));
  // The page then leads to the sign-in.
  if (isSignedOut(error)) dispatch(api.util.invalidateTags(['Me']));
  return { data: { id } };
}

function whoIsIn(state: unknown): Me | undefined {
  return api.endpoints.me.select()(state as ApiState).data;
}

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
