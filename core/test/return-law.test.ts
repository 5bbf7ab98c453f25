import fc from 'fast-check';
import { expect, it } from 'vitest';
import {
  acceptPairs,
  applyDecisions,
  type Conform,
  compile,
  type Decision,
  fractionOf,
  framesOfClip,
  LIST_FORMATS,
  pair,
  pictureAt,
  planReturn,
  RATES,
  type ReturnAsked,
  type ReturnClip,
  readDelivery,
  rulesSchema,
  shotOf,
  sourceFrameAt,
  standingList,
  USUAL_RETURN,
  writeList,
} from '../src';
import { dissolve, event, list, original } from './make';

/**
 * The law of a return: the editor who reads the returned list and links it to the returned clips by reel, name and timecode
 * sees at every record frame the very frame of the very original that the conform shows, mixed as it is there.
 */
const clip = original('/v/A001C001.mov', { frames: 1000 });
const START = clip.start;
const shots = fc.array(
  fc.record({
    length: fc.integer({ min: 8, max: 30 }),
    from: fc.integer({ min: 100, max: 800 }),
    speed: fc.constantFrom(1, 1, 1, 2, 0.5, 1.5, -1),
    joins: fc.constantFrom(0, 0, 2, 5),
  }),
  { minLength: 1, maxLength: 6 },
);
const ways = fc.record({
  handles: fc.integer({ min: 0, max: 12 }),
  clips: fc.constantFrom<ReturnAsked['clips']>('event', 'span'),
  speed: fc.constantFrom<ReturnAsked['speed']>('list', 'baked'),
});
const RULES = rulesSchema.parse({ lines: [{ reel: 'exact', name: 'exact', timecode: 'covers' }] });

function cutOf(made: readonly { length: number; from: number; speed: number; joins: number }[]) {
  let at = 240;
  const events = made.map(({ length, from, speed, joins }, i) => {
    const frames = Math.ceil(length * Math.abs(speed));
    const one = event(`V1/${i + 1}`, at, length, START + from, {
      source: { in: START + from, out: START + from + frames },
      retime: speed === 1 ? { kind: 'natural' } : { kind: 'constant', speed: fractionOf(speed) },
      transitionIn: i > 0 && joins > 0 ? dissolve(joins) : null,
    });
    at += length;
    return one;
  });
  const pairs = made.map(
    ({ from }, i): Decision => ({ kind: 'pair', event: `V1/${i + 1}`, original: clip.path, sourceStartFrame: from, rate: clip.rate }),
  );
  return applyDecisions(list(events), pairs).list;
}

/** What is seen at a record frame, as frames of the original. */
function seen(conform: Conform, n: number, frameOf: (path: string, frame: number) => number) {
  const { parts, count } = pictureAt(conform, n);
  return parts.slice(0, count).map((p) => ({
    side: p.side,
    share: p.share.toFixed(6),
    frame: p.shot.original ? frameOf(p.shot.original.path, p.sourceFrame) : null,
  }));
}

it.each(LIST_FORMATS.filter((f) => f.hasTransitions))('a return read from $title is the same cut, frame by frame', (format) => {
  fc.assert(
    fc.property(shots, ways, (made, asked) => {
      const cut = cutOf(made);
      const conform = compile(cut, [clip]);
      const plan = planReturn(cut, conform, { ...USUAL_RETURN, ...asked, title: 'BACK' });
      const name = `BACK.${format.extensions[0]}`;
      const { list: returned } = readDelivery(writeList(plan.list, format, name).files, { rate: RATES['24'] });
      const clips = plan.clips.map((c) =>
        original(`/back/${c.fileName}`, { start: c.start, frames: framesOfClip(c), rate: c.rate, reel: c.reel }),
      );
      const linked = acceptPairs(pair(standingList(returned), clips, { rules: RULES }), 'best');
      const again = compile(applyDecisions(returned, linked).list, clips);
      const byPath = new Map(plan.clips.map((c) => [`/back/${c.fileName}`, c]));
      const originalFrame = (path: string, frame: number): number => {
        const c = byPath.get(path) as ReturnClip;
        const { speed } = c.baking;
        if (!speed) return c.given.in + frame;
        const shot = shotOf(conform, c.event);
        return shot ? sourceFrameAt(shot, shot.event.record.in + speed.record.in + frame) : Number.NaN;
      };
      expect(again.span).toEqual(conform.span);
      for (let n = conform.span.in; n < conform.span.out; n++)
        expect(seen(again, n, originalFrame)).toEqual(seen(conform, n, (_, frame) => frame));
    }),
    { numRuns: 60 },
  );
});
