import { ENDPOINTS, type Endpoint } from '../contract/endpoints';
import { jsonText } from './http';

const lines = new Map<string, Endpoint>(ENDPOINTS.map((one) => [`${one.method} ${one.path}`, one]));

/** The line of the table for a request; the framework answers `HEAD` as `GET`. */
export const endpointOf = (method: string, pattern: string): Endpoint | undefined =>
  lines.get(`${method === 'HEAD' ? 'GET' : method} ${pattern.replace(/\/$/, '')}`);

const refused = (status: number, message: string): Response => jsonText(JSON.stringify({ message }), status);

/** Why a request to the server's own addresses is not answered, before anything is done for it; null where it is. */
export function refusal(endpoint: Endpoint | undefined, url: URL): Response | null {
  if (!endpoint) return refused(404, 'There is nothing at this address that answers so.');
  for (const [name, schema] of Object.entries(endpoint.query ?? {})) {
    const said = url.searchParams.get(name);
    const read = said === null ? null : schema.safeParse(said);
    if (!read || read.success) continue;
    const [issue] = read.error.issues;
    // What the schema says in its own words is for a person; the rest is for whoever wrote the address.
    return refused(400, issue?.code === 'custom' ? issue.message : `The address says ${name} wrongly: ${issue?.message}`);
  }
  return null;
}
