import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { MediaError } from '@gemello/media';
import type { APIContext } from 'astro';
import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';

const folder = realpathSync(mkdtempSync(path.join(tmpdir(), 'gemello-http-')));
for (const name of ['cards/A001', 'cards/.hidden', 'archive', 'private', 'cards-old'])
  mkdirSync(path.join(folder, name), { recursive: true });
writeFileSync(path.join(folder, 'private', 'secret.mov'), '');
symlinkSync(path.join(folder, 'private'), path.join(folder, 'cards', 'link'));
process.env.GEMELLO_ROOTS = [path.join(folder, 'cards'), path.join(folder, 'archive'), path.join(folder, 'nowhere')].join(path.delimiter);
process.env.GEMELLO_LOG = 'silent';
const { body, param, queryOf, RequestError, route, uploadedBytes, uploadToFile } = await import('./http');
const { allowedAt, browse } = await import('./roots');
afterAll(() => rmSync(folder, { recursive: true }));

/** A request as Astro hands it over. */
const asked = (address = '/', init: RequestInit = {}, params: Record<string, string> = {}) => {
  const url = new URL(address, 'http://127.0.0.1');
  return { url, params, locals: {}, request: new Request(url, init) } as unknown as APIContext;
};
const answer = async (work: (context: APIContext) => Promise<unknown>) => {
  const response = await route(work)(asked());
  return [response.status, await response.json()];
};
const post = (text: string) => asked('/', { method: 'POST', body: text });

describe('an answer', () => {
  it('is what the handler gives, as JSON that no cache keeps', async () => {
    const response = await route(async () => ({ frames: 24 }))(asked());
    expect([response.status, response.headers.get('cache-control'), await response.json()]).toEqual([200, 'no-store', { frames: 24 }]);
    expect(await answer(async () => undefined)).toEqual([200, {}]);
  });
  it('to what cannot be met has a status and words for the person', async () => {
    const failing = (error: Error) =>
      answer(async () => {
        throw error;
      });
    expect(await failing(new RequestError(404, 'There is no such job.'))).toEqual([404, { message: 'There is no such job.' }]);
    expect(await failing(new MediaError('A001C001.mov is empty (0 bytes).'))).toEqual([
      422,
      { message: 'A001C001.mov is empty (0 bytes).' },
    ]);
  });
  it('to what the disk does not take says so (507, WebDAV RFC 4918: insufficient storage)', async () => {
    const failing = (code: string) => answer(async () => Promise.reject(Object.assign(new Error(`${code}: write`), { code })));
    expect(await failing('ENOSPC')).toEqual([507, { message: expect.stringContaining('is full. Make room on it') }]);
    expect(await failing('EROFS')).toEqual([507, { message: expect.stringContaining('can only be read') }]);
    expect(await failing('SQLITE_FULL')).toEqual([507, { message: expect.stringContaining('is full. Make room on it') }]);
  });
  it('to a fault of ours tells nothing of the inside', async () => {
    const [status, { message }] = (await answer(async () => {
      throw new TypeError('cannot read properties of undefined, at /home/somebody/secret.ts');
    })) as [number, { message: string }];
    expect(status).toBe(500);
    expect(message).not.toContain('secret');
    expect(message).toContain('not with your files');
  });
});

describe('a request', () => {
  const schema = z.object({ handles: z.int('Handles are whole frames.').min(0) });
  it('must be JSON of the right shape', async () => {
    expect(await body(post('{"handles":12}'), schema)).toEqual({ handles: 12 });
    await expect(body(post('{handles:12'), schema)).rejects.toMatchObject({ status: 400, message: 'The request is not JSON.' });
    const [status, { message }] = (await answer(() => body(post('{"handles":1.5}'), schema))) as [number, { message: string }];
    expect([status, message]).toEqual([400, 'Handles are whole frames.']);
  });
  it('may hold JSON in its address', () => {
    expect(queryOf(asked('/?how=%7B%22handles%22%3A3%7D'), 'how', schema)).toEqual({ handles: 3 });
    expect(queryOf(asked('/'), 'how', z.object({}))).toEqual({});
    expect(() => queryOf(asked('/?how=%7B'), 'how', schema)).toThrow('how is not JSON.');
  });
  it('must name what it is about', () => {
    expect(param(asked('/?name=a.edl'), 'name')).toBe('a.edl');
    expect(param(asked('/', {}, { job: '1' }), 'job')).toBe('1');
    expect(() => param(asked('/'), 'name')).toThrow('The address lacks name.');
  });
});

describe('an upload', () => {
  const large = () => post('x'.repeat(4096)).request;
  it('is taken whole, or refused with the most that is taken', async () => {
    expect((await uploadedBytes(large(), 4096, 'The list')).length).toBe(4096);
    await expect(uploadedBytes(large(), 1024, 'The list')).rejects.toMatchObject({ status: 413 });
    await expect(uploadedBytes(asked('/', { method: 'POST' }).request, 10, 'The list')).rejects.toThrow('The list is empty.');
  });
  it('to a file is there whole or not at all', async () => {
    const file = path.join(folder, 'reference.mov');
    await expect(uploadToFile(large(), file, 1000, 'The reference')).rejects.toMatchObject({ status: 413 });
    expect(readdirSync(folder).filter((f) => f.startsWith('reference'))).toEqual([]);
    await uploadToFile(large(), file, 5000, 'The reference');
    expect(readFileSync(file, 'utf8')).toBe('x'.repeat(4096));
    const endless = asked('/', { method: 'PUT', body: 'x', headers: { 'content-length': '9e15' } }).request;
    await expect(uploadToFile(endless, file, 1e16, 'The reference')).rejects.toThrow(
      /^The reference will take about .* GB, and the disk has/,
    );
    writeFileSync(file, 'before');
    await expect(uploadToFile(large(), file, 1000, 'The reference')).rejects.toThrow('The reference is larger than');
    expect([readFileSync(file, 'utf8'), existsSync(`${file}.part`)]).toEqual(['before', false]);
  });
});

describe('folders of this machine', () => {
  const cards = path.join(folder, 'cards');
  it('are shown below the roots given at start, and nowhere else', async () => {
    expect(await browse(null)).toEqual({
      path: '',
      parent: null,
      folders: [cards, path.join(folder, 'archive'), path.join(folder, 'nowhere')],
    });
    expect(await browse(cards)).toEqual({ path: cards, parent: '', folders: [path.join(cards, 'A001')] });
    expect(await browse(path.join(cards, 'A001'))).toMatchObject({ parent: cards, folders: [] });
    // Whether there is anything or not is not told.
    for (const outside of [folder, '/', path.join(cards, '..'), path.join(folder, 'private'), path.join(folder, 'private', 'not-there')])
      await expect(browse(outside)).rejects.toThrow('lies outside the folders this server may look into.');
  });
  it('are not reached by a link that leads outside, or by a name that only begins alike', async () => {
    await expect(browse(path.join(cards, 'link'))).rejects.toThrow('lies outside');
    await expect(browse(path.join(folder, 'cards-old'))).rejects.toThrow('lies outside');
    for (const there of ['secret.mov', 'not-there.mov', 'neither/a.mov'])
      await expect(allowedAt(path.join(cards, 'link', there), 'not there')).rejects.toMatchObject({
        status: 403,
        message: `${path.join(cards, 'link', there)} lies outside the folders this server may look into.`,
      });
    await expect(allowedAt('cards/A001', 'not there')).rejects.toMatchObject({ status: 400 });
    expect(await allowedAt(path.join(cards, 'A001'), 'not there')).toMatchObject({ kind: 'folder' });
    expect(await allowedAt(path.join(folder, 'private'), 'not there', [path.join(folder, 'private')])).toMatchObject({ kind: 'folder' });
  });
  it('that are not there are said to be so, a root whose drive is not mounted yet too', async () => {
    await expect(browse(path.join(folder, 'nowhere'))).rejects.toMatchObject({ status: 404 });
    await expect(allowedAt(path.join(cards, 'B002', 'C003'), 'not there')).rejects.toMatchObject({ status: 404, message: 'not there' });
    await expect(browse(path.join(cards, 'B002'))).rejects.toThrow(/There is no folder .*B002 on this machine\. Is its drive mounted\?/);
  });
});
