import { canDropFrames, type Frames, formatTimecode, type Rate, rateOf } from '@gemello/core';
import type { FileHead } from './file';

/**
 * What a QuickTime or MP4 file says of timecode (ISO/IEC 14496-12 boxes; QuickTime File Format,
 * timecode media): every timecode track, with the label it gives to the first picture that is shown.
 */
export interface MovieTimecode {
  readonly trackId: number;
  /** The label of the first picture shown, counted at the track's own rate. */
  readonly label: string;
  /** The rate the track counts at. */
  readonly rate: Rate;
  /** First picture shown, in frames at that rate from 00:00:00:00. */
  readonly start: Frames;
  /** The reel its description names; empty without one. */
  readonly reel: string;
  /** True when the picture track names this one as its timecode. */
  readonly ofPicture: boolean;
  /** How many stretches of timecode the track holds: more than one where it does not run on. */
  readonly stretches: number;
}

/** Boxes looked at before a file is taken for hostile, and how deep they may lie. */
const MOST_BOXES = 20_000;
const DEEPEST = 8;
/** Boxes that hold others, on the way to what is asked. */
const HOLDERS = new Set(['moov', 'trak', 'edts', 'mdia', 'minf', 'stbl', 'tref']);
/** Boxes whose content is read, and how much of it at most, in bytes. */
const CONTENT: Record<string, number> = {
  mvhd: 40,
  tkhd: 40,
  elst: 16 * 1024,
  mdhd: 40,
  hdlr: 32,
  stsd: 1024,
  stco: 24,
  co64: 24,
  stsz: 24,
  tmcd: 256,
};

interface Track {
  id: number;
  kind: string;
  timescale: number;
  edits: { duration: number; mediaTime: number }[];
  timecodes: number[];
  description: { flags: number; timescale: number; frameDuration: number; reel: string } | null;
  offset: number | null;
  samples: number;
}

/** Reads the timecode tracks; empty when there are none, or the file is of another kind. Sample tables are passed over. */
export function readMovieTimecodes({ size, read }: FileHead): MovieTimecode[] {
  const { tracks, timescale } = readTracks(read, size);
  const picture = tracks.find((t) => t.kind === 'vide');
  return tracks
    .flatMap((t) => timecodeOf(t, picture ?? null, timescale, read) ?? [])
    .sort((a, b) => Number(b.ofPicture) - Number(a.ofPicture));
}

type Read = FileHead['read'];

function readTracks(read: Read, size: number): { tracks: Track[]; timescale: number } {
  const tracks: Track[] = [];
  let timescale = 0;
  let seen = 0;
  const walk = (from: number, to: number, depth: number): void => {
    for (let at = from; at + 8 <= to && seen < MOST_BOXES; seen++) {
      const head = read(at, 16);
      if (head.length < 8) return;
      const short = head.readUInt32BE(0);
      const type = head.toString('latin1', 4, 8);
      const long = short === 1 && head.length === 16;
      const length = long ? Number(head.readBigUInt64BE(8)) : short === 0 ? to - at : short;
      const inside = at + (long ? 16 : 8);
      if (length < inside - at || at + length > to) return;
      if (type === 'trak')
        tracks.push({ id: 0, kind: '', timescale: 0, edits: [], timecodes: [], description: null, offset: null, samples: 0 });
      if (HOLDERS.has(type) && depth < DEEPEST) walk(inside, at + length, depth + 1);
      const most = CONTENT[type];
      if (most !== undefined && depth > 0) {
        const body = read(inside, Math.min(length - (inside - at), most));
        if (type === 'mvhd') timescale = scaleOf(body);
        else take(tracks.at(-1), type, body);
      }
      at += length;
    }
  };
  walk(0, size, 0);
  return { tracks, timescale };
}

/** The timescale of a movie or media header, whose times are 32 or 64 bits long by its version. */
function scaleOf(body: Buffer): number {
  const at = body[0] === 1 ? 20 : 12;
  return body.length >= at + 4 ? body.readUInt32BE(at) : 0;
}

function take(track: Track | undefined, type: string, body: Buffer): void {
  if (!track) return;
  if (type === 'tmcd') for (let at = 0; at + 4 <= body.length; at += 4) track.timecodes.push(body.readUInt32BE(at));
  if (body.length < 8) return;
  if (type === 'tkhd') {
    const at = body[0] === 1 ? 20 : 12;
    if (body.length >= at + 4) track.id = body.readUInt32BE(at);
  } else if (type === 'mdhd') track.timescale = scaleOf(body);
  // A media handler comes before a data handler, whose kind is of no use here.
  else if (type === 'hdlr' && track.kind === '' && body.length >= 12) track.kind = body.toString('latin1', 8, 12);
  else if (type === 'elst') track.edits = editsOf(body);
  else if (type === 'stsd') track.description = descriptionOf(body);
  else if (type === 'stsz' && body.length >= 12) track.samples = body.readUInt32BE(8);
  else if (type === 'stco' && body.length >= 12) track.offset = body.readUInt32BE(8);
  else if (type === 'co64' && body.length >= 16) track.offset = Number(body.readBigUInt64BE(8));
}

function editsOf(body: Buffer): Track['edits'] {
  const wide = body[0] === 1;
  const edits: Track['edits'] = [];
  const length = wide ? 20 : 12;
  const count = body.readUInt32BE(4);
  for (let n = 0, at = 8; n < count && at + length <= body.length; n++, at += length)
    edits.push(
      wide
        ? { duration: Number(body.readBigUInt64BE(at)), mediaTime: Number(body.readBigInt64BE(at + 8)) }
        : { duration: body.readUInt32BE(at), mediaTime: body.readInt32BE(at + 4) },
    );
  return edits;
}

/** A timecode sample description: after its size, format, 6 + 2 bytes come 4 reserved, flags, timescale, frame duration, frames a second, 1 reserved, then boxes such as `name`. */
function descriptionOf(body: Buffer): Track['description'] {
  if (body.length < 42 || body.toString('latin1', 12, 16) !== 'tmcd') return null;
  const [flags, timescale, frameDuration] = [body.readUInt32BE(28), body.readUInt32BE(32), body.readUInt32BE(36)];
  if (timescale === 0 || frameDuration === 0) return null;
  const end = Math.min(body.length, 8 + body.readUInt32BE(8));
  let reel = '';
  for (let at = 42; at + 8 <= end; ) {
    const length = body.readUInt32BE(at);
    if (length < 8 || at + length > end) break;
    // Four bytes of length and language, then the text (QuickTime File Format, user data text).
    if (body.toString('latin1', at + 4, at + 8) === 'name' && length >= 12)
      reel = body
        .toString('utf8', at + 12, at + length)
        .replace(/\0.*$/s, '')
        .trim();
    at += length;
  }
  return { flags, timescale, frameDuration, reel };
}

/** What of a track's time line is shown first: how long it waits, in the movie's time, and where in its media it begins. */
function beginning({ edits }: Track): { wait: number; mediaTime: number } {
  let wait = 0;
  for (const { duration, mediaTime } of edits) {
    if (mediaTime >= 0) return { wait, mediaTime };
    wait += duration;
  }
  return { wait, mediaTime: 0 };
}

const DROP_FRAME = 1;

function timecodeOf(track: Track, picture: Track | null, movieScale: number, read: Read): MovieTimecode | null {
  const { description, offset } = track;
  if (track.kind !== 'tmcd' || !description || offset === null || movieScale === 0) return null;
  const sample = read(offset, 4);
  if (sample.length < 4) return null;
  const plain = rateOf(description.timescale, description.frameDuration);
  if (plain.num / plain.den > 1000) return null;
  const rate = { ...plain, dropFrame: (description.flags & DROP_FRAME) !== 0 && canDropFrames(plain) };
  const own = beginning(track);
  const shown = picture ? beginning(picture).wait : 0;
  // Where the first picture shown falls on this track, in seconds of its media.
  const seconds = own.mediaTime / (track.timescale || description.timescale) + (shown - own.wait) / movieScale;
  const start = sample.readInt32BE(0) + Math.round((seconds * description.timescale) / description.frameDuration);
  if (start < 0) return null;
  return {
    trackId: track.id,
    label: formatTimecode(start, rate),
    rate,
    start,
    reel: description.reel,
    ofPicture: picture?.timecodes.includes(track.id) ?? false,
    stretches: track.samples,
  };
}
