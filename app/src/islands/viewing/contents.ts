import { isTitle, type Part } from '@gemello/core/conform';
import { hasFrame } from '@gemello/core/originals';
import { COPY_WIDTH, drawnFromCopies } from '@gemello/core/viewing';
import { LRUCache } from 'lru-cache';
import { copyAddress, lutAddress, NO_ANSWER, pictureAddress } from '../data/api';
import { openCopies } from './copies';
import type { Cuts, Seen } from './cuts';
import { openDecoding } from './decoding';
import { type Content, type Decoded, tablesOf } from './drawing';
import { openTables, type Tables } from './tables';

/** Clips of one picture that are held. */
const STILLS = 12;

export interface Contents {
  /** What a side shows where all of it is decoded already; undefined where it is not. `moving`: without what only the server draws. */
  heldAt(seen: Seen, frame: number, moving: boolean): Content | undefined;
  /** Has it decoded where there are copies of it. */
  readyAt(seen: Seen, frame: number): Promise<void>;
  /**
   * What a side shows, decoded now; from the server where there is no copy of it, or no copy can show it. Before it has `settled`, what
   * is only tried is shown without its titles, so that it is there at once.
   */
  contentAt(seen: Seen, frame: number, width: number, settled: boolean): Promise<Content>;
  /** Lets go of what was decoded of files that are others now. */
  forget(): void;
  readonly tables: Tables;
  open(): number;
  close(): void;
}

/** The pictures that the cuts are put together of. `look` is what changes with any picture of the cut. */
export function openContents(job: string, cuts: Cuts, look: () => string): Contents {
  const copies = openCopies((path, section) => copyAddress(job, path, section, cuts.lookOf(path)));
  const decoding = openDecoding(copies);
  const stills = new LRUCache<string, Promise<ImageBitmap | null>>({
    max: STILLS,
    dispose: (made) => void made.then((bitmap) => bitmap?.close()),
  });

  const tables = openTables((path) => lutAddress(job, path, cuts.lookOf(path)));
  const isHere = (parts: readonly Part[]): boolean =>
    drawnFromCopies(parts) &&
    parts.every(({ shot, sourceFrame }) => shot.drawn === 'black' || (shot.original !== null && hasFrame(shot.original, sourceFrame)));
  /** Titles come from the server, picture by picture: where that cannot be waited for they are left out. */
  const partsAt = (seen: Seen, frame: number, moving: boolean): readonly Part[] => {
    const parts = cuts.partsAt(seen, frame);
    return moving ? parts.filter((part) => !isTitle(part)) : parts;
  };
  const moves = ({ shot }: Part) => shot.original !== null && shot.drawn === 'picture' && shot.original.kind !== 'still';

  /** The server draws even widths from 64 pixels on. */
  const askedWidth = (width: number) => Math.max(64, Math.ceil(width / 2) * 2);
  const still = (path: string, width: number): Promise<ImageBitmap | null> => {
    const address = pictureAddress(job, { side: 'original', path, frame: 0, width: askedWidth(width), look: cuts.lookOf(path) });
    const known = stills.get(address) ?? bitmapAt(address);
    stills.set(address, known);
    return known;
  };
  const fromServer = async (seen: Seen, parts: readonly Part[], frame: number, width: number): Promise<Content> => {
    const [part] = parts;
    if (isOtherwise(seen)) return pictureFrom(...otherwise(job, seen, frame, askedWidth(width)));
    const address =
      seen.of === 'original' && part?.shot.original
        ? {
            side: 'original',
            event: seen.event,
            path: part.shot.original.path,
            frame: part.sourceFrame,
            look: `${cuts.lookOf(part.shot.original.path)} ${look()}`,
          }
        : { side: seen.of, frame, look: look() };
    return pictureFrom(pictureAddress(job, { ...address, width: askedWidth(width) }));
  };

  const heldAt = (seen: Seen, frame: number, moving: boolean): Content | undefined => {
    const parts = partsAt(seen, frame, moving);
    const size = cuts.frameOf(seen);
    if (!size || parts.length === 0) return null;
    if (!isHere(parts)) return undefined;
    const all: { part: Part; picture: Decoded | null }[] = [];
    for (const part of parts) {
      const { original } = part.shot;
      const one = !original || !moves(part) ? null : decoding.held(original.path, part.sourceFrame);
      if (one === undefined || (one === null && part.shot.drawn !== 'black')) return undefined;
      if (tablesOf(part).some((path) => !tables.held(path))) return undefined;
      all.push({ part, picture: one });
    }
    return { parts: all, frame: size };
  };
  const readyAt = async (seen: Seen, frame: number): Promise<void> => {
    const parts = partsAt(seen, frame, false);
    if (isHere(parts)) await decoded(parts);
  };
  const decoded = async (parts: readonly Part[]): Promise<void> => {
    await Promise.all([
      ...parts.map((part) => (moves(part) && part.shot.original ? decoding.ready(part.shot.original.path, part.sourceFrame) : null)),
      ...parts.flatMap(tablesOf).map(tables.ready),
    ]);
  };

  return {
    heldAt,
    readyAt,
    tables,
    async contentAt(seen, frame, width, settled) {
      const quick = partsAt(seen, frame, !settled && isOtherwise(seen));
      const parts = quick.length > 0 ? quick : partsAt(seen, frame, false);
      const size = cuts.frameOf(seen);
      if (!size || parts.length === 0) return null;
      // A copy has not all the pixels of its original.
      if (width > COPY_WIDTH || !isHere(parts)) return fromServer(seen, parts, frame, width);
      try {
        await decoded(parts);
        const all = await Promise.all(
          parts.map(async (part) => {
            const { original } = part.shot;
            if (!original || part.shot.drawn === 'black') return { part, picture: null };
            const picture = moves(part) ? decoding.held(original.path, part.sourceFrame) : await still(original.path, width);
            if (!picture) throw new Error('a picture that was there is gone');
            return { part, picture };
          }),
        );
        return { parts: all, frame: size };
      } catch {
        return fromServer(seen, parts, frame, width);
      }
    },
    forget() {
      copies.forget();
      decoding.forget();
      stills.clear();
    },
    open: () => decoding.open(),
    close() {
      decoding.close();
      stills.clear();
    },
  };
}

/** True for the cut as it does not stand: with something tried, layers left out, or another version of it. */
const isOtherwise = (seen: Seen): seen is Exclude<Seen, { of: 'reference' | 'original' }> =>
  seen.of === 'version' || (seen.of === 'conform' && (seen.tried !== undefined || seen.without !== undefined));

/** What the server is asked for to draw that. */
function otherwise(
  job: string,
  seen: Exclude<Seen, { of: 'reference' | 'original' }>,
  frame: number,
  width: number,
): [string, RequestInit] {
  const { tried, without } = seen.of === 'conform' ? seen : {};
  const body = JSON.stringify({ frame, width, tried, without, list: seen.of === 'version' ? seen.list : null });
  return [`/api/jobs/${job}/picture`, { method: 'POST', headers: { 'content-type': 'application/json' }, body }];
}

/** A picture that the server draws; what it says where it draws none. */
async function pictureFrom(address: string, how?: RequestInit): Promise<Content> {
  const answer = await fetch(address, how).catch(() => null);
  if (!answer) return { why: NO_ANSWER };
  if (answer.ok) return { whole: await createImageBitmap(await answer.blob()) };
  const said: unknown = await answer.json().catch(() => null);
  return { why: said instanceof Object && 'message' in said ? String(said.message) : `The server answered ${answer.status}.` };
}

async function bitmapAt(address: string): Promise<ImageBitmap | null> {
  const answer = await fetch(address);
  return answer.ok ? createImageBitmap(await answer.blob()) : null;
}
