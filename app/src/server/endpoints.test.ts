import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { ENDPOINTS } from '../contract/endpoints';
import { openApi } from '../contract/openapi';
import { isOwnAddress, isOwnName } from './askers';
import { endpointOf, refusal } from './endpoints';

const pages = path.join(import.meta.dirname, '..', 'pages', 'api');
/** What the files of the framework's router answer to. */
const answered = readdirSync(pages, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.ts'))
  .flatMap((file) => {
    const address = `/api/${file.replace(/\.ts$/, '').replace(/(^|\/)index$/, '')}`.replace(/\/$/, '');
    const text = readFileSync(path.join(pages, file), 'utf8');
    return [...text.matchAll(/export const (GET|POST|PUT|PATCH|DELETE|ALL|HEAD|OPTIONS)\b/g)].map(([, method]) => `${method} ${address}`);
  });

describe('the table of endpoints', () => {
  it('has a line for all that is answered, and no other', () => {
    expect(ENDPOINTS.map((e) => `${e.method} ${e.path}`).sort()).toEqual([...answered].sort());
  });
  it('refuses what no line answers, and an address that says something wrongly, by its name', async () => {
    const said = async (method: string, pattern: string, query: string) => {
      const answer = refusal(endpointOf(method, pattern), new URL(`http://127.0.0.1/api?${query}`));
      return answer && [answer.status, (await answer.json()).message];
    };
    expect(await said('DELETE', '/api/jobs', '')).toEqual([404, expect.stringContaining('nothing at this address')]);
    expect(await said('GET', '/api/jobs/[job]/sound', 'piece=-1')).toEqual([400, expect.stringContaining('says piece wrongly')]);
    expect(await said('GET', '/api/jobs/[job]/originals', `path=${'x'.repeat(5000)}`)).toEqual([400, expect.stringContaining('path')]);
    expect(await said('GET', '/api/jobs/[job]/return', 'template={camera}')).toEqual([
      400,
      expect.stringMatching(/^\{camera\} is not known here/),
    ]);
    expect(await said('HEAD', '/api/jobs/[job]/sound', 'piece=3&look=a')).toBeNull();
  });
  it('is OpenAPI: each line once, with its parts of the address, and schemas that are JSON Schema', () => {
    const { paths } = openApi();
    expect(Object.values(paths).flatMap((one) => Object.keys(one))).toHaveLength(ENDPOINTS.length);
    const { post } = paths['/api/jobs/{job}/decisions'] as { post: { parameters: unknown[]; requestBody: { content: object } } };
    expect(post.parameters).toEqual([{ name: 'job', in: 'path', required: true, schema: { type: 'string', minLength: 1 } }]);
    expect(JSON.stringify(post.requestBody.content)).toContain('"decisions"');
  });
});

it('who asks is known by the address of the socket and by the name that is asked for: both are this machine’s own', () => {
  for (const address of ['127.0.0.1', '127.8.0.1', '::1', '::ffff:127.0.0.1']) expect(isOwnAddress(address), address).toBe(true);
  for (const address of ['192.168.1.7', '10.0.0.1', '::ffff:10.0.0.1', 'fe80::1', '2001:db8::7', '', 'localhost', '0.0.0.0'])
    expect(isOwnAddress(address), address).toBe(false);
  for (const host of ['127.0.0.1:4390', 'localhost', '[::1]:80']) expect(isOwnName(host), host).toBe(true);
  for (const host of [null, '', 'gemello.example:4390', '127.0.0.1.example', '127.0.0.1:80:90']) expect(isOwnName(host)).toBe(false);
});
