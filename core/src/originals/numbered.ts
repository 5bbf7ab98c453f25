import { contains, type FrameRange, type Frames } from '../time';
import type { Original } from './model';

const NUMBERED = /^(.*?)(\d{3,10})(\.[a-z0-9]+)$/i;
/**
 * Numbers further apart than this many frames begin another run: what was shot in one go lacks a few
 * frames, not minutes of them (judgement, no standard).
 */
const LONGEST_GAP: Frames = 1000;

/** Files of one numbered run, in order. */
export interface NumberedRun {
  readonly stem: string;
  readonly extension: string;
  /** The number of the first file. */
  readonly first: number;
  readonly files: readonly string[];
  /** What is missing between first and last, as frames counted from 0 at the first. */
  readonly gaps: readonly FrameRange[];
}

interface Numbered {
  readonly name: string;
  readonly number: number;
}

/** Groups the picture files of one folder into numbered runs; a run has at least two files. Of two with one number the first by name is its frame. */
export function groupNumbered(fileNames: readonly string[]): { runs: NumberedRun[]; singles: string[] } {
  const groups = new Map<string, Numbered[]>();
  const singles: string[] = [];
  for (const name of fileNames) {
    const match = NUMBERED.exec(name);
    if (!match) {
      singles.push(name);
      continue;
    }
    const key = `${match[1]}\u0000${match[3]?.toLowerCase()}`;
    const group = groups.get(key);
    const file = { name, number: Number(match[2]) };
    if (group) group.push(file);
    else groups.set(key, [file]);
  }
  const runs: NumberedRun[] = [];
  for (const [key, group] of groups) {
    const [stem = '', extension = ''] = key.split('\u0000');
    for (const run of runsIn(group, singles)) {
      if (run.length < 2) singles.push(...run.map((f) => f.name));
      else runs.push({ stem, extension, first: run[0]?.number ?? 0, files: run.map((f) => f.name), gaps: gapsIn(run) });
    }
  }
  return { runs, singles };
}

/** Takes files of one name apart where their numbers are far from one another. A number that was there already goes to `rest`. */
function runsIn(files: Numbered[], rest: string[]): Numbered[][] {
  const runs: Numbered[][] = [];
  let last: Numbered | undefined;
  for (const file of files.sort((a, b) => a.number - b.number || (a.name < b.name ? -1 : 1))) {
    if (file.number === last?.number) {
      rest.push(file.name);
      continue;
    }
    if (last && file.number - last.number <= LONGEST_GAP + 1) runs.at(-1)?.push(file);
    else runs.push([file]);
    last = file;
  }
  return runs;
}

function gapsIn(run: readonly Numbered[]): FrameRange[] {
  const first = run[0]?.number ?? 0;
  const gaps: FrameRange[] = [];
  run.forEach(({ number }, i) => {
    const before = run[i - 1]?.number;
    if (before !== undefined && number > before + 1) gaps.push({ in: before + 1 - first, out: number - first });
  });
  return gaps;
}

/** The name of the file that is a frame of numbered frames, counted from 0; null where it is missing, and before and after the clip. */
export function fileOfFrame({ files, gaps }: Pick<Original, 'files' | 'gaps'>, frame: Frames): string | null {
  let place = frame;
  for (const gap of gaps) {
    if (frame < gap.in) break;
    if (frame < gap.out) return null;
    place -= gap.out - gap.in;
  }
  return files[place] ?? null;
}

/** The frame itself where it is there, else the last one before it that is. */
export function heldFrame({ gaps }: Pick<Original, 'gaps'>, frame: Frames): Frames {
  const gap = gaps.find((g) => contains(g, frame));
  return gap ? gap.in - 1 : frame;
}

/** True when the clip has a picture at a frame, counted from 0; a still has its one picture at 0. */
export const hasFrame = (clip: Pick<Original, 'frames' | 'gaps'>, frame: Frames): boolean =>
  frame >= 0 && frame < clip.frames && heldFrame(clip, frame) === frame;

/** How many frames of a span are missing inside the clip. */
export function missingInside({ gaps }: Pick<Original, 'gaps'>, span: FrameRange): Frames {
  let missing = 0;
  for (const gap of gaps) missing += Math.max(0, Math.min(gap.out, span.out) - Math.max(gap.in, span.in));
  return missing;
}
