import { describe, expect, it } from 'vitest';
import { conformOf, event, list, original } from '../../test/make';
import { type Conform, pictureAt } from '../conform';
import type { Decision } from '../decisions';
import type { ListEvent } from '../edit';
import { copyRaster, drawnFromCopies, framesOf, SECTION, sectionsOf, wholly } from '.';

/** Viewing copies: decision 0027. A clip of 1 000 frames holds four whole sections and one of 40 frames. */
const clip = original('/v/a.mov', { frames: 1000, start: 0 });
const cutOf = (...events: ListEvent[]): Conform => {
  const pairs = events.map(({ key, source }): Decision => ({ kind: 'pair', event: key, original: clip.path, sourceStartFrame: source.in }));
  return conformOf(list(events), [clip], pairs);
};

describe('sections', () => {
  it('are those that an event shows, and those around it that it may be slipped into', () => {
    const inside = cutOf(event('a/1', 0, 20, 100));
    expect(sectionsOf(inside, 0).map((s) => s.section)).toEqual([0]);
    const across = cutOf(event('a/1', 0, 20, SECTION - 10));
    expect(sectionsOf(across, 0).map((s) => s.section)).toEqual([0, 1]);
    expect(sectionsOf(inside, 200).map((s) => s.section)).toEqual([0, 1]);
  });
  it('are each asked for once, in the order of the cut, and never beyond their clip', () => {
    const cut = cutOf(event('a/1', 0, 20, 980), event('a/2', 20, 20, 0), event('a/3', 40, 20, 30));
    expect(sectionsOf(cut, 48).map((s) => s.section)).toEqual([3, 4, 0]);
  });
  it('hold as many frames as there are', () => {
    expect(wholly(clip).map((s) => framesOf(clip, s.section))).toEqual([240, 240, 240, 240, 40]);
    expect(framesOf(clip, 5)).toBe(0);
  });
  it('are 960 pixels across, in the shape of their clip and in even numbers, and never larger than it', () => {
    expect(copyRaster({ raster: { width: 4096, height: 1716 } })).toEqual({ width: 960, height: 402 });
    expect(copyRaster({ raster: { width: 641, height: 361 } })).toEqual({ width: 640, height: 360 });
  });
});

describe('a picture', () => {
  const at = (cut: Conform, frame: number) => pictureAt(cut, frame).parts;
  it('is put together from copies, but not where it may be seen through', () => {
    const cut = cutOf(event('a/1', 0, 20, 100));
    expect(drawnFromCopies(at(cut, 5))).toBe(true);
    const [part] = at(cut, 5);
    expect(part && drawnFromCopies([part, { ...part, layer: 1 }])).toBe(false);
    expect(part && drawnFromCopies([part, { ...part, layer: 1, shot: { ...part.shot, original: { ...clip, codec: 'h264' } } }])).toBe(true);
  });
  it('of a title comes from the compositor', () => {
    const title = conformOf(list([event('a/1', 0, 20, 100, { kind: 'title' })]), [clip]);
    expect(drawnFromCopies(at(title, 5))).toBe(false);
  });
});
