import type { Decision, EditList, EventProof, ListEvent, Original, Track } from '../src';
import { applyDecisions, compile, EMPTY_LIST, newEvent, RATES, standingList } from '../src';

/** An event on the record from `at`, `length` frames long, of reel A001 from frame `source` of timecode; 24 fps. */
export function event(key: string, at: number, length: number, source: number, more: Partial<ListEvent> = {}): ListEvent {
  return newEvent({
    key,
    number: key.split('/')[1]?.padStart(3, '0') ?? '',
    reel: 'A001',
    clipName: 'A001C001',
    fileName: 'A001C001.mov',
    sourceRate: RATES['24'],
    source: { in: source, out: source + length },
    record: { in: at, out: at + length },
    ...more,
  });
}

export const dissolve = (duration: number, from: 'previous' | 'black' = 'previous') =>
  ({ type: 'dissolve', duration, before: 0, from, wipeCode: null }) as const;

export function list(...tracks: ListEvent[][]): EditList {
  const made = tracks.map((events, i): Track => ({ name: `V${i + 1}`, kind: 'picture', events }));
  return { ...EMPTY_LIST, format: 'edl', title: 'TEST', rate: RATES['24'], tracks: made };
}

/** A movie of reel A001, 24 fps, 100 frames from timecode frame 1000. */
export function original(path: string, more: Partial<Original> = {}): Original {
  const fileName = path.split('/').pop() ?? path;
  return {
    path,
    kind: 'movie',
    reel: 'A001',
    clipName: fileName.replace(/\.\w+$/, ''),
    fileName,
    start: 1000,
    hasTimecode: true,
    frames: 100,
    rate: RATES['24'],
    clock: more.rate ?? RATES['24'],
    raster: { width: 1920, height: 1080 },
    pixelAspect: 1,
    codec: 'prores',
    sound: null,
    files: [],
    gaps: [],
    pieces: [],
    sidecars: [],
    claims: [],
    checksums: [],
    measured: [],
    grades: [],
    stamp: '',
    print: path,
    bytes: 1,
    warnings: [],
    ...more,
  };
}

/** The conform of a list with decisions. */
export const conformOf = (given: EditList, originals: readonly Original[], decisions: readonly Decision[] = []) =>
  compile(applyDecisions(given, decisions).list, originals);

/** The text of a list's file. */
export const textOf = (bytes: Uint8Array | undefined): string => new TextDecoder().decode(bytes);
export const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

/** A cut of these layers as it stands, nothing decided. */
export const standing = (...tracks: ListEvent[][]) => standingList(list(...tracks));

/** A proof that an event's one frame is the same as the reference's. */
export const proof = (event: string): EventProof => ({
  event,
  number: '001',
  track: 'V1',
  verdict: 'same',
  score: 0.99,
  bestOffset: 0,
  bestScore: 0.99,
  trace: [0.99],
  framesCompared: 1,
  findings: [],
});
