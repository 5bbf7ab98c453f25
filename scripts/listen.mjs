// The process that serves the built application: scripts/serve.mjs starts it.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import path from 'node:path';
import sirv from 'sirv';

const { GEMELLO_ROOT, GEMELLO_DATA, HOST, PORT } = process.env;

/** One line, and the exit code of what was asked wrongly. */
function refuse(line) {
  console.error(`gemello: ${line}`);
  process.exit(2);
}

/** False for an address whose escapes say nothing. */
function isReadable(url) {
  try {
    decodeURI(url);
    return true;
  } catch {
    return false;
  }
}

/** True while the process that wrote a lock is there and still is a server: a number may have gone to another program since. */
function isServing(pid) {
  try {
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('listen.mjs');
  } catch (error) {
    // Not ours to signal, or no such table on this system: the process is there.
    return error.code === 'EPERM' || (error.code === 'ENOENT' && process.platform !== 'linux');
  }
}

/** Two servers on one folder would take up each other's work: the folder says whose it is, and one that is gone is forgotten. */
function lock(folder) {
  const file = path.join(folder, 'server.pid');
  mkdirSync(folder, { recursive: true });
  for (let tries = 0; tries < 2; tries++) {
    try {
      writeFileSync(file, String(process.pid), { flag: 'wx' });
      const leave = () => rmSync(file, { force: true });
      process.on('exit', leave);
      for (const signal of ['SIGINT', 'SIGTERM'])
        process.once(signal, () => {
          leave();
          // As if it had not been heard: what is going on is taken up at the next start.
          process.kill(process.pid, signal);
        });
      return;
    } catch (error) {
      if (error.code !== 'EEXIST') refuse(`The data folder ${folder} cannot be written to (${error.code}).`);
      const pid = Number(readFileSync(file, 'utf8'));
      if (pid > 0 && isServing(pid))
        refuse(`Another Gemello server (process ${pid}) works in ${folder}. Stop it first, or give another folder with --data.`);
      rmSync(file, { force: true });
    }
  }
  refuse(`Another Gemello server just began to work in ${folder}.`);
}

if (GEMELLO_DATA) lock(GEMELLO_DATA);
// Without the script that started it nobody could stop it.
process.on('disconnect', () => process.kill(process.pid, 'SIGTERM'));

const built = path.join(GEMELLO_ROOT, 'app', 'dist');
process.env.GEMELLO_THREADS = path.join(built, 'threads');
if (!existsSync(process.env.GEMELLO_THREADS)) refuse('The application was built in part. Run `npm run build`.');
const { handler } = await import(path.join(built, 'server', 'entry.mjs'));
// What the build made is known by name from the start: the disk is not looked at for each address.
const files = sirv(path.join(built, 'client'), {
  etag: true,
  setHeaders(response, name) {
    // These carry their content in their name.
    if (name.startsWith('/_astro/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable');
  },
});
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];

// What the framework cannot even look at is no fault of the server.
const server = createServer((request, response) => {
  if (!METHODS.includes(request.method)) response.writeHead(405, { allow: METHODS.join(', ') }).end();
  else if (!isReadable(request.url)) response.writeHead(400).end('The address cannot be read.');
  else if (request.url.startsWith('/api/')) handler(request, response);
  else files(request, response, () => handler(request, response));
});
server.on('error', (error) =>
  refuse(
    error.code === 'EADDRINUSE'
      ? `Port ${PORT} is taken by another program. Close it, or give another port with --port.`
      : `The server cannot listen on port ${PORT} (${error.code ?? error.message}).`,
  ),
);
// A connection closed after Node's five seconds meets requests that are just being sent on it: they would be reset.
server.keepAliveTimeout = 75_000;
server.headersTimeout = 80_000;
// A reference of many gigabytes takes longer to arrive than Node's five minutes.
server.requestTimeout = 0;
server.listen(Number(PORT), HOST ?? '127.0.0.1');
