import type { PairState } from '@gemello/core';
import type { StandingEvent } from '@gemello/core/edit';
import { speedOf } from '@gemello/core/edit';
import { loudest } from '@gemello/core/viewing';
import { eventName } from '../data/events';
import type { SmallPictures } from './pictures';
import { firstSeen, type Lane, type Scene } from './scene';
import { frameAtX, laneTop, NAMES, RULER, type Sight, SOUND, xOf } from './sight';
import { picturesAlong } from './strip';

/** Colours of the page's theme, as the canvas takes them. */
export interface Inks {
  readonly ink: string;
  readonly ground: string;
  readonly raised: string;
  readonly accent: string;
  readonly reference: string;
  readonly finding: string;
  readonly states: Readonly<Record<PairState, string>>;
}

/** All that a drawing of the lanes depends on. */
export interface Drawn {
  readonly scene: Scene;
  readonly sight: Sight;
  readonly width: number;
  readonly height: number;
  readonly each: number;
  readonly scrolled: number;
  readonly selected: ReadonlySet<string>;
  readonly hidden: ReadonlySet<string>;
  readonly locked: ReadonlySet<string>;
  /** Events as they are tried, by key. */
  readonly tried: ReadonlyMap<string, StandingEvent>;
  /** Those of them that are put on another layer. */
  readonly lifted: { readonly keys: readonly string[]; readonly layer: string } | null;
  readonly playhead: number | null;
  /** Cuts that were found in the reference, as record frames in their order. */
  readonly cuts: readonly number[];
  /** How loud the reference is, and the record frame of its first picture. */
  readonly sound: { readonly peaks: Uint8Array; secondsAt(record: number): number } | null;
  readonly times: readonly (readonly [frame: number, label: string])[];
  readonly pictures: SmallPictures;
  readonly box: { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number } | null;
  readonly inks: Inks;
}

/** Narrower than this an event is a line of its colour, in pixels. */
const LINE = 3;
/** Wide enough for a name, for what is left of the source, and for pictures. */
const [NAMED, MEASURED, PICTURED] = [30, 90, 70];
const SANS = '12px "IBM Plex Sans", sans-serif';
const MONO = '12px "IBM Plex Mono", monospace';

/** Draws all of it, in page pixels; the context is scaled to those of the screen. */
export function drawLanes(c: CanvasRenderingContext2D, drawn: Drawn): void {
  const { width, height, inks, scene, scrolled, each } = drawn;
  c.fillStyle = inks.ground;
  c.fillRect(0, 0, width, height);
  c.save();
  c.beginPath();
  c.rect(0, RULER, width, height - RULER - (drawn.sound ? SOUND : 0));
  c.clip();
  scene.lanes.forEach((lane, i) => {
    drawLane(c, drawn, lane, laneTop(i, each, scrolled));
  });
  c.restore();
  if (drawn.sound) drawSound(c, drawn);
  drawRuler(c, drawn);
  const { box, playhead } = drawn;
  if (box) {
    c.fillStyle = alpha(inks.ink, 0.14);
    c.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top);
  }
  if (playhead !== null) drawPlayhead(c, xOf(drawn.sight, playhead), drawn.sight.perFrame, drawn);
}

/** Colours that were mixed once are kept: there are few, and thousands of events. */
const mixed = new Map<string, string>();
function alpha(colour: string, share: number): string {
  const name = `${colour} ${share}`;
  const known = mixed.get(name);
  if (known !== undefined) return known;
  const made = `color-mix(in srgb, ${colour} ${share * 100}%, transparent)`;
  mixed.set(name, made);
  return made;
}

function drawLane(c: CanvasRenderingContext2D, drawn: Drawn, lane: Lane, top: number): void {
  const { scene, sight, width, each, inks, tried, lifted } = drawn;
  if (top > drawn.height || top + each < RULER) return;
  c.globalAlpha = drawn.hidden.has(lane.name) ? 0.3 : 1;
  c.fillStyle = inks.raised;
  c.fillRect(0, top, width, each);
  const end = frameAtX(sight, width);
  const large: [StandingEvent, number][] = [];
  // What is too narrow to be told apart is drawn as what stands there most, pixel by pixel.
  let [filled, state]: [number, PairState | null] = [-1, null];
  // A transition may begin before its event.
  const first = Math.max(0, firstSeen(lane.events, frameAtX(sight, 0)) - 1);
  for (let i = first; i < lane.events.length; i++) {
    const was = lane.events[i] as StandingEvent;
    if (was.record.in > end && was.record.in - (was.transitionIn?.before ?? 0) > end) break;
    if (lifted && lifted.layer !== lane.name && lifted.keys.includes(was.key)) continue;
    const event = tried.get(was.key) ?? was;
    const left = xOf(sight, event.record.in);
    const right = xOf(sight, event.record.out);
    if (right - left >= LINE || drawn.selected.has(event.key)) {
      large.push([event, i]);
      continue;
    }
    const pixel = Math.floor(left);
    const its = scene.row(event.key)?.state ?? 'exempt';
    if (pixel === filled && its === state) continue;
    [filled, state] = [pixel, its];
    c.fillStyle = inks.states[its];
    c.fillRect(pixel, top, Math.max(1, right - left), each);
  }
  for (const [event, i] of large) drawEvent(c, drawn, lane, i, event, top);
  for (const [event] of large) if (event.transitionIn) drawJoin(c, drawn, event, top);
  if (lifted?.layer === lane.name)
    for (const key of lifted.keys) {
      const event = tried.get(key);
      if (event && !lane.events.some((e) => e.key === key)) drawEvent(c, drawn, { ...lane, events: [event] }, 0, event, top);
    }
  c.globalAlpha = 1;
}

function drawEvent(c: CanvasRenderingContext2D, drawn: Drawn, lane: Lane, index: number, event: StandingEvent, top: number): void {
  const { scene, sight, each, inks, selected } = drawn;
  const row = scene.row(event.key);
  const state = row?.state ?? 'exempt';
  const colour = inks.states[state];
  const [left, right] = [xOf(sight, event.record.in), xOf(sight, event.record.out)];
  const wide = right - left - 1;
  const names = Math.min(NAMES, each);
  const chosen = selected.has(event.key);
  const faint = event.enabled ? 1 : 0.35;
  c.save();
  c.globalAlpha *= faint;
  c.beginPath();
  c.rect(left, top, Math.max(1, wide), each);
  c.clip();
  c.fillStyle = inks.ground;
  c.fillRect(left, top, wide, each);
  c.fillStyle = alpha(colour, state === 'paired' ? 0.26 : 0.14);
  c.fillRect(left, top + names, wide, each - names);
  if (wide > PICTURED && each > NAMES + 14) drawPictures(c, drawn, event, left, right, top + names, each - names);
  c.fillStyle = alpha(colour, state === 'paired' ? 0.62 : 0.3);
  c.fillRect(left, top, wide, names);
  if (wide > NAMED) {
    c.fillStyle = inks.ink;
    c.font = MONO;
    c.textBaseline = 'middle';
    const mark = state !== 'paired' && wide > 60 ? 20 : 4;
    if (mark > 4) drawState(c, state, left + 11, top + names / 2, colour);
    const from = Math.max(left, 0) + mark;
    c.fillText(event.number, from, top + names / 2 + 0.5);
    const told = c.measureText(event.number).width + 6;
    c.font = SANS;
    const speed = speedText(event);
    c.fillText(`${row ? eventName(row) : event.clipName}${speed}`, from + told, top + names / 2 + 0.5);
    if (wide > MEASURED && each > NAMES + 16) drawLeft(c, drawn, lane, index, left, right, top + each - 9);
  }
  c.restore();
  c.strokeStyle = chosen ? inks.ink : alpha(colour, 0.9);
  c.lineWidth = chosen ? 2 : 1;
  c.setLineDash(state === 'doubtful' || state === 'away' ? [4, 3] : []);
  c.strokeRect(left + 0.5, top + 0.5, Math.max(1, wide - 1), each - 1);
  c.setLineDash([]);
  // What the proof found: set off at its upper edge, as on the ribbon.
  if (scene.findings(event.key).length > 0) {
    c.fillStyle = inks.finding;
    const notch = Math.min(10, wide);
    path(c, [
      [left, top],
      [left + notch, top],
      [left + notch / 2, top + 7],
    ]);
  }
  if (wide > NAMED) {
    for (const { record } of event.markers) {
      const x = xOf(sight, record) + sight.perFrame / 2;
      c.fillStyle = inks.accent;
      path(c, [
        [x, top + names - 5],
        [x + 4, top + names],
        [x, top + names + 5],
        [x - 4, top + names],
      ]);
    }
    if (event.remarks.length > 0) {
      c.fillStyle = inks.ink;
      c.fillRect(right - 11, top + names + 4, 6, 1.5);
      c.fillRect(right - 11, top + names + 7, 6, 1.5);
      c.fillRect(right - 11, top + names + 10, 4, 1.5);
    }
  }
  if (chosen && !drawn.locked.has(lane.name) && wide > NAMED - 2) drawGrips(c, inks, left, right, top, each);
}

/** The handles of what is selected: of the cut above, of its own edges below. */
function drawGrips(c: CanvasRenderingContext2D, inks: Inks, left: number, right: number, top: number, each: number): void {
  c.fillStyle = inks.ink;
  const middle = top + each / 2;
  path(c, [
    [left, middle - 12],
    [left + 5, middle - 7],
    [left, middle - 2],
    [left - 5, middle - 7],
  ]);
  c.fillRect(left + 2, middle + 3, 3, top + each - middle - 6);
  c.fillRect(right - 6, middle + 3, 3, top + each - middle - 6);
}

function path(c: CanvasRenderingContext2D, points: readonly (readonly [number, number])[]): void {
  c.beginPath();
  points.forEach(([x, y], i) => {
    if (i === 0) c.moveTo(x, y);
    else c.lineTo(x, y);
  });
  c.closePath();
  c.fill();
}

/** Width of most pictures over their height; narrower ones leave a gap. */
const SHAPE = 16 / 9;

/** Pictures along an event: the first and the last, and between them as many as there is room for. */
function drawPictures(
  c: CanvasRenderingContext2D,
  { scene, pictures, sight, width }: Drawn,
  event: StandingEvent,
  left: number,
  right: number,
  top: number,
  height: number,
): void {
  const shown = scene.shown(event);
  if (!shown) return;
  const wide = height * SHAPE + 2;
  for (const { record, x, place } of picturesAlong(event.record, sight, left, right, wide)) {
    if (x > width || x + wide < 0) continue;
    const frame = Math.max(0, shown.frameAt(record));
    const picture = pictures.get(`${place} ${event.key}`, shown.path, frame, shown.look);
    if (!picture) continue;
    const w = Math.min(wide, (height * picture.naturalWidth) / Math.max(1, picture.naturalHeight));
    c.drawImage(picture, place === 'last' ? right - w - 1 : x, top, w, height);
  }
}

/** How much source is left on each side, in frames. */
function drawLeft(
  c: CanvasRenderingContext2D,
  { scene, inks, tried }: Drawn,
  lane: Lane,
  index: number,
  left: number,
  right: number,
  y: number,
): void {
  const room = scene.left(lane, index, tried);
  if (!room) return;
  c.font = MONO;
  const say = (n: number, x: number, align: CanvasTextAlign) => {
    const text = n < 0 ? `${-n} missing` : `${n}`;
    const w = c.measureText(text).width;
    c.fillStyle = alpha(inks.ground, 0.75);
    c.fillRect(align === 'left' ? x - 2 : x - w - 2, y - 8, w + 4, 15);
    c.fillStyle = n < 0 ? inks.finding : inks.ink;
    c.textAlign = align;
    c.fillText(text, x, y);
    c.textAlign = 'left';
  };
  say(room.before, Math.max(left, 0) + 9, 'left');
  say(room.after, right - 10, 'right');
}

/** A transition, from where it begins to where it ends: what comes rises over what goes. */
function drawJoin(c: CanvasRenderingContext2D, { sight, inks, each, selected }: Drawn, event: StandingEvent, top: number): void {
  const { transitionIn: join, record } = event;
  if (!join) return;
  const begins = xOf(sight, record.in - join.before);
  const ends = begins + join.duration * sight.perFrame;
  if (ends - begins < 2) return;
  c.fillStyle = alpha(inks.ink, 0.28);
  path(c, [
    [begins, top + each],
    [ends, top],
    [ends, top + each],
  ]);
  c.strokeStyle = inks.ink;
  c.lineWidth = 1;
  c.setLineDash(join.type === 'wipe' ? [5, 3] : []);
  c.beginPath();
  c.moveTo(begins, top + each);
  c.lineTo(ends, top);
  c.stroke();
  c.setLineDash([]);
  if (ends - begins > 40) {
    c.fillStyle = inks.ink;
    c.font = MONO;
    c.textBaseline = 'middle';
    c.fillText(`${join.duration}`, (begins + ends) / 2 + 4, top + each / 2 + 8);
  }
  if (!selected.has(event.key)) return;
  for (const x of [begins, ends]) {
    c.beginPath();
    c.arc(x, top + each / 2, 4, 0, 2 * Math.PI);
    c.fillStyle = inks.ground;
    c.fill();
    c.stroke();
  }
}

/** The glyph of a state, small: the two discs (Glyph.tsx). */
function drawState(c: CanvasRenderingContext2D, state: PairState, x: number, y: number, colour: string): void {
  c.strokeStyle = colour;
  c.fillStyle = colour;
  c.lineWidth = 1.2;
  const ring = (cx: number, r = 3.6, dash: number[] = []) => {
    c.setLineDash(dash);
    c.beginPath();
    c.arc(x + cx, y, r, 0, 2 * Math.PI);
    c.stroke();
    c.setLineDash([]);
  };
  switch (state) {
    case 'exempt':
      c.strokeRect(x - 3.5, y - 3.5, 7, 7);
      return;
    case 'unpaired':
      ring(-2, 4);
      return;
    case 'short':
      ring(-2.5);
      c.beginPath();
      c.arc(x + 4, y, 3.6, Math.PI / 2, 1.5 * Math.PI);
      c.fill();
      return;
    case 'contested':
      ring(-4, 3);
      for (const dy of [-3.4, 0, 3.4]) c.fillRect(x + 2, y + dy - 1, 2.4, 2.4);
      return;
    default:
      ring(-2.3, 3.6, state === 'proposed' ? [] : [2, 1.5]);
      ring(2.3, 3.6, state === 'proposed' ? [] : [2, 1.5]);
  }
}

function speedText(event: StandingEvent): string {
  const { retime } = event;
  if (retime.kind === 'natural') return '';
  if (retime.kind === 'freeze') return '  freeze';
  const percent = Number((speedOf(retime) * 100).toFixed(1));
  return retime.kind === 'keyed' ? `  about ${percent} %` : `  ${percent} %`;
}

function drawRuler(c: CanvasRenderingContext2D, { sight, width, height, times, cuts, inks }: Drawn): void {
  c.fillStyle = inks.ground;
  c.fillRect(0, 0, width, RULER);
  c.font = MONO;
  c.textBaseline = 'alphabetic';
  for (const [frame, label] of times) {
    const x = Math.round(xOf(sight, frame)) + 0.5;
    c.fillStyle = alpha(inks.ink, 0.12);
    c.fillRect(x, RULER - 4, 1, height);
    c.fillStyle = alpha(inks.ink, 0.75);
    c.fillText(label, x + 4, 13);
  }
  // Where the reference is cut: what drags snap to.
  c.fillStyle = inks.reference;
  const end = frameAtX(sight, width);
  for (const frame of cuts) if (frame >= sight.from && frame <= end) c.fillRect(Math.round(xOf(sight, frame)) - 0.5, RULER - 5, 1.5, 5);
}

function drawSound(c: CanvasRenderingContext2D, { sight, width, height, sound, inks }: Drawn): void {
  if (!sound) return;
  const middle = height - SOUND / 2;
  c.fillStyle = inks.ground;
  c.fillRect(0, height - SOUND, width, SOUND);
  c.fillStyle = alpha(inks.ink, 0.6);
  const seconds = (x: number) => sound.secondsAt(frameAtX(sight, x));
  for (let x = 0; x < width; x++) {
    const high = (loudest(sound.peaks, seconds(x), seconds(x + 1)) / 255) * (SOUND - 4);
    if (high > 0) c.fillRect(x, middle - high / 2, 1, Math.max(1, high));
  }
}

function drawPlayhead(c: CanvasRenderingContext2D, x: number, perFrame: number, { height, inks }: Drawn): void {
  c.fillStyle = alpha(inks.accent, 0.18);
  if (perFrame > 3) c.fillRect(x, RULER, perFrame, height - RULER);
  c.fillStyle = inks.accent;
  c.fillRect(Math.round(x) - 0.75, 0, 1.5, height);
  path(c, [
    [x - 4, RULER - 9],
    [x + 4, RULER - 9],
    [x + 4, RULER - 4],
    [x, RULER],
    [x - 4, RULER - 4],
  ]);
}
