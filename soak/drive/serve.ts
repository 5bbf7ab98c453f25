import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { Mode } from './index';
import * as is from './protocol';

/**
 * The program behind a drive: it hands on what lies in one folder at another, and fails as it is told. Started by `openDrive`; says
 * `mounted`, or why not, and takes a mode with each message. Ends when whoever started it does.
 */
const [behind = '', at = ''] = process.argv.slice(2);
const device = fs.openSync('/dev/fuse', 'r+');
const how = ['-i', '-t', 'fuse', '-o', `fd=3,rootmode=40000,user_id=${process.getuid?.()},group_id=${process.getgid?.()}`, 'soak', at];
const { status, stderr } = spawnSync('mount', how, { stdio: ['ignore', 'ignore', 'pipe', device] });
process.send?.(status === 0 ? 'mounted' : String(stderr));
if (status !== 0) process.exit(1);

/** How late everything is on a slow drive, in milliseconds. */
const LATE = 40;
const [EIO, EROFS, ENOSPC, ENOSYS] = [-5, -30, -28, -38];

let mode: Mode = 'well';
/** What a drive that hangs was asked meanwhile. */
let unheard: is.Request[] = [];
process.on('message', (to: Mode) => {
  mode = to;
  if (mode === 'hung') return;
  for (const request of unheard.splice(0)) hear(request);
});
process.on('disconnect', () => process.exit(0));

const ROOT = 1n;
const paths = new Map<bigint, string>([[ROOT, behind]]);
const nodes = new Map<string, bigint>([[behind, ROOT]]);
let last = ROOT;
const pathOf = (node: bigint): string => paths.get(node) ?? '';
function nodeOf(file: string): bigint {
  const known = nodes.get(file);
  if (known) return known;
  nodes.set(file, ++last);
  paths.set(last, file);
  return last;
}
/** What was called so before, and all in it, is called otherwise from now on. */
function renamed(from: string, to: string): void {
  for (const [file, node] of [...nodes])
    if (file === from || file.startsWith(`${from}/`)) {
      const now = to + file.slice(from.length);
      nodes.delete(file);
      nodes.set(now, node);
      paths.set(node, now);
    }
}

const CHANGES = new Set<number>([
  is.OP.setattr,
  is.OP.mkdir,
  is.OP.unlink,
  is.OP.rmdir,
  is.OP.rename,
  is.OP.rename2,
  is.OP.write,
  is.OP.create,
]);
const GROWS = new Set<number>([is.OP.mkdir, is.OP.create]);
const UNANSWERED = new Set<number>([is.OP.forget, is.OP.batchForget, is.OP.interrupt]);
/** These must be answered whatever happened to the drive, or nothing that was open could ever be closed. */
const ALWAYS = new Set<number>([is.OP.init, is.OP.release, is.OP.releasedir]);

/** What stands in the way of a request; null where nothing does. */
function fault({ op, body }: is.Request): number | null {
  if (ALWAYS.has(op)) return null;
  if (mode === 'gone') return EIO;
  if (mode === 'read-only' && (CHANGES.has(op) || (op === is.OP.open && (body.readUInt32LE(0) & 3) !== 0))) return EROFS;
  if (mode === 'full' && (GROWS.has(op) || (op === is.OP.write && beyond(body)))) return ENOSPC;
  return null;
}
/** True where a write would make its file longer. */
function beyond(body: Buffer): boolean {
  const end = body.readBigUInt64LE(8) + BigInt(body.readUInt32LE(16));
  return end > fs.fstatSync(Number(body.readBigUInt64LE(0)), { bigint: true }).size;
}
/** How long a file is: half of it, where all files are cut short. */
const lengthOf = (stat: fs.BigIntStats): bigint => (mode === 'short' && stat.isFile() ? stat.size / 2n : stat.size);
const entry = (file: string): Buffer => {
  const stat = fs.lstatSync(file, { bigint: true });
  return is.entryOut(nodeOf(file), stat, lengthOf(stat));
};
const handle = (body: Buffer): number => Number(body.readBigUInt64LE(0));
const opened = (fd: number): Buffer => is.packed([8, fd], [4, 0], [4, 0]);
/** The kernel looks after whether a file may be opened; what is written to its end is told where. */
const flagsOf = (body: Buffer): number => body.readUInt32LE(0) & ~(fs.constants.O_EXCL | fs.constants.O_APPEND);

const DOES: Record<number, (node: string, body: Buffer) => Buffer | number> = {
  [is.OP.init]: () => is.greeting(),
  [is.OP.lookup]: (node, body) => entry(path.join(node, is.namesIn(body, 0)[0] ?? '')),
  [is.OP.getattr]: (node, body) => {
    const ofHandle = (body.readUInt32LE(0) & 1) !== 0;
    const stat = ofHandle ? fs.fstatSync(Number(body.readBigUInt64LE(8)), { bigint: true }) : fs.lstatSync(node, { bigint: true });
    return is.attributesOut(stat, lengthOf(stat));
  },
  [is.OP.setattr]: (node, body) => {
    const sets = body.readUInt32LE(0);
    if (sets & is.SETS.size) fs.truncateSync(node, Number(body.readBigUInt64LE(16)));
    if (sets & is.SETS.mode) fs.chmodSync(node, body.readUInt32LE(68));
    if (sets & (is.SETS.accessed | is.SETS.modified)) {
      const { atimeMs, mtimeMs } = fs.statSync(node);
      const time = (bit: number, now: number, seconds: number, was: number) =>
        sets & now
          ? Date.now() / 1000
          : sets & bit
            ? Number(body.readBigUInt64LE(seconds)) + body.readUInt32LE(seconds === 32 ? 56 : 60) / 1e9
            : was / 1000;
      fs.utimesSync(
        node,
        time(is.SETS.accessed, is.SETS.accessedNow, 32, atimeMs),
        time(is.SETS.modified, is.SETS.modifiedNow, 40, mtimeMs),
      );
    }
    const stat = fs.lstatSync(node, { bigint: true });
    return is.attributesOut(stat, lengthOf(stat));
  },
  [is.OP.mkdir]: (node, body) => {
    const made = path.join(node, is.namesIn(body, 8)[0] ?? '');
    fs.mkdirSync(made, body.readUInt32LE(0));
    return entry(made);
  },
  [is.OP.unlink]: (node, body) => {
    const file = path.join(node, is.namesIn(body, 0)[0] ?? '');
    fs.unlinkSync(file);
    nodes.delete(file);
    return 0;
  },
  [is.OP.rmdir]: (node, body) => {
    const folder = path.join(node, is.namesIn(body, 0)[0] ?? '');
    fs.rmdirSync(folder);
    nodes.delete(folder);
    return 0;
  },
  [is.OP.rename]: (node, body) => moved(node, body, 8),
  [is.OP.rename2]: (node, body) => moved(node, body, 16),
  [is.OP.open]: (node, body) => opened(fs.openSync(node, flagsOf(body))),
  [is.OP.create]: (node, body) => {
    const made = path.join(node, is.namesIn(body, 16)[0] ?? '');
    const fd = fs.openSync(made, flagsOf(body) | fs.constants.O_CREAT, body.readUInt32LE(4));
    return Buffer.concat([entry(made), opened(fd)]);
  },
  [is.OP.read]: (_, body) => {
    const [fd, from, size] = [handle(body), Number(body.readBigUInt64LE(8)), body.readUInt32LE(16)];
    const end = Number(lengthOf(fs.fstatSync(fd, { bigint: true })));
    const bytes = Buffer.alloc(Math.max(0, Math.min(size, end - from)));
    return bytes.subarray(0, fs.readSync(fd, bytes, 0, bytes.length, from));
  },
  [is.OP.write]: (_, body) => {
    const HEAD = 40;
    const written = fs.writeSync(handle(body), body, HEAD, body.readUInt32LE(16), Number(body.readBigUInt64LE(8)));
    return is.packed([4, written], [4, 0]);
  },
  [is.OP.statfs]: () => is.roomOut(fs.statfsSync(behind), mode === 'full'),
  [is.OP.release]: (_, body) => {
    fs.closeSync(handle(body));
    return 0;
  },
  [is.OP.fsync]: (_, body) => {
    fs.fsyncSync(handle(body));
    return 0;
  },
  [is.OP.flush]: () => 0,
  [is.OP.opendir]: () => opened(0),
  [is.OP.readdir]: (node, body) => {
    const names = fs.readdirSync(node, { withFileTypes: true }).map((e) => ({ name: e.name, kind: e.isDirectory() ? 4 : 8 }));
    return is.namesOut(names, Number(body.readBigUInt64LE(8)), body.readUInt32LE(16));
  },
  [is.OP.releasedir]: () => 0,
  [is.OP.fsyncdir]: () => 0,
  [is.OP.access]: () => 0,
};

function moved(node: string, body: Buffer, head: number): number {
  const into = pathOf(body.readBigUInt64LE(0));
  const [from = '', to = ''] = is.namesIn(body, head);
  fs.renameSync(path.join(node, from), path.join(into, to));
  nodes.delete(path.join(into, to));
  renamed(path.join(node, from), path.join(into, to));
  return 0;
}

function done(request: is.Request): Buffer | number {
  const stands = fault(request);
  if (stands !== null) return stands;
  try {
    return DOES[request.op]?.(pathOf(request.node), request.body) ?? ENOSYS;
  } catch (error) {
    return (error as NodeJS.ErrnoException).errno ?? EIO;
  }
}

function hear(request: is.Request): void {
  if (UNANSWERED.has(request.op)) return;
  if (mode === 'hung') {
    unheard = [...unheard, request];
    return;
  }
  const said = () => {
    try {
      fs.writeSync(device, is.answer(request.unique, done(request)));
    } catch (error) {
      // Whoever asked is gone meanwhile.
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
  };
  if (mode === 'slow') setTimeout(said, LATE);
  else said();
}

const bytes = Buffer.alloc(is.ROOM);
function listen(): void {
  fs.read(device, bytes, 0, bytes.length, null, (error, length) => {
    // Nothing more comes once it is unmounted.
    if (error && error.code === 'ENODEV') process.exit(0);
    if (!error) hear(is.requestIn(bytes.subarray(0, length)));
    listen();
  });
}
listen();
