import { createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { sizeText } from '@gemello/core';
import { MediaError, mustHaveRoom, refused, roomOn } from '@gemello/media';
import type { APIContext, APIRoute } from 'astro';
import pino from 'pino';
import { z } from 'zod';
import { refusedByDatabase } from './db/open';

export const log = pino({ name: 'gemello', level: process.env.GEMELLO_LOG ?? 'info' }, pino.destination(2));

/** A request that cannot be met, with the words the person sees. */
export class RequestError extends Error {
  override readonly name = 'RequestError';
  constructor(
    readonly status: number,
    message: string,
    /** What else the page needs to go on. */
    readonly details?: Readonly<Record<string, unknown>>,
  ) {
    super(message);
  }
}

/** An answer that is JSON already. */
export const jsonText = (text: string, status = 200): Response =>
  new Response(text, { status, headers: { 'content-type': 'application/json', 'cache-control': 'no-store' } });

const json = (body: unknown, status = 200): Response => jsonText(JSON.stringify(body), status);

/** Wraps a handler: what it returns becomes JSON, what it throws becomes a message and a status. */
export function route(handler: (context: APIContext) => Promise<unknown>): APIRoute {
  return async (context) => {
    try {
      const result = await handler(context);
      return result instanceof Response ? result : json(result ?? {});
    } catch (error) {
      if (error instanceof RequestError) return json({ message: error.message, ...error.details }, error.status);
      if (error instanceof z.ZodError) return json({ message: error.issues[0]?.message ?? 'The request could not be read.' }, 400);
      const refusal = refused(error) ?? refusedByDatabase(error);
      if (refusal) return json({ message: refusal.message }, 507);
      if (error instanceof MediaError) return json({ message: error.message }, 422);
      log.error({ err: error }, 'request failed');
      return json({ message: 'Something went wrong here, not with your files. The server log has the details.' }, 500);
    }
  };
}

/** A parameter of the address that must be there. */
export function param(context: APIContext, name: string): string {
  const value = context.params[name] ?? context.url.searchParams.get(name);
  if (!value) throw new RequestError(400, `The address lacks ${name}.`);
  return value;
}

/** A part of the address that holds JSON; an empty object when it is absent. */
export function queryOf<T>(context: APIContext, name: string, schema: z.ZodType<T>): T {
  try {
    return schema.parse(JSON.parse(context.url.searchParams.get(name) ?? '{}'));
  } catch (error) {
    if (error instanceof z.ZodError) throw error;
    throw new RequestError(400, `${name} is not JSON.`);
  }
}

/** The most that is taken as JSON: a hundred thousand decisions take about 30 MB. */
const LARGEST_JSON = 64e6;

/** What a request says as JSON, by the schema of its line in the table of endpoints. */
export async function body<T>(context: APIContext, schema: z.ZodType<T>): Promise<T> {
  const { endpoint } = context.locals;
  if (endpoint && endpoint.body !== schema) throw new Error(`${endpoint.method} ${endpoint.path} reads another body than its table says`);
  const text = new TextDecoder().decode(await uploadedBytes(context.request, LARGEST_JSON, 'The request'));
  try {
    return schema.parse(JSON.parse(text));
  } catch (error) {
    if (error instanceof z.ZodError) throw error;
    throw new RequestError(400, 'The request is not JSON.');
  }
}

/**
 * Lets at most `limit` bytes of a stream through; one that runs past it ends in a message for the
 * person. The rest is still taken in, and dropped: a sender that is cut off never reads the answer.
 */
function upTo(limit: number, what: string): Transform {
  let seen = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      seen += chunk.length;
      done(null, seen > limit ? undefined : chunk);
    },
    flush(done) {
      done(
        seen > limit
          ? new RequestError(413, `${what} is larger than ${sizeText(limit)}, which is the most that is taken by upload.`)
          : null,
      );
    },
  });
}

/** The body of a request in memory, at most `limit` bytes. */
export async function uploadedBytes(request: Request, limit: number, what: string): Promise<Uint8Array> {
  if (!request.body) throw new RequestError(400, `${what} is empty.`);
  const parts: Buffer[] = [];
  const limited = upTo(limit, what);
  limited.on('data', (part: Buffer) => parts.push(part));
  await pipeline(Readable.fromWeb(request.body as never), limited);
  if (parts.length === 0) throw new RequestError(400, `${what} is empty.`);
  return Buffer.concat(parts);
}

/** Writes the body of a request to a file, which appears under its name only when it is whole. */
export async function uploadToFile(request: Request, file: string, limit: number, what: string): Promise<void> {
  if (!request.body) throw new RequestError(400, `${what} is empty.`);
  const needed = Number(request.headers.get('content-length') ?? 0);
  mustHaveRoom({ what, instead: 'name the file where it lies instead of sending it' }, needed, await roomOn(path.dirname(file)));
  const partial = `${file}.part`;
  try {
    await pipeline(Readable.fromWeb(request.body as never), upTo(limit, what), createWriteStream(partial));
    await rename(partial, file);
  } catch (error) {
    await rm(partial, { force: true });
    throw error;
  }
}

/** Takes an upload in where `take` makes use of it; one that is refused is not left behind. */
export async function uploaded<T>(request: Request, file: string, limit: number, what: string, take: () => Promise<T>): Promise<T> {
  await uploadToFile(request, file, limit, what);
  try {
    return await take();
  } catch (error) {
    await rm(file, { force: true });
    throw error;
  }
}

/** The header under which a file is saved: its own name where a browser can read it, letters of ASCII for others (RFC 6266). */
export const attachment = (name: string): string =>
  `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`;
