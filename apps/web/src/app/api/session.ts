import type { Colleague, Me, PressureUnitName } from '@jarro/api-types';
import { baseApi } from './base';

export interface SetUp {
  readonly code: string;
  readonly shop: string;
  readonly town: string;
  readonly name: string;
  readonly email: string;
  readonly password: string;
}

/** Who is at the device: signing in, handing over, one’s own settings, and the shop’s first set-up. */
export const sessionApi = baseApi.injectEndpoints({
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
    colleagues: build.query<Colleague[], void>({ query: () => 'session/colleagues', providesTags: ['People', 'Me'] }),
    handOver: build.mutation<void, { to: string; pin: string }>({
      query: (body) => ({ url: 'session/person', method: 'POST', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Me', 'Board', 'Case']),
    }),
    setCode: build.mutation<void, { password: string; pin?: string }>({
      query: (body) => ({ url: 'session/pin', method: 'PUT', body }),
      invalidatesTags: ['Me'],
    }),
    changePassword: build.mutation<void, { present: string; next: string }>({
      query: (body) => ({ url: 'session/password', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    chooseUnit: build.mutation<void, { pressureUnit?: PressureUnitName }>({
      query: (body) => ({ url: 'session/units', method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    setUpNeeded: build.query<{ needed: boolean }, void>({ query: () => 'set-up', providesTags: ['SetUp'] }),
    setUp: build.mutation<void, SetUp>({
      query: (body) => ({ url: 'set-up', method: 'POST', body }),
      invalidatesTags: ['SetUp', 'Me'],
    }),
  }),
});

export const {
  useMeQuery,
  useLazyMeQuery,
  useSignInMutation,
  useSignOutMutation,
  useColleaguesQuery,
  useHandOverMutation,
  useSetCodeMutation,
  useChangePasswordMutation,
  useChooseUnitMutation,
  useSetUpNeededQuery,
  useSetUpMutation,
} = sessionApi;
