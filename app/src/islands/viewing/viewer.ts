import {
  type Conform,
  compile,
  hidesBelow,
  isTitle,
  newPicture,
  type Part,
  partsOf,
  pictureAt,
  referencePart,
} from '@gemello/core/conform';
import { hasFrame } from '@gemello/core/originals';
import { drawnFromCopies, KEY_EVERY } from '@gemello/core/viewing';
import type { ConformView } from '../../contract/ledger';
import { copyAddress, pictureAddress } from '../data/api';
import { openCopies } from './copies';
import { openDecoding } from './decoding';
import { type Comparing, type Content, type Decoded, openDrawing, type Side } from './drawing';

/** What the page hears of the viewer. `frame`: the record frame that is on the screen now. */
export interface Told {
  readonly frame: number;
  readonly playing: boolean;
  /** Frames that were shown, and passed over because they were not ready in time, since playing began. */
  readonly shown: number;
  readonly dropped: number;
}

/** Frames that are played, as on the record. */
export interface Play {
  readonly from: number;
  readonly in: number;
  readonly out: number;
  /** Times the rate of the cut; below zero backwards. */
  readonly speed: number;
}

export interface Viewer {
  /** Takes the cut as it is shown, and with it other pictures. */
  load(view: ConformView | null, look: string): void;
  /** Shows a record frame, both sides held against each other in one way. Resolves when it is on the screen, or another was asked for. */
  show(frame: number, comparing: Comparing): Promise<void>;
  /** Holds the same frame otherwise against itself: nothing is put together anew. */
  compare(comparing: Comparing): void;
  play(play: Play): void;
  stop(): void;
  /** A side as it was put together last, to be looked at by whoever checks it. */
  read(side: Side): { width: number; height: number; pixels: Uint8Array } | null;
  /** What is open now. */
  open(): { frames: number; textures: number };
  close(): void;
}

/** Pixels across that pictures are put together at; fewer where the cut has fewer. */
const WIDTH = 960;
const SIDES = ['reference', 'conform'] as const;
/** Runs of pictures that are decoded ahead, in the direction in which frames are gone through. */
const AHEAD = 2;

/** The viewer of a job: it assembles the cut from viewing copies, through the one time map, and draws onto a canvas. Null without WebGL. */
export function openViewer(canvas: OffscreenCanvas, job: string, tell: (told: Told) => void): Viewer | null {
  const drawing = openDrawing(canvas);
  if (!drawing) return null;
  let conform: Conform | null = null;
  let view: ConformView | null = null;
  let look = '';
  let comparing: Comparing | null = null;
  /** The frame that was asked for last, and the one before it. */
  let [wanted, before] = [-1, -1];
  let turn = 0;
  let playing: (Play & { at: number; last: number; shown: number; dropped: number }) | null = null;
  const copies = openCopies((path, section) => copyAddress(job, path, section, view?.looks[path] ?? ''));
  const decoding = openDecoding(copies);
  const stills = new Map<string, Promise<ImageBitmap | null>>();
  const picture = newPicture();

  /** The parts of a side that are seen at a frame. */
  const partsAt = (side: Side, frame: number): readonly Part[] => {
    if (side === 'reference') {
      const part = view?.reference && referencePart(view.reference.movie, view.reference.lay, frame);
      return part ? [part] : [];
    }
    if (!conform) return [];
    const parts = partsOf(pictureAt(conform, frame, picture));
    const lowest = parts.findLastIndex((part) => conform !== null && hidesBelow(part, conform.frame));
    const seen = parts.slice(Math.max(0, lowest));
    // Titles come from the server, picture by picture: while it plays they are left out, and stand again where it stops.
    return playing ? seen.filter((part) => !isTitle(part)) : seen;
  };
  const isHere = (parts: readonly Part[]): boolean =>
    drawnFromCopies(parts, conform?.viewing ?? null) &&
    parts.every(({ shot, sourceFrame }) => shot.drawn === 'black' || (shot.original !== null && hasFrame(shot.original, sourceFrame)));

  const bitmap = async (address: string): Promise<ImageBitmap | null> => {
    const answer = await fetch(address);
    return answer.ok ? createImageBitmap(await answer.blob()) : null;
  };
  /** A clip of one picture; kept, since it is the same at each frame. */
  const still = (path: string): Promise<ImageBitmap | null> => {
    const key = `${path} ${view?.looks[path]}`;
    const known =
      stills.get(key) ?? bitmap(pictureAddress(job, { side: 'original', path, frame: 0, width: WIDTH, look: view?.looks[path] }));
    stills.set(key, known);
    return known;
  };
  const fromServer = async (side: Side, frame: number): Promise<Content> => {
    const whole = await bitmap(pictureAddress(job, { side, frame, width: WIDTH, look }));
    return whole && { whole };
  };

  /** What a side shows at a frame where all of it is decoded already; undefined where it is not. */
  const heldAt = (side: Side, frame: number): Content | undefined => {
    const parts = partsAt(side, frame);
    if (!conform || parts.length === 0) return null;
    if (!isHere(parts)) return undefined;
    const all: { part: Part; picture: Decoded | null }[] = [];
    for (const part of parts) {
      const { original, drawn } = part.shot;
      if (drawn === 'black' || !original) all.push({ part, picture: null });
      else {
        const one = original.kind === 'still' ? undefined : decoding.held(original.path, part.sourceFrame);
        if (!one) return undefined;
        all.push({ part, picture: one });
      }
    }
    return { parts: all, frame: conform.frame };
  };

  const readyAt = async (side: Side, frame: number): Promise<void> => {
    const parts = partsAt(side, frame);
    if (!isHere(parts)) return;
    await Promise.all(
      parts.map(({ shot, sourceFrame }) =>
        shot.original && shot.drawn === 'picture' && shot.original.kind !== 'still'
          ? decoding.ready(shot.original.path, sourceFrame)
          : null,
      ),
    );
  };

  /** What a side shows at a frame, decoded now; from the server where there is no copy of it, or no copy can show it. */
  const contentAt = async (side: Side, frame: number): Promise<Content> => {
    const parts = partsAt(side, frame);
    if (!conform || parts.length === 0) return null;
    if (!isHere(parts)) return fromServer(side, frame);
    try {
      await readyAt(side, frame);
      const held = heldAt(side, frame);
      if (held !== undefined) return held;
      const all = await Promise.all(
        parts.map(async (part) => {
          const { original } = part.shot;
          if (!original || part.shot.drawn === 'black') return { part, picture: null };
          return {
            part,
            picture: original.kind === 'still' ? await still(original.path) : (decoding.held(original.path, part.sourceFrame) ?? null),
          };
        }),
      );
      return { parts: all, frame: conform.frame };
    } catch {
      return fromServer(side, frame);
    }
  };

  const draw = (contents: readonly Content[], how: Comparing) => {
    SIDES.forEach((side, i) => {
      drawing.compose(side, contents[i] ?? null);
    });
    drawing.present(how);
    for (const one of contents) if (one && 'whole' in one) one.whole.close();
  };
  const ahead = (frame: number, direction: number) => {
    for (let k = 1; k <= AHEAD; k++) for (const side of SIDES) readyAt(side, frame + k * KEY_EVERY * direction).catch(() => {});
  };

  const tick = () => {
    if (!playing || !comparing || !conform) return;
    const { from, in: first, out, speed, at } = playing;
    const fps = conform.rate.num / conform.rate.den;
    const frame = from + Math.trunc(((performance.now() - at) / 1000) * fps * speed);
    if (frame < first || frame >= out) {
      stop();
      void show(speed > 0 ? out - 1 : first, comparing);
      return;
    }
    if (frame !== playing.last) {
      const contents = SIDES.map((side) => heldAt(side, frame));
      if (contents.every((c) => c !== undefined)) {
        draw(contents as Content[], comparing);
        playing.dropped += Math.max(0, Math.abs(frame - playing.last) - 1);
        playing.shown++;
        playing.last = frame;
        wanted = frame;
        told(frame);
      } else for (const side of SIDES) readyAt(side, frame).catch(() => {});
      ahead(frame, Math.sign(speed));
    }
    requestAnimationFrame(tick);
  };
  const told = (frame: number) => tell({ frame, playing: playing !== null, shown: playing?.shown ?? 0, dropped: playing?.dropped ?? 0 });

  const show = async (frame: number, how: Comparing): Promise<void> => {
    comparing = how;
    const mine = ++turn;
    [before, wanted] = [wanted, frame];
    const contents = await Promise.all(SIDES.map((side) => contentAt(side, frame)));
    if (mine !== turn || playing) return;
    // It may be held otherwise by now.
    draw(contents, comparing);
    told(frame);
    ahead(frame, Math.sign(frame - before) || 1);
  };
  const stop = () => {
    playing = null;
  };

  return {
    load(given, now) {
      const sameFiles = JSON.stringify(given?.looks) === JSON.stringify(view?.looks);
      [view, look] = [given, now];
      conform = given && compile(given.list, given.originals);
      if (!sameFiles) {
        copies.forget();
        decoding.forget();
        stills.clear();
      }
      if (!conform) return;
      const { raster, pixelAspect } = conform.frame;
      const width = Math.min(WIDTH, Math.round(raster.width * pixelAspect));
      drawing.resize({ width, height: Math.round((width * raster.height) / (raster.width * pixelAspect)) });
    },
    show,
    compare(how) {
      comparing = how;
      drawing.present(how);
    },
    play(play) {
      turn++;
      playing = { ...play, at: performance.now(), last: play.from - Math.sign(play.speed), shown: 0, dropped: 0 };
      requestAnimationFrame(tick);
    },
    stop() {
      const was = playing;
      stop();
      if (was) told(wanted);
    },
    read: (side) => (conform ? { ...drawing.size, pixels: drawing.read(side) } : null),
    open: () => ({ frames: decoding.open(), textures: drawing.textures() }),
    close() {
      stop();
      decoding.close();
    },
  };
}
