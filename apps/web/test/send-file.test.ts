import type { JobProgress } from '@jarro/api-types';
import { progressText, sendFile, type SendProgress } from '../src/app/send-file';

// A file on its way: how far it is, what came of it, and that a broken line isn’t the end of a file that arrived whole.

/** A browser’s request; a test moves it on by hand. */
class Sending {
  static last: Sending;
  readonly upload: { onprogress?: (event: object) => void } = {};
  status = 0;
  responseText = '';
  sent: unknown;
  address = '';
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  constructor() {
    Sending.last = this;
  }
  open(_method: string, address: string) {
    this.address = address;
  }
  setRequestHeader() {
    // What it says of itself doesn’t matter here.
  }
  send(file: unknown) {
    this.sent = file;
  }
  abort() {
    this.onabort?.();
  }
  ends(status: number, body: string) {
    Object.assign(this, { status, responseText: body });
    this.onload?.();
  }
}

const file = { name: 'a.wav' } as File;
let told: SendProgress[] = [];
let job: Partial<JobProgress> | undefined | 404;
let stop: AbortController;

beforeEach(() => {
  jest.useFakeTimers();
  told = [];
  job = undefined;
  stop = new AbortController();
  Object.assign(globalThis, { XMLHttpRequest: Sending });
  globalThis.fetch = () => {
    if (job === undefined) return Promise.reject(new TypeError('fetch failed'));
    return Promise.resolve(new Response(JSON.stringify(job), { status: job === 404 ? 404 : 200 }));
  };
});
afterEach(() => jest.useRealTimers());

const begin = () =>
  sendFile({ url: '/api/bundles', query: { label: 'x y' }, file }, (progress) => told.push(progress), stop.signal);

it('sends the file as it is, under a job that can be asked for', async () => {
  const outcome = begin();
  expect(Sending.last.sent).toBe(file);
  expect(Sending.last.address).toMatch(/^\/api\/bundles\?label=x\+y&job=[\w-]{10,}$/);
  Sending.last.ends(201, '{"id": "c1"}');
  expect(await outcome).toEqual({ id: 'c1' });
});

it('tells how far it is: sent by itself, the rest by what the server says', async () => {
  const outcome = begin();
  Sending.last.upload.onprogress?.({ loaded: 1, total: 4 });
  job = { state: 'running', stage: 'measuring', share: 0 };
  await jest.advanceTimersByTimeAsync(500);
  job = { state: 'running', stage: 'storing', share: 0.5 };
  await jest.advanceTimersByTimeAsync(500);
  job = { state: 'receiving', stage: 'receiving', share: 0.9 } as never;
  await jest.advanceTimersByTimeAsync(500);
  Sending.last.ends(201, '{"id": "c1"}');
  await outcome;
  expect(told.map(progressText)).toEqual(['Sending 25 %', 'Measuring …', 'Storing 50 %']);
});

it.each([
  [422, '{"detail": "This is not a case."}', 'This is not a case.'],
  [502, '<html>', /can’t be reached/],
  [201, 'nothing', /can’t be reached|couldn’t be sent/],
])('says what was answered with %i', async (status, body, says) => {
  const outcome = begin();
  Sending.last.ends(status, body);
  expect((await outcome) as { problem: string }).toEqual({ problem: expect.stringMatching(says) as string });
});

it('stops when it is told to, which is no error', async () => {
  const outcome = begin();
  stop.abort();
  expect(await outcome).toEqual({ stopped: true });
});

describe('after the line broke off', () => {
  const broken = () => {
    const outcome = begin();
    Sending.last.onerror?.();
    return outcome;
  };

  it('waits for what the server makes of a file that came in whole', async () => {
    job = { state: 'running', stage: 'measuring', share: 0.2 };
    const outcome = broken();
    await jest.advanceTimersByTimeAsync(1200);
    job = { state: 'done', stage: 'storing', share: 1, id: 'c9' };
    await jest.advanceTimersByTimeAsync(600);
    expect(await outcome).toEqual({ id: 'c9' });
  });

  it('says what was wrong with it, as the server found later', async () => {
    job = { state: 'running', stage: 'checking', share: 0 };
    const outcome = broken();
    await jest.advanceTimersByTimeAsync(600);
    job = { state: 'failed', stage: 'checking', share: 0, problem: 'A photo is missing.' } as never;
    await jest.advanceTimersByTimeAsync(600);
    expect(await outcome).toEqual({ problem: 'A photo is missing.' });
  });

  it.each([
    ['knows of no such file', 404 as const],
    ['still waits for the rest of it', { state: 'receiving', stage: 'receiving' } as never],
  ])('asks for it again where the server %s', async (_what, answered) => {
    job = answered;
    const outcome = broken();
    await jest.advanceTimersByTimeAsync(100);
    expect(await outcome).toEqual({ problem: expect.stringMatching(/^The connection broke off/) as string });
  });

  it('gives up on a server that stays away, and says to look first', async () => {
    const outcome = broken();
    await jest.advanceTimersByTimeAsync(60_000);
    expect(await outcome).toEqual({ problem: expect.stringMatching(/^The server can’t be reached/) as string });
  });

  it('can be stopped while it waits', async () => {
    const outcome = broken();
    await jest.advanceTimersByTimeAsync(600);
    stop.abort();
    await jest.advanceTimersByTimeAsync(600);
    expect(await outcome).toEqual({ stopped: true });
  });
});
