import { z } from 'zod';
import { lutViewSchema } from '../../contract/ledger';

export const NO_ANSWER = 'The Gemello server does not answer. Is it still running?';

/** Asks the server, and takes what is answered for what the contract says it is. Rejects with an Error whose message is meant for the person. */
export async function ask<T>(path: string, schema: z.ZodType<T>, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new NotAnswered(NO_ANSWER);
  }
  const answer = await response.json().catch(() => ({ message: `The server answered ${response.status}.` }));
  if (!response.ok) throw response.status >= 500 ? new NotAnswered(answer.message) : new Error(answer.message);
  const parsed = schema.safeParse(answer);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  // The page and the server are of two versions.
  throw new Error(
    `The server answered something else than this page expects (${issue?.path.join('.')}: ${issue?.message}). Load the page again.`,
  );
}

/** Where only that it was done is of interest. */
export const done = z.unknown();

/** The server could not answer, or did not: asking again may help. */
export class NotAnswered extends Error {}

/** What of an answer is shown, and why there is nothing to show. What was had before is shown on where the server is only away: what is typed beside it must not go with it. */
export const shown = <T>({ data, error }: { data: T; error: Error | null }): { data: T; error: Error | null } => ({
  data,
  error: data !== undefined && error instanceof NotAnswered ? null : error,
});

/** Sends JSON and gives the JSON that comes back. */
export const send = <T>(method: string, path: string, schema: z.ZodType<T>, body: unknown): Promise<T> =>
  ask(path, schema, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

/** The address of a picture; see the endpoint for what each field means. */
export function pictureAddress(job: string, fields: Record<string, string | number | null | undefined>): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(fields)) if (value !== null && value !== undefined) query.set(name, String(value));
  return `/api/jobs/${job}/picture?${query}`;
}

/** What is heard, by what changes when its file does. */
export interface HeardFile {
  readonly from: 'guide' | 'reference';
  readonly look: string;
}

/** The address of a piece of what is heard, or of how loud it is. */
export const soundAddress = (job: string, { from, look }: HeardFile, piece: number | 'peaks'): string =>
  `/api/jobs/${job}/sound?${new URLSearchParams(piece === 'peaks' ? { of: 'peaks', from, look } : { piece: String(piece), from, look })}`;

/** The address of a look-up table; `look` changes when its file does. */
export const lutAddress = (job: string, path: string, look: string): string =>
  `/api/jobs/${job}/lut?${new URLSearchParams({ path, look })}`;

/** Looks whether a file is a look-up table that can be used. Rejects with why it is none. */
export const tryLut = (job: string, path: string) =>
  ask(`/api/jobs/${job}/lut?${new URLSearchParams({ path, of: 'about' })}`, lutViewSchema);

/** The address of a viewing copy; `look` changes when the files of its clip do. */
export const copyAddress = (job: string, path: string, section: number, look: string): string =>
  `/api/jobs/${job}/copy?${new URLSearchParams({ path, section: String(section), look })}`;
