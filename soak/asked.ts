import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { serverAt } from './server';

/** Requests made up from the OpenAPI of a server by the program at a path (schemathesis of PyPI): none may be answered as a fault of the server. */
const [program = ''] = process.argv.slice(2);
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-asked-'));
const server = serverAt(4382, path.join(folder, 'desk'));
await server.start();
const table = `${server.base}/api/openapi`;
const asked = ['--checks', 'not_a_server_error', '--max-examples', '50', '--phases', 'coverage,fuzzing', '--exclude-path-regex', 'watch'];
// What it writes down of its run stays with the run.
const { status } = spawnSync(program, ['run', table, '--url', server.base, ...asked], { cwd: folder, stdio: 'inherit' });
await server.kill();
rmSync(folder, { recursive: true, force: true });
process.exit(status ?? 1);
