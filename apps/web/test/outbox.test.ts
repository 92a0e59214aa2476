import 'fake-indexeddb/auto';
import type { CaseDetail, Me } from '@jarro/api-types';
import { isAway, isSignedOut } from '../src/app/api';

// What is made while the server is away, and what this device keeps of it.

/** What a page has of a browser: a store of texts, and events between its tabs. */
function browser(kept: Record<string, string> = {}, isFull = false) {
  const texts = new Map(Object.entries(kept));
  const listeners: ((event: object) => void)[] = [];
  const localStorage = new Proxy(
    {
      getItem: (name: string) => texts.get(name) ?? null,
      removeItem: (name: string) => texts.delete(name),
      setItem: (name: string, text: string) => {
        if (isFull) throw new Error('QuotaExceededError');
        texts.set(name, text);
      },
    },
    { ownKeys: () => [...texts.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }) },
  );
  // Hidden, so that no page listens for what colleagues change.
  const document = { hidden: true, addEventListener: () => undefined, removeEventListener: () => undefined };
  Object.assign(globalThis, {
    localStorage,
    document,
    addEventListener: (_kind: string, listener: (event: object) => void) => listeners.push(listener),
  });
  const otherTab = (key: string, newValue: string | null) => listeners.forEach((hear) => hear({ key, newValue }));
  return { texts, otherTab };
}

/** Ends the timers of the pages that a test opened. */
const leaving: (() => unknown)[] = [];
afterEach(() => leaving.splice(0).forEach((leave) => leave()));

/** The store as a page loads it, with somebody signed in. */
async function page(answers: (request: Request) => Response | Promise<Response>) {
  jest.resetModules();
  globalThis.fetch = (input) => Promise.resolve(answers(input as Request));
  const { makeStore } = await import('../src/app/store');
  const store = makeStore();
  const { baseApi, sessionApi, caseApi, lettersApi } = await import('../src/app/api');
  const me = { user: { id: 'jem', name: 'Jem' } } as unknown as Me;
  await store.dispatch(sessionApi.util.upsertQueryData('me', undefined, me));
  const add = () =>
    store.dispatch(
      lettersApi.endpoints.addEntry.initiate({
        ...({ caseId: 'c', kind: 'voltage', at: 'battery', value: 12.6 } as const),
        ...({ keyState: 'prime', faultPresent: true } as const),
      }),
    );
  const waiting = () => store.getState().outbox.waiting;
  leaving.push(() => store.dispatch(baseApi.util.resetApiState()));
  return {
    store,
    caseApi,
    lettersApi,
    add,
    waiting,
    ...(await import('../src/app/outbox-slice')),
    ...(await import('../src/app/kept-slice')),
  };
}

const NAME = 'jarro-kept-1/outbox';
const json = (status: number, body: object = {}) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
// Relative addresses mean nothing outside a page.
beforeAll(() => {
  const { Request: Real } = globalThis;
  globalThis.Request = class extends Real {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === 'string' ? new URL(input, 'http://jarro.test') : input, init);
    }
  };
});

it.each([
  ['nobody answers', () => Promise.reject(new TypeError('fetch failed'))],
  ['the database is away', () => json(503)],
  ['a proxy answers for it', () => new Response('<html>', { status: 502 })],
  ['the sign-in ran out', () => json(401, { detail: 'Sign in first.' })],
])('waits where %s, for whoever made it, over a reload, under one id', async (_why, answer) => {
  const { texts } = browser();
  const { add, waiting } = await page(answer);
  const result = await add();
  expect(result.error).toBeUndefined();
  expect(waiting()).toEqual([expect.objectContaining({ id: result.data?.id, userId: 'jem' })]);
  expect(waiting()[0]).toMatchObject({ entry: { caseId: 'c', value: 12.6 } });
  browser(Object.fromEntries(texts));
  const again = await page(answer);
  expect(again.waiting()).toEqual(waiting());
});

it('lets a note wait as well, shows it meanwhile, and sends it to where notes go', async () => {
  browser();
  const sent: { path: string; body: unknown }[] = [];
  let isAway = true;
  let shown: unknown;
  const { store, caseApi, lettersApi, waiting } = await page(async (request) => {
    if (request.method !== 'POST') return json(200);
    shown ??= caseApi.endpoints.caseDetail.select('c')(store.getState()).data?.evidence;
    sent.push({ path: new URL(request.url).pathname, body: await request.json() });
    return json(isAway ? 503 : 201, { id: 'x' });
  });
  const bare = { version: 1, evidence: [] } as unknown as CaseDetail;
  await store.dispatch(caseApi.util.upsertQueryData('caseDetail', 'c', bare));
  const note = { caseId: 'c', stage: 'intake', text: 'Plug green inside.' } as const;
  const { data } = await store.dispatch(lettersApi.endpoints.addNote.initiate(note));
  expect(waiting()).toEqual([expect.objectContaining({ id: data?.id, note })]);
  expect(shown).toEqual([expect.objectContaining({ kind: 'note', at: 'intake', value: note.text, takenBy: 'Jem' })]);
  isAway = false;
  const [letter] = waiting();
  await store.dispatch(lettersApi.endpoints.sendWaiting.initiate({ letter, id: letter.id, secondsAgo: 40 }));
  const body = { stage: 'intake', text: note.text, id: data?.id };
  expect(sent).toEqual([
    { path: '/api/cases/c/notes', body },
    { path: '/api/cases/c/notes', body: { ...body, secondsAgo: 40 } },
  ]);
});

it('keeps an entry on the screen through an answer that was asked for before it arrived, and no longer than it holds', async () => {
  browser();
  const held: { id: string }[] = [];
  let status = 201;
  const { store, caseApi, add } = await page(async (request) => {
    if (request.method === 'GET') return json(200, { version: 1, evidence: held });
    const { id } = (await request.json()) as { id: string };
    // What is asked while it is on its way is answered without it.
    await store.dispatch(caseApi.endpoints.caseDetail.initiate('c', { forceRefetch: true, subscribe: false }));
    between.push(shown());
    if (status === 201) held.push({ id });
    return json(status, { id });
  });
  const between: string[][] = [];
  const shown = () =>
    caseApi.endpoints.caseDetail
      .select('c')(store.getState())
      .data?.evidence.map(({ id }) => id) ?? [];
  await store.dispatch(caseApi.endpoints.caseDetail.initiate('c'));
  const { data } = await add();
  expect(between).toEqual([[data?.id]]);
  await store.dispatch(caseApi.endpoints.caseDetail.initiate('c', { forceRefetch: true }));
  expect(shown()).toEqual([data?.id]);
  expect(store.getState().ahead).toEqual([]);
  status = 409;
  expect((await add()).error).toBeDefined();
  expect(between[1]).toHaveLength(2);
  expect(shown()).toEqual([data?.id]);
});

describe('a photo', () => {
  const photo = {
    caseId: 'c',
    fileName: 'fuse.jpg',
    caption: 'Burnt leg',
    stage: 'current',
    about: { station: 'fuse' },
  };
  const picture = new File([Uint8Array.of(1, 2, 3)], 'fuse.jpg', { type: 'image/jpeg' });
  const take = { photo, picture } as const as Parameters<Page['lettersApi']['endpoints']['addPhoto']['initiate']>[0];
  type Page = Awaited<ReturnType<typeof page>>;

  it('waits with its picture, over a reload, and is sent as it was taken', async () => {
    const { texts } = browser();
    const first = await page(() => json(503));
    const { data } = await first.store.dispatch(first.lettersApi.endpoints.addPhoto.initiate(take));
    expect(first.waiting()).toEqual([expect.objectContaining({ id: data?.id, photo })]);
    browser(Object.fromEntries(texts));
    const sent: { query: object; bytes: number[] }[] = [];
    const { store, lettersApi, waiting } = await page(async (request) => {
      const query = Object.fromEntries(new URL(request.url).searchParams);
      sent.push({ query, bytes: [...new Uint8Array(await request.arrayBuffer())] });
      return json(201, { id: data?.id });
    });
    const [letter] = waiting();
    await store.dispatch(lettersApi.endpoints.sendWaiting.initiate({ letter, id: letter.id, secondsAgo: 40 }));
    const { caseId: _, about, ...said } = photo;
    expect(sent).toEqual([{ query: { ...said, ...about, id: data?.id, secondsAgo: '40' }, bytes: [1, 2, 3] }]);
  });

  it('says so where the device has no room for it, or lost it', async () => {
    browser();
    const { store, lettersApi, waiting } = await page(() => json(503));
    const full = jest.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    const { error } = await store.dispatch(lettersApi.endpoints.addPhoto.initiate(take));
    full.mockRestore();
    expect(error).toMatchObject({ data: { detail: expect.stringMatching(/no room for the photo/) as string } });
    expect(waiting()).toEqual([]);
    const letter = { photo: take.photo };
    const lost = await store.dispatch(
      lettersApi.endpoints.sendWaiting.initiate({ letter, id: 'never-kept', secondsAgo: 1 }),
    );
    expect(lost.error).toMatchObject({ data: { detail: expect.stringMatching(/no longer on this device/) as string } });
  });
});

it('keeps nothing back that the server took or refused', async () => {
  for (const [status, wrong] of [
    [201, false],
    [409, true],
    [422, true],
    [500, true],
  ] as const) {
    browser();
    const sent: unknown[] = [];
    const { add, waiting } = await page(async (request) => {
      if (request.method === 'POST') sent.push(await request.json());
      return json(request.method === 'POST' ? status : 200);
    });
    expect((await add()).error !== undefined).toBe(wrong);
    expect(waiting()).toEqual([]);
    expect(sent).toEqual([expect.objectContaining({ id: expect.stringMatching(/^[0-9a-f-]{36}$/) as string })]);
  }
});

it('is refused, sent again, and gone, one by one; another tab sees the same', async () => {
  const { texts, otherTab } = browser();
  const { store, add, waiting, entryRefused, entryAgain, entryGone } = await page(() => json(503));
  await add();
  await add();
  const [first, second] = waiting();
  store.dispatch(entryRefused({ id: first.id, refused: 'Decided.' }));
  expect(waiting().map(({ refused }) => refused)).toEqual(['Decided.', undefined]);
  store.dispatch(entryAgain(first.id));
  expect(waiting()).toEqual([first, second]);
  store.dispatch(entryGone(first.id));
  expect(JSON.parse(texts.get(NAME) ?? '')).toEqual([second]);
  otherTab(NAME, '[]');
  expect(waiting()).toEqual([]);
});

it('keeps drafts by name, forgets them all, and hears those of other tabs', async () => {
  const { texts, otherTab } = browser({ 'jarro-kept-1/jem/note': '"half"', 'of-somebody-else': 'x' });
  const { store, kept, allForgotten } = await page(() => json(200));
  const byName = () => store.getState().kept.byName;
  expect(byName()).toEqual({ 'jem/note': 'half' });
  store.dispatch(kept({ name: 'jem/sweep', value: [1] }));
  expect(texts.get('jarro-kept-1/jem/sweep')).toBe('[1]');
  otherTab('jarro-kept-1/jem/note', '"whole"');
  expect(byName()).toEqual({ 'jem/note': 'whole', 'jem/sweep': [1] });
  store.dispatch(allForgotten());
  expect(byName()).toEqual({});
  expect([...texts.keys()].filter((name) => name.startsWith('jarro-kept-1/jem'))).toEqual([]);
  expect(texts.get('of-somebody-else')).toBe('x');
});

it('shows under the server’s id and its maker’s name at once, and what judges the case goes after it', async () => {
  browser();
  const sent: string[] = [];
  let arrived: (() => void) | undefined;
  const { store, caseApi, add } = await page(async (request) => {
    if (request.method !== 'POST') return json(200);
    sent.push(new URL(request.url).pathname);
    if (request.url.endsWith('/evidence')) await new Promise<void>((resolve) => (arrived = resolve));
    return json(201);
  });
  const bare = { version: 1, evidence: [] } as unknown as CaseDetail;
  await store.dispatch(caseApi.util.upsertQueryData('caseDetail', 'c', bare));
  const entry = add();
  const closing = store.dispatch(caseApi.endpoints.closeCase.initiate({ caseId: 'c' }));
  while (sent.length === 0) await new Promise((resolve) => setTimeout(resolve, 50));
  expect(sent).toEqual(['/api/cases/c/evidence']);
  const shown = caseApi.endpoints.caseDetail.select('c')(store.getState()).data?.evidence;
  expect(shown).toEqual([expect.objectContaining({ value: 12.6, takenBy: 'Jem', sequence: 1 })]);
  arrived?.();
  expect((await entry).data?.id).toBe(shown?.[0].id);
  await closing;
  expect(sent).toEqual(['/api/cases/c/evidence', '/api/cases/c/close']);
});

it('goes on where the device keeps nothing, and says so', async () => {
  const warned = jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  browser({ [NAME]: '[]' }, true);
  const { add, waiting } = await page(() => json(503));
  await add();
  expect(waiting()).toHaveLength(1);
  expect(warned).toHaveBeenCalledWith(expect.stringContaining('could not be kept'), expect.any(Error));
  warned.mockRestore();
});

it('tells a server that is away from one that says no', () => {
  const all = ['FETCH_ERROR', 'TIMEOUT_ERROR', 502, 503, 504, 400, 401, 404, 409, 500].map((status) => ({ status }));
  expect(all.filter(isAway).map(({ status }) => status)).toEqual(['FETCH_ERROR', 'TIMEOUT_ERROR', 502, 503, 504]);
  expect(all.filter(isSignedOut)).toEqual([{ status: 401 }]);
  expect(isAway({ status: 'PARSING_ERROR', originalStatus: 502 })).toBe(true);
  expect(isAway(undefined)).toBe(false);
});
