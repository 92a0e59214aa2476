import type {
  AuditLine,
  BackupState,
  Learned,
  Person,
  ShelfItem,
  ShopSettings,
  SystemHistory,
  SystemItem,
  ToolItem,
  UserRole,
} from '@jarro/api-types';
import type { ScaledTool, SystemProfile } from '@jarro/core';
import { baseApi } from './base';

/** What belongs to the shop: its people, tools, pump shelf and systems. */
export const shopApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
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
    backups: build.query<BackupState, void>({ query: () => 'backups', providesTags: ['Backup'] }),
    beginBackup: build.mutation<void, void>({
      query: () => ({ url: 'backups', method: 'POST' }),
      invalidatesTags: ['Backup', 'Audit'],
    }),
    stopBackup: build.mutation<void, void>({
      query: () => ({ url: 'backups/running', method: 'DELETE' }),
      invalidatesTags: ['Backup'],
    }),
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
  }),
});

export const {
  usePeopleQuery,
  useAddPersonMutation,
  useChangePersonMutation,
  useChangeShopMutation,
  useAuditQuery,
  useBackupsQuery,
  useBeginBackupMutation,
  useStopBackupMutation,
  useToolsQuery,
  useAddToolMutation,
  useToolUsedMutation,
  useRemoveToolMutation,
  useShelfQuery,
  usePutOnShelfMutation,
  useRetireKnownGoodMutation,
  useLearnedQuery,
  useSystemsQuery,
  useSystemHistoryQuery,
  useAddSystemMutation,
  useChangeSystemMutation,
  useRetireSystemMutation,
} = shopApi;
