import { z } from 'zod';
import type { Frames } from '../time';

const text = z.string().max(500);

/** The key of an event, as `ListEvent.key`. */
export const eventKey = z.string().min(1).max(200);
export const eventScope = z.object({ of: z.literal('event'), event: eventKey });
export const cutScope = z.object({ of: z.literal('cut') });

/**
 * What a decision is about: one event of the cut; every event of which more than half lies in a span of source; every
 * event paired with an original, or with one below a folder; every event of a reel; the whole cut. The nearer one
 * counts, whichever was made later: an event before a source span before an original before a folder before a reel
 * before the cut.
 */
export const scopeSchema = z.discriminatedUnion('of', [
  eventScope,
  z.object({ of: z.literal('source'), reel: text, name: text, in: z.int(), out: z.int() }),
  z.object({ of: z.literal('original'), original: z.string().min(1) }),
  z.object({ of: z.literal('folder'), folder: z.string().min(1) }),
  z.object({ of: z.literal('reel'), reel: text }),
  cutScope,
]);
export type Scope = z.infer<typeof scopeSchema>;

const BREADTH = ['cut', 'reel', 'folder', 'original', 'source', 'event'] as const satisfies readonly Scope['of'][];

/** How near a scope is to an event, from 0 (the whole cut) up. */
export const nearness = (scope: Scope): number => BREADTH.indexOf(scope.of);

export const onEvent = (event: string): Scope => ({ of: 'event', event });
export const ON_CUT: Scope = { of: 'cut' };

/** A span of frames as decisions state it: whole numbers within any cut there is. */
export const shiftOfFrames = z.int().min(-100_000_000).max(100_000_000) satisfies z.ZodType<Frames>;
