import type { Original } from '@gemello/core';
import { type Levels, levelsOf } from '@gemello/core/scopes';
import { COPY_WIDTH, KEY_EVERY } from '@gemello/core/viewing';
import type { ConformView } from '../../contract/ledger';
import { type Stand, standOf } from '../work/standing';
import { hasCard } from './card';
import { openContents } from './contents';
import { openCuts, type Seen } from './cuts';
import { type Comparing, type Content, openDrawing, SIDES, type Side } from './drawing';
import { openPlainDrawing } from './plain';

/** What the page hears of the viewer. `frame`: the record frame that is on the screen now; the two of them differ beside a cut. */
export interface Told {
  readonly frame: number;
  readonly frames: Pair<number>;
  /** What both sides show, as text (JSON of what was asked for). */
  readonly shows: string;
  readonly playing: boolean;
  /** Frames that were shown, and passed over because they were not ready in time, since playing began. */
  readonly shown: number;
  readonly dropped: number;
  /** Of sides of which there is no picture, why: '' where nothing stands there, or it cannot be drawn here. Null where there is one. */
  readonly unseen: Pair<string | null>;
  /** What stands on each side, from the lowest layer up. */
  readonly stands: Pair<readonly Stand[]>;
  /** Width of a picture over its height. */
  readonly shape: number;
}

export type Pair<T> = readonly [T, T];

/** Frames that are played, as on the record. */
export interface Play {
  readonly from: number;
  readonly in: number;
  readonly out: number;
  /** Times the rate of the cut; below zero backwards. */
  readonly speed: number;
  /** Begins again where it ends. */
  readonly loops: boolean;
  /** When the first frame is to be seen, in milliseconds since 1970: what is heard begins at the same moment. */
  readonly startsAt: number;
}

export interface Viewer {
  /** Takes the cut as it is shown, and with it other pictures. */
  load(view: ConformView | null, look: string): void;
  /** Takes another version of the cut, by its list. */
  lay(list: string, view: ConformView | null): void;
  /** Takes originals that the cut does not use, so that they can be tried. */
  learn(originals: readonly Original[], looks: Readonly<Record<string, string>>): void;
  /** Shows a record frame on each side. Resolves when it is on the screen, or another was asked for. */
  show(frames: Pair<number>, seen: Pair<Seen>, comparing: Comparing): Promise<void>;
  /** Holds the same frames otherwise against each other: nothing is put together anew. */
  compare(comparing: Comparing): void;
  play(play: Play): void;
  stop(): void;
  /** A side as it was put together last: R, G, B, A, rows from the top. */
  read(side: Side): Promise<{ width: number; height: number; pixels: Uint8Array } | null>;
  /** What is on the screen, as a PNG. */
  keep(): Promise<Blob>;
  /** How the levels of a side's picture lie. */
  scope(side: Side): Promise<Levels | null>;
  /** What is open now. */
  open(): { frames: number; textures: number };
  close(): void;
}

/** How long a picture is under way from the worker to the screen, in times between two drawings (measured, e2e/viewer.spec.ts); drawings that wait longer than this tell nothing of it. */
const UNDER_WAY = 2;
const SLOWEST = 60;
/** What moves is sampled roughly; it is drawn as well as can be once it stood still for so long, in milliseconds. */
const STANDS_STILL = 300;
/** Runs of pictures that are decoded ahead, in the direction in which frames are gone through. */
const AHEAD = 2;

const whyUnseen = (content: Content): string | null => (content === null ? '' : 'why' in content ? content.why : null);

const modulo = (n: number, by: number): number => ((n % by) + by) % by;

/** The viewer of a job: it assembles the cut from viewing copies, through the one time map, and draws onto a canvas. Null where no canvas can be drawn on. */
export function openViewer(canvas: OffscreenCanvas, job: string, tell: (told: Told) => void): Viewer | null {
  const cuts = openCuts();
  let view: ConformView | null = null;
  let look = '';
  const contents = openContents(job, cuts, () => look);
  // In software WebGL needs three times as long for a picture as a plain canvas (bench/viewer.ts): there it draws only what stands still.
  const inSoftware = () => openDrawing(new OffscreenCanvas(2, 2), contents.tables);
  const drawing = (hasCard() ? openDrawing(canvas, contents.tables) : null) ?? openPlainDrawing(canvas, contents.tables, inSoftware);
  if (!drawing) return null;
  let comparing: Comparing | null = null;
  let seen: Pair<Seen> = [{ of: 'reference' }, { of: 'conform' }];
  /** The frames that were asked for last, and the first of those before them. */
  let wanted: Pair<number> = [-1, -1];
  let before = -1;
  let turn = 0;
  /** Time between two drawings while it plays, and when the last one was, in milliseconds. */
  let [beat, ticked] = [1000 / 60, 0];
  let unseen: Pair<string | null> = [null, null];
  let playing: (Play & { at: number; last: number; shown: number; dropped: number }) | null = null;

  const both = <T>(of: (side: 0 | 1) => T): [T, T] => [of(0), of(1)];
  /** Which sides were drawn roughly last. */
  let rough: Pair<boolean> = [false, false];
  const draw = (what: Pair<Content>, how: Comparing) => {
    unseen = both((i) => whyUnseen(what[i]));
    rough = both((i) => what[i] !== null && 'parts' in what[i]);
    SIDES.forEach((side, i) => {
      drawing.compose(side, what[i as 0 | 1], true);
    });
    drawing.present(how);
    close(what);
  };
  const close = (what: Pair<Content>) => {
    for (const one of what) if (one && 'whole' in one) one.whole.close();
  };
  /** Draws what was drawn roughly as well as can be, unless it plays or another frame is asked for. */
  const finish = async () => {
    const [mine, was] = [turn, rough];
    if (playing || !comparing || !(was[0] || was[1])) return;
    const what = await Promise.all(both((i) => (was[i] ? contents.contentAt(seen[i], wanted[i], drawing.size.width, true) : null)));
    if (mine !== turn || playing || rough !== was) return;
    SIDES.forEach((side, i) => {
      if (was[i as 0 | 1]) drawing.compose(side, what[i as 0 | 1], false);
    });
    drawing.present(comparing);
    close(what);
    rough = [false, false];
  };
  const finishSoon = () => {
    clearTimeout(finishing);
    finishing = setTimeout(finish, STANDS_STILL);
  };
  let finishing: ReturnType<typeof setTimeout> | undefined;
  const ahead = (frames: Pair<number>, direction: number) => {
    for (let k = 1; k <= AHEAD; k++)
      for (const i of [0, 1] as const) contents.readyAt(seen[i], frames[i] + k * KEY_EVERY * direction).catch(() => {});
  };
  const told = () =>
    tell({
      frame: wanted[1],
      frames: wanted,
      shows: JSON.stringify(seen),
      playing: playing !== null,
      shown: playing?.shown ?? 0,
      dropped: playing?.dropped ?? 0,
      unseen,
      stands: both((i) => cuts.partsAt(seen[i], wanted[i]).flatMap(standOf)),
      shape: drawing.size.width / drawing.size.height,
    });

  /** Pictures are put together as large as they are seen, no larger than their copies; as the cut's frame where its pixels are looked at. */
  const resize = (how: Comparing | null) => {
    const frame = cuts.conform?.frame;
    if (!frame) return;
    const whole = Math.round(frame.raster.width * frame.pixelAspect);
    const width = how && how.zoom.times > 1 ? whole : Math.min(COPY_WIDTH, whole, how?.across ?? COPY_WIDTH);
    drawing.resize({ width, height: Math.round((width * frame.raster.height) / whole) });
  };

  const tick = () => {
    if (!playing || !comparing || !cuts.conform) return;
    const { from, in: first, out, speed, at, loops } = playing;
    const fps = cuts.conform.rate.num / cuts.conform.rate.den;
    const now = performance.now();
    beat += (Math.min(SLOWEST, now - ticked) - beat) * 0.1;
    ticked = now;
    // What is drawn now is on the screen a little later: the frame that stands there then is drawn.
    const gone = Math.trunc((Math.max(0, now + beat * UNDER_WAY - at) / 1000) * fps * speed);
    // By the clock alone, so that a loop keeps in step with its sound however long it runs.
    const frame = loops ? first + modulo(from - first + gone, out - first) : from + gone;
    if (frame < first || frame >= out) {
      stop();
      const last = speed > 0 ? out - 1 : first;
      void show([last, last], seen, comparing);
      return;
    }
    if (frame !== playing.last) {
      const now = both((i) => contents.heldAt(seen[i], frame, true));
      const [a, b] = now;
      if (a !== undefined && b !== undefined) {
        draw([a, b], comparing);
        const on = (frame - playing.last) * Math.sign(speed);
        playing.dropped += Math.max(0, on - 1);
        playing.shown++;
        playing.last = frame;
        wanted = [frame, frame];
        told();
      } else for (const side of seen) contents.readyAt(side, frame).catch(() => {});
      ahead([frame, frame], Math.sign(speed));
    }
    requestAnimationFrame(tick);
  };

  const show: Viewer['show'] = async (frames, sides, how) => {
    comparing = how;
    seen = sides;
    const mine = ++turn;
    before = wanted[0];
    wanted = frames;
    resize(how);
    const what = await Promise.all(both((i) => contents.contentAt(sides[i], frames[i], drawing.size.width, false)));
    // It may be held otherwise by now.
    if (mine !== turn || playing || !comparing) return;
    draw(what, comparing);
    told();
    finishSoon();
    ahead(frames, Math.sign(frames[0] - before) || 1);
  };
  const stop = () => {
    playing = null;
  };

  return {
    load(given, now) {
      const sameFiles = JSON.stringify(given?.looks) === JSON.stringify(view?.looks);
      [view, look] = [given, now];
      cuts.load(given);
      if (!sameFiles) contents.forget();
      resize(comparing);
    },
    lay: cuts.lay,
    learn: cuts.learn,
    show,
    compare(how) {
      const size = (c: Comparing | null) => c && `${c.zoom.times > 1} ${c.across}`;
      // Other pixels are looked at: they are put together anew.
      if (size(how) !== size(comparing) && wanted[0] >= 0) {
        if (playing) resize(how);
        else void show(wanted, seen, how);
      } else drawing.present(how);
      comparing = how;
    },
    play(play) {
      turn++;
      playing = { ...play, at: play.startsAt - performance.timeOrigin, last: play.from - Math.sign(play.speed), shown: 0, dropped: 0 };
      ticked = performance.now();
      requestAnimationFrame(tick);
    },
    stop() {
      const was = playing;
      stop();
      if (!was) return;
      told();
      finishSoon();
    },
    async read(side) {
      await finish();
      return cuts.conform ? { ...drawing.size, pixels: drawing.read(side) } : null;
    },
    async scope(side) {
      await finish();
      return cuts.conform ? levelsOf(drawing.read(side), drawing.size) : null;
    },
    async keep() {
      await finish();
      return canvas.convertToBlob({ type: 'image/png' });
    },
    open: () => ({ frames: contents.open(), textures: drawing.textures() }),
    close() {
      stop();
      clearTimeout(finishing);
      contents.close();
    },
  };
}
