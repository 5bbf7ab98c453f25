import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { demoPaths } from '@gemello/demo';
import type { APIRequestContext } from '@playwright/test';

/** The demo's files; `npm test` draws them before the browser starts. */
export const DEMO = demoPaths(path.join(path.dirname(path.dirname(fileURLToPath(import.meta.url))), '.data', 'demo'));

/** Waits until a job has no work left, however busy the machine is: what never ends is ended by the test's own limit. */
export async function untilIdle(request: APIRequestContext, job: string): Promise<void> {
  for (;;) {
    const { tasks } = await (await request.get(`/api/jobs/${job}`)).json();
    if (tasks.length === 0) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
