import { z } from 'zod';
import { framesPerDay, sameSpeed } from '../time';
import { stampOfTake } from './identity';
import type { Original, Piece } from './model';
import { looseReel, withoutExtension } from './names';

/**
 * What a person says of a take over several files: `parts` are the paths of the files that follow
 * `original`, in order. None: the file stands alone, whatever its name or size suggest.
 */
export const joinSchema = z.object({
  kind: z.literal('join'),
  original: z.string().min(1),
  parts: z.array(z.string().min(1)).max(1000),
});
export type Join = z.infer<typeof joinSchema>;

/**
 * File systems in use on cards end a file at these sizes, in bytes, and a take continues in the next one
 * (FAT32: 2^32 - 1; older forms: 2^31 - 1). A piece that was ended so lies within `CLOSE` below.
 */
const LIMITS = [2 ** 31, 2 ** 32];
const CLOSE = 0.03;

/** A tail that says in words which piece a file is: `_part2`, `-seg03` (common practice, from memory). */
const SAID = /[ _.-](?:part|pt|span|seg|segment|chunk)[ _.-]?(\d{1,3})$/i;
/** A number at the end of a name, which may count pieces or takes. */
const COUNTED = /(\d{1,4})$/;

/**
 * The takes that go on in further files, made one clip each under the path of their first file; all
 * others as they are, in the same order. Joined of themselves are movies and sounds of one folder
 * whose names count on by one, whose form and reel are the same, and whose timecode goes on without
 * a gap, when there is a firm sign of it: the name says it is a part, every file but the last is as
 * large as its file system allows, or a source other than the file name gives both the same clip
 * name. Timecode that goes on is no sign by itself: a camera in record-run does that from take to take.
 */
export function joinSpans(originals: readonly Original[], words: readonly Join[] = []): Original[] {
  const byPath = new Map(originals.map((o) => [o.path, o]));
  const word = new Map(words.map((w) => [w.original, w.parts]));
  const joined = new Map<string, Original[]>();
  const taken = new Set<string>();
  for (const [first, parts] of word) {
    const whole = [first, ...parts].flatMap((p) => byPath.get(p) ?? []);
    if (whole[0]?.path !== first || whole.some((o) => taken.has(o.path))) continue;
    joined.set(first, whole);
    for (const o of whole) taken.add(o.path);
  }
  const signed = originals.some(hasSign);
  for (const run of signed ? countedRuns(originals.filter((o) => !taken.has(o.path))) : []) {
    if (run.length < 2 || !isFirm(run)) continue;
    joined.set((run[0] as Original).path, run);
    for (const o of run) taken.add(o.path);
  }
  if (taken.size === 0) return [...originals];
  return originals.flatMap((o) => {
    const whole = joined.get(o.path);
    if (whole) return [whole.length > 1 ? asOne(whole) : o];
    return taken.has(o.path) ? [] : [o];
  });
}

/** The clip that begins where this one ends and is called as if it came next: perhaps the same take. Null when there is none. */
export function mayGoOnIn(clip: Original, originals: readonly Original[]): Original | null {
  const next = nameAfter(clip);
  return (next && originals.find((o) => sameKey(next, keyOf(o)) && goesOn(clip, o))) || null;
}

interface Key {
  readonly stem: string;
  readonly number: number;
}

/** The folder, the name without its last number, and the extension; and that number. */
function keyOf(o: Original): Key | null {
  if (o.kind !== 'movie' && o.kind !== 'sound') return null;
  const name = withoutExtension(o.fileName);
  const match = SAID.exec(name) ?? COUNTED.exec(name);
  if (!match?.[1]) return null;
  const folder = o.path.slice(0, o.path.length - o.fileName.length);
  const extension = o.fileName.slice(name.length);
  return { stem: `${folder}${name.slice(0, name.length - match[1].length)}*${extension}`.toLowerCase(), number: Number(match[1]) };
}

function nameAfter(o: Original): Key | null {
  const key = keyOf(pieceOf(o, -1));
  return key && { ...key, number: key.number + 1 };
}

/** A clip's piece as it was before it was joined, as far as its name goes. */
function pieceOf(o: Original, at: number): Original {
  const path = o.pieces.at(at)?.path;
  return path === undefined ? o : { ...o, path, fileName: path.split('/').pop() ?? path };
}

const sameKey = (a: Key, b: Key | null): boolean => b !== null && a.stem === b.stem && a.number === b.number;

/** Clips whose names count on by one, each beginning where the one before ends. */
function countedRuns(originals: readonly Original[]): Original[][] {
  const groups = new Map<string, { number: number; clip: Original }[]>();
  for (const clip of originals) {
    const key = keyOf(clip);
    if (!key) continue;
    const group = groups.get(key.stem);
    if (group) group.push({ number: key.number, clip });
    else groups.set(key.stem, [{ number: key.number, clip }]);
  }
  const runs: Original[][] = [];
  for (const group of groups.values()) {
    if (group.length < 2) continue;
    group.sort((a, b) => a.number - b.number);
    let run: Original[] = [];
    group.forEach(({ number, clip }, i) => {
      const before = group[i - 1];
      if (before && number === before.number + 1 && goesOn(before.clip, clip) && bound(before.clip, clip)) run.push(clip);
      else {
        runs.push(run);
        run = [clip];
      }
    });
    runs.push(run);
  }
  return runs;
}

/** True when `next` begins where `clip` ends and is of the same form; without timecode, of the same form. */
function goesOn(clip: Original, next: Original): boolean {
  const alike =
    clip.kind === next.kind &&
    sameSpeed(clip.rate, next.rate) &&
    clip.rate.dropFrame === next.rate.dropFrame &&
    clip.codec === next.codec &&
    clip.raster.width === next.raster.width &&
    clip.raster.height === next.raster.height &&
    looseReel(clip.reel) === looseReel(next.reel) &&
    clip.hasTimecode === next.hasTimecode;
  return alike && (clip.hasTimecode ? next.start === (clip.start + clip.frames) % framesPerDay(clip.rate) : saysPart(next));
}

const saysPart = (o: Original): boolean => SAID.test(withoutExtension(o.fileName));

const isFull = (o: Original): boolean => LIMITS.some((limit) => o.bytes <= limit && o.bytes > limit * (1 - CLOSE));

const statedName = (o: Original): string | null =>
  o.claims
    .find((c) => c.field === 'clipName')
    ?.value.trim()
    .toLowerCase() ?? null;

/** What a file must have of itself to go on in another. */
const hasSign = (o: Original): boolean => isFull(o) || saysPart(o) || statedName(o) !== null;

/** The sign that binds two files that follow one another. */
function bound(clip: Original, next: Original): boolean {
  const name = statedName(clip);
  return isFull(clip) || (saysPart(clip) && saysPart(next)) || (name !== null && name === statedName(next));
}

/** A take does not begin in the middle: its first file says part 1 or less, or is bound by something else. */
function isFirm([first]: readonly Original[]): boolean {
  if (!first || !saysPart(first) || isFull(first)) return first !== undefined;
  return (keyOf(first)?.number ?? 0) <= 1;
}

function asOne(whole: readonly Original[]): Original {
  const [first] = whole as [Original];
  const pieces = whole.map((o): Piece => ({ path: o.path, frames: o.frames }));
  return {
    ...first,
    frames: pieces.reduce((sum, p) => sum + p.frames, 0),
    pieces,
    bytes: whole.reduce((sum, o) => sum + o.bytes, 0),
    stamp: stampOfTake(whole),
    print: whole.map((o) => o.print).join(' '),
    sidecars: [...new Set(whole.flatMap((o) => o.sidecars))],
    checksums: whole.flatMap((o) => o.checksums),
    measured: whole.flatMap((o) => o.measured),
    warnings: whole.flatMap((o) => o.warnings),
  };
}
