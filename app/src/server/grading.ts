import {
  bringClose,
  type Cdl,
  type Colours,
  type Conform,
  framesAlone,
  hasFrame,
  type Shot,
  shotOf,
  sourceFrameAt,
  spread,
} from '@gemello/core';
import { isFaultOfFile } from '@gemello/media/plain';
import type { BroughtView } from '../contract/grading';
import { RequestError } from './http';
import { mediaThreads } from './media';
import { alone } from './pictures';
import { workspace } from './workspace';

/** Pictures of a shot whose colours are looked at, and how many pixels each has across. */
const [PICTURES, WIDTH] = [5, 96];

/**
 * The grades that bring shots close to one of them, as that is graded now. Nothing is kept. Throws RequestError where the measure has no
 * picture; a shot that cannot be brought close says why.
 */
export async function bringAllClose(jobId: string, measure: string, events: readonly string[]): Promise<BroughtView[]> {
  const { shown } = await workspace(jobId);
  const by = shown && shotOf(shown, measure);
  if (!shown || !by) throw new RequestError(404, 'The cut has no such event now.');
  const target = await coloursOf(shown, by, by.cdl);
  if (typeof target === 'string') throw new RequestError(422, `Event ${by.event.number} cannot be the measure: ${target}`);
  const found: BroughtView[] = [];
  for (const event of events) {
    const shot = shotOf(shown, event);
    if (!shot || event === measure) continue;
    // What its LUT does comes after the CDL: that would have to be undone first.
    const own = shot.lut ? 'it has a LUT of its own after its grade.' : await coloursOf(shown, shot, null);
    found.push(typeof own === 'string' ? { event, why: own } : { event, ...bringClose(own, target) });
  }
  return found;
}

/** Colours of a shot by itself, graded so; a sentence where it has none. */
async function coloursOf(conform: Conform, shot: Shot, cdl: Cdl | null): Promise<Colours | string> {
  const { original } = shot;
  if (shot.drawn !== 'picture' || !original) return 'it has no picture of its own here.';
  const frames = spread(framesAlone(conform, shot), PICTURES).filter((n) => hasFrame(original, sourceFrameAt(shot, n)));
  if (frames.length === 0) return 'none of its frames stands by itself.';
  const compositions = frames.map((n) => alone({ ...shot, cdl, viewing: null }, n, conform));
  try {
    return await mediaThreads().colours({ compositions, width: WIDTH });
  } catch (error) {
    if (isFaultOfFile(error)) return error.message;
    throw error;
  }
}
