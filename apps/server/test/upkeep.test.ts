import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PassThrough, Readable } from 'node:stream';
import { pathToFileURL } from 'node:url';
import { InputError } from '@jarro/core';
import { Uploads } from '../src/uploads/uploads.js';
import { limited } from '../src/work/limited.js';
import { startServer } from './support.js';

describe('a file while it is received', () => {
  const uploads = new Uploads();
  afterAll(() => uploads.onApplicationShutdown());
  const mine = () => readdirSync(tmpdir()).filter((name) => name.startsWith(`jarro-upload-${process.pid}-`));

  it('stands in a folder of this process’s own, and what a killed one left goes', async () => {
    const dead = spawnSync(process.execPath, ['-e', '']).pid;
    const left = mkdtempSync(join(tmpdir(), `jarro-upload-${dead}-`));
    writeFileSync(join(left, 'half'), 'a file');
    const upload = await uploads.receive(Readable.from([Buffer.from('abc')]), undefined, 100, '');
    expect(existsSync(left)).toBe(false);
    expect(existsSync(upload.path)).toBe(true);
    await upload[Symbol.asyncDispose]();
    expect(existsSync(upload.path)).toBe(false);
    expect(mine()).toHaveLength(1);
  });

  it('is given up when nothing comes any more', async () => {
    const body = new PassThrough();
    body.write('the beginning');
    await expect(uploads.receive(body, undefined, 100, '', 50)).rejects.toThrow(/broke off/);
    expect(readdirSync(join(tmpdir(), mine()[0]))).toEqual([]);
  });

  it('may take as long as a slow line takes', async () => {
    const server = await startServer('slow_line', { fill: 'nothing' });
    expect((server.app.getHttpServer() as Server).requestTimeout).toBeGreaterThanOrEqual(3600_000);
    await server.close();
  });
});

describe('work that takes too long', () => {
  const never = (signal: AbortSignal) =>
    new Promise<never>((_, reject) => signal.addEventListener('abort', () => reject(new Error('aborted'))));

  it('is refused with what to do, and given up quietly when nobody waits', async () => {
    await expect(limited(20, 'Export a shorter record.', undefined, never)).rejects.toThrow(InputError);
    const gone = new AbortController();
    setTimeout(() => gone.abort(), 20);
    await expect(limited(5000, 'Export a shorter record.', gone.signal, never)).rejects.toThrow('aborted');
  });
});

describe('a rejection that nobody waits for', () => {
  const lastResort = pathToFileURL(join(__dirname, '../dist/modules/http/last-resort.js')).href;
  /** A small server with the same last resort, whose routes forget to wait. */
  const program = `
    import { createServer } from 'node:http';
    import { installLastResort, rememberRequest } from ${JSON.stringify(lastResort)};
    installLastResort({ close: async () => {} });
    const express = (response, request) => Object.assign(response, {
      req: request,
      status(code) { this.statusCode = code; return this; },
      type() { return this; },
      send(text) { this.end(text); },
    });
    const forget = async () => { await null; throw new Error('forgotten'); };
    createServer((request, response) => {
      express(response, request);
      rememberRequest(request, response, async () => {
        if (request.url === '/forgets') { await null; void forget(); }
        else if (request.url === '/later') { scheduled(); response.end('ok'); }
        else response.end('ok');
      });
    }).listen(0, '127.0.0.1', function () { console.log(this.address().port); });
    let scheduled;
    const outside = new Promise((resolve) => { scheduled = resolve; });
    outside.then(() => forget());
  `;

  it('fails the request that it belongs to; any other ends the process', async () => {
    const child = spawn(process.execPath, ['--input-type=module', '-e', program], {
      env: { ...process.env, JARRO_LOG: 'silent' },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
    const port = await Promise.race([
      new Promise<string>((resolve) => child.stdout.once('data', (text: Buffer) => resolve(text.toString().trim()))),
      ended.then((code) => Promise.reject(new Error(`The small server ended with ${code} before it served.`))),
    ]);
    const get = async (path: string) => (await fetch(`http://127.0.0.1:${port}${path}`)).status;
    expect(await get('/forgets')).toBe(500);
    expect(await get('/')).toBe(200);
    expect(child.exitCode).toBeNull();
    await get('/later').catch(() => undefined);
    expect(await ended).toBe(1);
  });
});
