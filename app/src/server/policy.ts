import { createHash } from 'node:crypto';

/** What the scripts that stand in a page itself are known by (CSP level 3, hash source). */
const hashesIn = (html: string): string[] =>
  [...html.matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g)].map(
    ([, text = '']) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`,
  );

/** What a page may load and run: what this server gives, and of scripts that stand in the page those of the framework. Styles are set by scripts. */
const policyOf = (scripts: readonly string[]): string =>
  [
    "default-src 'none'",
    `script-src 'self' ${scripts.join(' ')}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "media-src 'self' blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self'",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');

/** The desk as HTML holds nothing that people typed: the scripts in it are the framework's, and no other page has more. */
let framework: Promise<string> | null = null;

/** Headers that every answer has. A page says, too, what may run in it; `desk` gives the desk's HTML, and is null of the desk itself. */
export async function withPolicy(answer: Response, desk: (() => Promise<string>) | null): Promise<Response> {
  const { headers } = answer;
  headers.set('x-content-type-options', 'nosniff');
  headers.set('referrer-policy', 'no-referrer');
  headers.set('x-frame-options', 'DENY');
  if (headers.get('content-type')?.startsWith('text/html')) {
    headers.set('content-security-policy', desk ? await ofFramework(desk) : policyOf(hashesIn(await answer.clone().text())));
  }
  return answer;
}

function ofFramework(desk: () => Promise<string>): Promise<string> {
  framework ??= desk().then(
    (html) => policyOf(hashesIn(html)),
    (error) => {
      // It is asked for anew with the next page.
      framework = null;
      throw error;
    },
  );
  return framework;
}
