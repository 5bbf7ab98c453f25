import {
  commonMove,
  countStates,
  type Decision,
  evidenceOf,
  evidenceText,
  examine,
  formatShift,
  formatTimecode,
  framesPerDay,
  isShort,
  type Original,
  type PairingWish,
  pairingCsv,
  pairingHtml,
  planRelink,
  proposals,
  proposalText,
  type Raster,
  readTimecode,
  resultOf,
  type Settling,
  standingLayers,
  tailFrames,
  votesText,
  withDecisions,
  withLine,
} from '@gemello/core';
import { isMediaError } from '@gemello/media/plain';
import type { ByHandView, CauseView, ClipFound, PreviewView, RelinkView, SwapView, VersionUses } from '../contract';
import { RequestError } from './http';
import { contenderView } from './ledger';
import { readingAs } from './lists';
import { remarksOf } from './originals';
import { picture } from './pictures';
import { sourceOfUse, usesInVersions } from './versions';
import { type Workspace, workspace } from './workspace';

/** How many examples are sent of what would change. */
const SAMPLES = 40;
/** How many clips are offered for what is typed. */
const MOST_FOUND = 20;

function settlingOfJob({ delivery, log, applied, paired, originals }: Workspace): Settling | null {
  if (!delivery || !applied || !paired) return null;
  const away = paired.pairings.some((p) => p.state === 'away');
  const byPath = away ? new Map(originals.map((o) => [o.original.path, o.original])) : null;
  const known = byPath ? { known: (path: string) => byPath.get(path) } : {};
  return { list: delivery.list, decisions: log.decisions, applied, paired, wish: { looksAt: paired.wish.looksAt ?? NO_LOOKS }, ...known };
}

const NO_LOOKS: NonNullable<PairingWish['looksAt']> = new Map();

/** What would settle many events at once. */
export async function causesView(jobId: string): Promise<CauseView[]> {
  const settling = settlingOfJob(await workspace(jobId));
  if (!settling) return [];
  const rates = new Map(settling.applied.list.tracks.flatMap((t) => t.events.map((e) => [e.key, e.sourceRate] as const)));
  return proposals(settling).map((p) => {
    const rate = rates.get(p.events[0] ?? '') ?? settling.list.rate;
    return {
      id: p.id,
      text: proposalText(p, rate),
      votes: votesText(p),
      events: p.events,
      exceptions: p.exceptions,
      certain: p.certain,
      decisions: p.decisions,
      scopes: p.scopes,
      shift: p.cause.kind === 'reading' && p.cause.reading.kind === 'shift' ? formatShift(p.cause.reading.frames, rate) : '',
      rate,
    };
  });
}

/** What some decisions would change of how the cut is paired; nothing is kept of it. */
export async function previewView(jobId: string, made: readonly Decision[]): Promise<PreviewView> {
  const settling = settlingOfJob(await workspace(jobId));
  if (!settling) throw new RequestError(409, 'There is no list yet.');
  const { paired } = settling;
  const then = withDecisions(settling, made).paired;
  const before = new Map(paired.pairings.map((p) => [p.event.key, p.state]));
  const changed = then.pairings.flatMap((p) => {
    const from = before.get(p.event.key);
    return from === undefined || from === p.state ? [] : [{ event: p.event.key, number: p.event.number, from, to: p.state }];
  });
  return {
    now: countStates(paired.pairings),
    after: countStates(then.pairings),
    changed: changed.length,
    samples: changed.slice(0, SAMPLES),
  };
}

/** The pairs as a table for machines. */
export async function pairsCsv(jobId: string): Promise<string> {
  const w = await workspace(jobId);
  return pairingCsv(w.pairings, w.list?.rate ?? NO_RATE);
}

const NO_RATE = { num: 24, den: 1, dropFrame: false };

/** Pictures of a report are this wide, in pixels, and no more are drawn than this. */
const REPORT_WIDTH = 320;
const MOST_PICTURES = 2000;

/** The pairs as a page for people, with the picture of each event that has one. */
export async function pairsPage(jobId: string): Promise<string> {
  const w = await workspace(jobId);
  if (!w.list) throw new RequestError(409, 'There is no list yet.');
  const pictures = new Map<string, string>();
  const seen = w.pairings.filter((p) => p.chosen !== null).slice(0, MOST_PICTURES);
  for (const { event } of seen) {
    const frame = Math.floor((event.record.in + event.record.out) / 2);
    const asked = { side: 'event', event: event.key, frame, path: null, width: REPORT_WIDTH, cdl: null } as const;
    const jpeg = await picture(w, asked).catch((error) => {
      if (error instanceof RequestError || isMediaError(error)) return null;
      throw error;
    });
    if (jpeg) pictures.set(event.key, Buffer.from(jpeg).toString('base64'));
  }
  const remarks = seen.length === MOST_PICTURES ? [`Pictures are shown of the first ${MOST_PICTURES} events that have one.`] : [];
  return pairingHtml(w.pairings, { title: w.list.title || w.title, rate: w.list.rate, pictures, remarks });
}

/** Originals of the job whose names, reel or path hold what is typed. */
export async function clipsFound(jobId: string, typed: string): Promise<ClipFound[]> {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const { pairable } = await workspace(jobId);
  const written = await remarksOf(jobId);
  const found: ClipFound[] = [];
  for (const o of pairable) {
    const remark = written.get(o.path);
    const text = [o.path, o.clipName, o.reel, remark?.note ?? '', ...(remark?.tags ?? [])].join(' ').toLowerCase();
    if (o.kind === 'sound' || !words.every((word) => text.includes(word) || hasLabel(o, word))) continue;
    found.push({
      path: o.path,
      fileName: o.fileName,
      reel: o.reel,
      timecodeIn: o.hasTimecode ? formatTimecode(o.start, o.rate) : null,
      frames: o.frames,
    });
    if (found.length === MOST_FOUND) break;
  }
  return found;
}

/** True where one of a clip's frames carries the timecode that was typed, through midnight too. */
function hasLabel({ hasTimecode, start, rate, frames }: Original, typed: string): boolean {
  const label = hasTimecode ? readTimecode(typed, rate) : null;
  if (!label || label.frames < 0) return false;
  const day = framesPerDay(rate);
  return (((label.frames - start) % day) + day) % day < frames;
}

/** Lays any original beside an event, so that it may be taken by hand; what speaks against it is named. */
export async function byHandView(jobId: string, key: string, path: string): Promise<ByHandView> {
  const w = await workspace(jobId);
  const original = w.reachable.get(path);
  if (!original) throw new RequestError(404, 'The job has no such original now.');
  if (!w.list) throw new RequestError(409, 'There is no list yet.');
  for (const track of standingLayers(w.list)) {
    const at = track.events.findIndex((e) => e.key === key);
    const event = track.events[at];
    if (!event) continue;
    const asking = {
      event,
      tail: tailFrames(track, at),
      recordRate: w.list.rate,
      framing: w.list.framing,
      looks: w.paired?.wish.looksAt?.get(key) ?? [],
    };
    const looked = examine(asking, original, w.rules.rates);
    // Where its timecode does not reach the clip, it is taken from its first frame, and slipped from there.
    const settled = isInside(looked.sourceStartFrame, original) ? looked : examine(asking, original, w.rules.rates, 0);
    const differences = evidenceOf(withLine(settled, null))
      .filter((e) => resultOf(e) === 'disagrees')
      .map((e) => `${e.criterion}: ${evidenceText(e)}`);
    return { contender: contenderView(withLine(settled, null)), differences };
  }
  throw new RequestError(404, 'The cut has no such event.');
}

const isInside = (frame: number, { frames, kind }: Original): boolean => kind === 'still' || (frame >= 0 && frame < frames);

const areaOf = ({ raster }: Original): number => raster.width * raster.height;
const rasterText = ({ width, height }: { width: number; height: number }): string => `${width}×${height}`;

/** Larger read-outs of the clips that events are paired with: of the same name and timecode, with all frames. A slip stays. */
export async function swapView(jobId: string, events: readonly string[]): Promise<SwapView> {
  const w = await workspace(jobId);
  const asked = new Set(events);
  const decisions: Decision[] = [];
  const rasters = new Map<string, { from: string; to: string; events: number }>();
  for (const { event, accepted, chosen, contenders } of w.pairings) {
    if (!asked.has(event.key) || !accepted || !chosen || !event.pair) continue;
    const [larger] = contenders
      .filter((c) => c.line !== null && c.timecode.grade === 'exact' && !isShort(c) && areaOf(c.original) > areaOf(chosen.original))
      .sort((a, b) => areaOf(b.original) - areaOf(a.original));
    if (!larger) continue;
    const slip = event.pair.sourceStartFrame - event.pair.acceptedAt;
    const { original, sourceStartFrame } = larger;
    decisions.push({
      kind: 'pair',
      event: event.key,
      original: original.path,
      sourceStartFrame: sourceStartFrame + slip,
      rate: original.rate,
    });
    const [from, to] = [rasterText(chosen.original.raster), rasterText(original.raster)];
    const known = rasters.get(`${from} ${to}`) ?? { from, to, events: 0 };
    rasters.set(`${from} ${to}`, { ...known, events: known.events + 1 });
  }
  const raster = w.list?.framing?.raster ?? null;
  return { decisions, rasters: [...rasters.values()], cut: raster && rasterText(raster), raise: raiseOf(w, raster, rasters) };
}

/** Shapes that differ by less than this, as a share, are one: rasters are whole and even numbers. */
const SHAPE_TOLERANCE = 0.005;

/** What gives the cut the raster of its larger read-outs, where that is one raster and another than the cut's. */
function raiseOf({ listRow }: Workspace, now: Raster | null, rasters: ReadonlyMap<string, { readonly to: string }>): SwapView['raise'] {
  const [raster, ...others] = new Set([...rasters.values()].map((r) => r.to));
  if (!listRow || !raster || others.length > 0 || (now && rasterText(now) === raster)) return null;
  const [width, height] = raster.split('×').map(Number) as [number, number];
  const sameShape = now === null || Math.abs((width * now.height) / (height * now.width) - 1) < SHAPE_TOLERANCE;
  return { list: listRow.id, reading: { ...readingAs(listRow.options), raster: raster.replace('×', 'x') }, raster, sameShape };
}

/** The events of every version of the cut that use the source of an event: where an original is away, is it used at all? */
export async function eventUses(jobId: string, key: string): Promise<VersionUses[]> {
  const w = await workspace(jobId);
  const pairing = w.pairings.find((p) => p.event.key === key);
  if (!pairing) throw new RequestError(404, 'The cut has no such event.');
  return usesInVersions(w, sourceOfUse(pairing.event, pairing.acceptedPath ?? pairing.chosen?.original.path));
}

/** What follows for the missing originals from one file or folder being elsewhere now. */
export async function relinkView(jobId: string, before: string, now: string): Promise<RelinkView> {
  const w = await workspace(jobId);
  const move = commonMove(before, now);
  if (!move) throw new RequestError(422, 'Both paths are the same. Give the place where it lies now.');
  const missing = w.pairings.flatMap((p) => (p.acceptedPath && p.state === 'away' ? [p.acceptedPath] : []));
  const { found, exceptions } = planRelink(move, missing, (path) => w.reachable.has(path));
  return { ...move, found: found.length, samples: found.slice(0, SAMPLES), exceptions: exceptions.slice(0, SAMPLES) };
}
