import { z } from 'zod';
import { ENDPOINTS, type Endpoint } from './endpoints';

const GIVES: Record<NonNullable<Endpoint['gives']>, string> = {
  picture: 'image/*',
  movie: 'video/mp4',
  samples: 'application/octet-stream',
  file: '*/*',
  events: 'text/event-stream',
};

/** A schema of what is sent, as JSON Schema 2020-12; what that cannot say is left open. */
const schemaOf = (schema: z.ZodType) => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any', cycles: 'ref', reused: 'inline' });
  return rest;
};

/** The table of endpoints as an OpenAPI 3.1 document. */
export function openApi() {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const { method, path, does, query = {}, body, upload, gives, touches } of ENDPOINTS) {
    const address = path.replaceAll(/\[(\w+)\]/g, '{$1}');
    const inPath = [...path.matchAll(/\[(\w+)\]/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string', minLength: 1 },
    }));
    const inQuery = Object.entries(query).map(([name, schema]) => ({ name, in: 'query', schema: schemaOf(schema) }));
    const message = {
      'application/json': { schema: { type: 'object', required: ['message'], properties: { message: { type: 'string' } } } },
    };
    paths[address] = {
      ...paths[address],
      [method.toLowerCase()]: {
        summary: does,
        'x-touches': touches,
        parameters: [...inPath, ...inQuery],
        ...(body && { requestBody: { required: true, content: { 'application/json': { schema: schemaOf(body) } } } }),
        ...(upload && {
          requestBody: { required: true, content: { 'application/octet-stream': {} }, description: `at most ${upload} bytes` },
        }),
        responses: {
          200: { description: 'done', content: { [gives ? GIVES[gives] : 'application/json']: {} } },
          '4XX': { description: 'refused, with a sentence that says why', content: message },
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Gemello', version: '1' }, servers: [{ url: '/' }], paths };
}
