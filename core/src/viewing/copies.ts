import { type Conform, sourceFrameAt } from '../conform';
import { fileMark, type Original } from '../originals';
import type { Frames } from '../time';

/**
 * Viewing copies: light movies for the screen, each of one section of a clip, so that only what a cut uses is copied, and any
 * place of a long clip is at hand without the rest of it.
 */

/** Frames of a section. The k-th of a clip holds the frames from k times this on. */
export const SECTION: Frames = 240;
/** Pictures between two that stand by themselves: what must be decoded at the most to show one. */
export const KEY_EVERY: Frames = 12;
/** Most pixels across. */
export const COPY_WIDTH = 960;

export interface Section {
  readonly path: string;
  readonly section: number;
}

export const sectionOf = (frame: Frames): number => Math.floor(frame / SECTION);

/** The frames of a clip that a section holds: the last one has fewer. */
export const framesOf = ({ frames }: Pick<Original, 'frames'>, section: number): Frames =>
  Math.max(0, Math.min(frames, (section + 1) * SECTION) - section * SECTION);

/** Size of the pictures of a copy, in pixels as they are stored; even numbers, as the codec asks for. */
export function copyRaster({ raster }: Pick<Original, 'raster'>): { readonly width: number; readonly height: number } {
  const width = Math.min(COPY_WIDTH, raster.width);
  const even = (n: number) => Math.max(2, Math.floor(n / 2) * 2);
  return { width: even(width), height: even((raster.height * width) / raster.width) };
}

/** What a copy is called: by what the files of its clip are, so that it is another one when they are. */
export const copyName = (original: Original, section: number): string => `${fileMark(original).replaceAll(/[^\w-]/g, '_')}-${section}.mp4`;

/** True for a clip that copies are made of: one of which the picture moves. */
export const isCopied = ({ kind }: Pick<Original, 'kind'>): boolean => kind !== 'still' && kind !== 'sound';

/**
 * The sections that a cut shows, in the order in which it shows them, each once; `margin` frames of the source before and after
 * each event besides, within its clip.
 */
export function sectionsOf({ layers }: Conform, margin: Frames): Section[] {
  const shots = layers.flatMap((l) => l.shots).sort((a, b) => a.event.record.in - b.event.record.in);
  const found = new Map<string, Section>();
  for (const shot of shots) {
    const { original, event } = shot;
    if (!original || !isCopied(original)) continue;
    const ends = [event.record.in - (event.transitionIn?.before ?? 0), event.record.out + shot.tail - 1].map((n) => sourceFrameAt(shot, n));
    const inside = (n: Frames) => Math.min(original.frames - 1, Math.max(0, n));
    const [from, to] = [inside(Math.min(...ends) - margin), inside(Math.max(...ends) + margin)];
    for (let section = sectionOf(from); section <= sectionOf(to); section++)
      found.set(`${section} ${original.path}`, { path: original.path, section });
  }
  return [...found.values()];
}

/** All sections of one clip. */
export const wholly = ({ path, frames }: Pick<Original, 'path' | 'frames'>): Section[] =>
  Array.from({ length: Math.ceil(frames / SECTION) }, (_, section) => ({ path, section }));
