import { execFileSync } from 'node:child_process';
import { closeSync, copyFileSync, mkdirSync, openSync, readdirSync, readFileSync, readSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { openThreads, scan } from '@gemello/media';
import { dpxFrame } from '../demo/src/dpx';
import { writeClip } from '../media/test/footage';
import { exr, packedTimecode, wav } from '../media/test/headers';
import { type Figure, inFolder, inTurn } from './measure';

const FILES = 10_000;
/** The yardstick of one process a file is run on this many and reckoned up; each process costs the same. */
const PROBED = 300;

const quiet = { aborted: false };
const scanned = (folder: string, known?: ReadonlyMap<string, string>) => scan({ folders: [folder], known }, () => {}, quiet);

/** Scans of ten thousand small real files: the first, against one ffprobe process a file; again, with nothing changed; and of headers alone. */
export function scanning(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const model = path.join(folder, 'model.mov');
    writeClip(model, { writer: 'intra-8bit', rate: RATES['24'], start: '01:00:00:00', reel: 'A001', frames: 8 });
    const card = path.join(folder, 'card');
    for (let i = 0; i < FILES; i++) {
      const roll = path.join(card, `A${String(Math.floor(i / 100)).padStart(3, '0')}`);
      if (i % 100 === 0) mkdirSync(roll, { recursive: true });
      copyFileSync(model, path.join(roll, `A001C${String(i).padStart(5, '0')}.mov`));
    }
    const first = path.join(card, 'A000');
    const [few, all] = [await memoryOf(card, FILES / 400), await memoryOf(card, FILES / 100)];
    let found = scanned(card);
    if (found.originals.length !== FILES) throw new Error(`${found.originals.length} of ${FILES} files were found`);
    const whole = await inTurn(
      () => {
        found = scanned(card);
      },
      () => {
        for (let i = 0; i < PROBED; i++)
          execFileSync(
            'ffprobe',
            ['-v', 'error', '-show_streams', '-show_format', path.join(first, `A001C${String(i % 100).padStart(5, '0')}.mov`)],
            { stdio: 'ignore' },
          );
      },
      1,
    );
    const probing = (whole.yardstick / PROBED) * FILES;
    const stamps = new Map(found.originals.map((o) => [o.path, o.stamp]));
    const again = await inTurn(
      () => {
        if (scanned(card, stamps).unchanged.length !== FILES) throw new Error('the second scan opened files');
      },
      () => {
        for (const roll of readdirSync(card)) readdirSync(path.join(card, roll));
      },
      5,
    );
    return [
      {
        name: `scan of ${FILES} QuickTime files`,
        ours: whole.ours,
        yardstick: probing,
        yardstickName: `one ffprobe a file (${PROBED} run, reckoned up)`,
        note: `${Math.round(FILES / whole.ours)} files/s; memory rose by ${Math.round(few / 1e6)} MB for a quarter of them, by ${Math.round(all / 1e6)} MB for all, originals handed on; they are ${Math.round(JSON.stringify(found.originals).length / 1e6)} MB as JSON`,
      },
      {
        name: `second scan of ${FILES} files, nothing changed`,
        ours: again.ours,
        yardstick: again.yardstick,
        yardstickName: 'readdir alone',
        note: `${Math.round(FILES / again.ours)} files/s`,
      },
      ...(await headers(folder)),
    ];
  });
}

/** How far memory rises while so many folders of the card are scanned on a thread and what is found is handed on, in bytes. */
async function memoryOf(card: string, folders: number): Promise<number> {
  const pool = openThreads();
  const rolls = readdirSync(card).slice(0, folders);
  await pool.scan({ folders: [path.join(card, rolls[0] as string)] }, () => {});
  const before = process.memoryUsage.rss();
  let most = before;
  const timer = setInterval(() => {
    most = Math.max(most, process.memoryUsage.rss());
  }, 50);
  await pool.scan({ folders: rolls.map((r) => path.join(card, r)) }, () => {});
  clearInterval(timer);
  await pool.close();
  return Math.max(most, process.memoryUsage.rss()) - before;
}

/** Header-only formats, against reading the first 4 KB of each file. */
async function headers(folder: string): Promise<Figure[]> {
  const count = 2000;
  const black = new Uint8ClampedArray(64 * 36 * 4);
  const kinds: [string, string, (i: number) => Uint8Array][] = [
    ['WAV', 'wav', (i) => wav(1, { samplesSinceMidnight: i * 48_000 })],
    [
      'OpenEXR',
      'exr',
      (i) => exr(64, 36, { timecode: packedTimecode(1, 0, Math.floor(i / 24) % 60, i % 24, false), fps: [24, 1], reel: 'A001' }),
    ],
    [
      'DPX',
      'dpx',
      (i) => dpxFrame(black, 64, 36, { timecode: '01:00:00:00', framesPerSecond: 24, device: 'A001', name: `clip_${i}`, position: 0 }),
    ],
  ];
  for (const [title, extension] of [
    ['PNG', 'png'],
    ['JPEG', 'jpg'],
    ['TIFF', 'tif'],
  ] as const) {
    const still = path.join(folder, `still.${extension}`);
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=320x180', '-frames:v', '1', still]);
    const bytes = readFileSync(still);
    kinds.push([title, extension, () => bytes]);
  }
  const figures: Figure[] = [];
  for (const [title, extension, make] of kinds) {
    const at = path.join(folder, extension);
    mkdirSync(at);
    // Names of two letters, so that they are clips of their own and no run of numbered frames.
    const nameOf = (i: number) => `clip_${[...String(i)].map((d) => String.fromCharCode(97 + Number(d))).join('')}.${extension}`;
    for (let i = 0; i < count; i++) writeFileSync(path.join(at, nameOf(i)), make(i));
    const bytes = Buffer.alloc(4096);
    const timed = await inTurn(
      () => {
        if (scanned(at).originals.length !== count) throw new Error(`not all ${title} files were found`);
      },
      () => {
        for (const name of readdirSync(at)) {
          const handle = openSync(path.join(at, name), 'r');
          readSync(handle, bytes, 0, 4096, 0);
          closeSync(handle);
        }
      },
      3,
    );
    figures.push({
      name: `scan of ${count} ${title} files`,
      ...timed,
      yardstickName: 'reading 4 KB of each',
      note: `${Math.round(count / timed.ours)} files/s`,
    });
  }
  return figures;
}
