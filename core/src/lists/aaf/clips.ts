import { type Frames, formatTimecode, type Rate, sameSpeed, ZERO } from '../../time';
import { type Chain, chainOf, commentsOf, keptIn, rateOfSlot } from './chain';
import { classOf, EVENT_NUMBER, PID } from './model';
import { atRate } from './nested';
import { type AafObject, childAt, intAt, mobIdAt } from './object';
import { between, type Layers, movedBy, nameIn, type Piece, type Shown, type Walk } from './pieces';
import { type PulledDown, pulldownOf } from './pulldown';
import { AAF_WORDS } from './wording';

/** A clip, or the cut that it leads to, opened. */
export function clipOf(w: Walk, clip: AafObject, empty: Piece, depth: number): Layers {
  const mob = mobIdAt(clip, PID.sourceId);
  if (!mob) return [[empty]];
  const [slot, start] = [intAt(clip, PID.sourceSlot) ?? 0, intAt(clip, PID.startTime) ?? 0];
  const notes = [...commentsOf(clip, PID.componentComments), ...commentsOf(clip, PID.componentAttributes)];
  const first = chainOf(w.contents, mob, slot, start, w.rate);
  if (first.nested) return openedOf(w, first.nested, empty, depth);
  tellFaults(w, first);
  const from = (lead: number) => (lead === 0 ? first : chainOf(w.contents, mob, slot, start + lead, w.rate));
  return [[{ ...empty, show: (lead, length) => natural(w, from, lead, length, notes, keptIn(clip, EVENT_NUMBER)) }]];
}

/** A cut in a cut: the part of it that is seen, counted at the rate of the track that it stands on. */
function openedOf(w: Walk, { slot, at }: NonNullable<Chain['nested']>, empty: Piece, depth: number): Layers {
  const rate = rateOfSlot(slot) ?? w.rate;
  const from = at + (intAt(slot, PID.origin) ?? 0);
  const layers = w.layersOf({ ...w, rate }, childAt(slot, PID.segment), -from, depth + 1);
  return layers.map((pieces) => movedBy(between(atRate(pieces, rate, w.rate), 0, empty.out - empty.in), empty.in));
}

/** What is played through a pulldown in the cut itself: a clip, whose frames are counted as the pulldown does. */
export function pulledOf(w: Walk, pulldown: AafObject, empty: Piece, depth: number): Layers {
  const [input, pulled] = [childAt(pulldown, PID.pulldownInput), pulldownOf(pulldown)];
  const mob = input && classOf(input) === 'SourceClip' ? mobIdAt(input, PID.sourceId) : null;
  if (!input || !mob || !pulled) {
    const layers = w.layersOf(w, input, empty.in, depth + 1).map((pieces) => between(pieces, empty.in, empty.out));
    w.say('changed', 'pulldown', AAF_WORDS.unknownPulldown({ clip: nameIn(layers) }));
    return layers;
  }
  const [slot, start] = [intAt(input, PID.sourceSlot) ?? 0, intAt(input, PID.startTime) ?? 0];
  const notes = [...commentsOf(input, PID.componentComments), ...commentsOf(input, PID.componentAttributes)];
  const from = (lead: number): Chain => ({ ...chainOf(w.contents, mob, slot, start + pulled.under(lead), w.rate, true), pulled });
  tellFaults(w, from(0));
  return [[{ ...empty, show: (lead, length) => natural(w, from, lead, length, notes, keptIn(input, EVENT_NUMBER)) }]];
}

function tellFaults({ say }: Walk, chain: Chain): void {
  if (chain.faults.length === 0 && !chain.pulled && chain.timecode) return;
  const clip = chain.clipName || chain.fileName || 'a clip';
  if (chain.faults.includes('missingMob')) say('lost', 'missing-mob', AAF_WORDS.missingMob({ clip }));
  if (chain.faults.includes('circle')) say('unreadable', 'circle', AAF_WORDS.circle({ clip }));
  if (chain.faults.includes('betweenFrames')) say('changed', 'between-frames', AAF_WORDS.betweenFrames({ clip }));
  if (chain.faults.includes('noLabel')) say('changed', 'no-label', AAF_WORDS.noLabel({ clip }));
  if (chain.faults.includes('pulldown')) say('changed', 'pulldown', AAF_WORDS.unknownPulldown({ clip }));
  if (chain.pulled) say('kept', 'pulldown', AAF_WORDS.pulldown({ clip, ...chain.pulled }));
  if (!chain.timecode && !chain.faults.includes('missingMob')) say('changed', 'no-timecode', AAF_WORDS.noTimecode({ clip }));
}

/** Units of the track as frames of a source. */
const sourceFrames = (w: Walk, length: number, rate: Rate): Frames =>
  sameSpeed(w.rate, rate) ? length : Math.ceil((length * rate.num * w.rate.den) / (rate.den * w.rate.num));

/** The frame of a source that a chain leads to: by its labels, else in its file. */
const frameOf = (chain: Chain): Frames => chain.timecode?.count ?? chain.position;

/** The frame after the last that is pulled down: where its frames are counted to, whatever the clock says; by its shares where the source is at its end there, or another. */
function pastPulled(first: Chain, { given, of }: PulledDown, end: Chain, length: number): Frames {
  const goesOn = end.pulled && end.reel === first.reel && end.mediaPath === first.mediaPath && !end.timecode === !first.timecode;
  return goesOn ? Math.max(frameOf(end), frameOf(first) + 1) : frameOf(first) + Math.ceil((length * of) / given);
}

/** A clip as it runs by itself, `length` units of the track from one of its places on; `chainAt` follows it from any. */
function natural(w: Walk, chainAt: (at: number) => Chain, at: number, length: number, notes: readonly string[], number: string): Shown {
  const chain = chainAt(at);
  const sourceRate = chain.timecode?.rate ?? chain.rate ?? w.rate;
  const first = frameOf(chain);
  const source = {
    in: first,
    out: chain.pulled ? pastPulled(chain, chain.pulled, chainAt(at + length), length) : first + sourceFrames(w, length, sourceRate),
  };
  return {
    kind: 'clip',
    clipName: chain.clipName,
    chain,
    sourceRate,
    source,
    sourceLabels: labelsOf(source, sourceRate),
    retime: { kind: 'natural' },
    phase: ZERO,
    placement: null,
    notes: notes.length > 0 ? [...notes, ...chain.notes] : chain.notes,
    number,
    effects: NONE,
  };
}

const NONE: readonly string[] = [];

/** Source in and out as they are labelled. */
export const labelsOf = (source: Shown['source'], rate: Rate): string =>
  source.in < 0 ? `${source.in} ${source.out}` : `${formatTimecode(source.in, rate)} ${formatTimecode(source.out, rate)}`;
