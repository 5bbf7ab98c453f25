import { type Frames, formatTimecode, nominal, type Rate, readTags, type Said, type Warning } from '@gemello/core';
import type { OpenFile } from '../engine/reader';
import type { FileHead } from '../headers/file';
import { readMovieTimecodes } from '../headers/mov';
import { type MxfPackage, readMxfPackages } from '../headers/mxf';

/**
 * What a movie's container says of timecode, reel and clip name, in the order of trust: the timecode
 * tracks of QuickTime and MP4, the packages of MXF, then the tags of tracks and container as FFmpeg
 * gives them. Timecode that counts at another rate than the pictures is given at theirs where one
 * is a multiple of the other.
 */
export function containerClaims(head: FileHead, opened: OpenFile, rate: Rate, warnings: Warning[]): Said[] {
  const kind = opened.format.iformat?.name ?? '';
  const claims = /\bmov\b/.test(kind) ? movieClaims(head, rate, warnings) : /\bmxf/.test(kind) ? packageClaims(head, rate) : [];
  // Where the container was read here, FFmpeg's reading of the same timecode says nothing more.
  const timed = claims.some((c) => c.field === 'timecode');
  for (const said of tagClaims(opened))
    if (!(timed && said.field === 'timecode') && !claims.some((c) => c.field === said.field && c.value === said.value)) claims.push(said);
  return claims;
}

function movieClaims(head: FileHead, rate: Rate, warnings: Warning[]): Said[] {
  const tracks = readMovieTimecodes(head);
  const broken = tracks.find((t) => t.stretches > 1);
  if (broken)
    warnings.push({
      code: 'timecode-breaks',
      message: `Its timecode does not run on: it begins anew ${broken.stretches - 1} times within the file. Only the first stretch is gone by.`,
    });
  return tracks.flatMap((t): Said[] => {
    const origin = tracks.length > 1 ? `timecode track ${t.trackId}` : 'the timecode track';
    return [timecodeClaim(t, rate, origin), ...(t.reel ? [{ field: 'reel', value: t.reel, origin } as const] : [])];
  });
}

const PACKAGES: Record<MxfPackage['is'], string> = { material: 'the material package', file: 'the file package', tape: 'the tape package' };

function packageClaims(head: FileHead, rate: Rate): Said[] {
  const claims: Said[] = [];
  const add = (said: Said) => {
    if (said.value !== '' && !claims.some((c) => c.field === said.field && c.value === said.value)) claims.push(said);
  };
  for (const { is, name, timecode } of readMxfPackages(head)) {
    if (timecode) add(timecodeClaim(timecode, rate, PACKAGES[is]));
    if (is === 'material') add({ field: 'clipName', value: name, origin: PACKAGES[is] });
    if (is === 'tape') add({ field: 'reel', value: name, origin: PACKAGES[is] });
  }
  return claims;
}

/** Timecode counts at most at 30 frames a second in many systems: of 50 pictures a second, two share a label (SMPTE ST 12-1, frame pairs). */
function timecodeClaim(said: { start: Frames; rate: Rate; label: string }, rate: Rate, origin: string): Said {
  const times = nominal(rate) / nominal(said.rate);
  if (times <= 1 || !Number.isInteger(times)) return { field: 'timecode', value: said.label, origin };
  const value = formatTimecode(said.start * times, { ...rate, dropFrame: said.rate.dropFrame });
  return { field: 'timecode', value, origin: `${origin}, which counts ${nominal(said.rate)} a second` };
}

/** Tags that name the reel, and the clip, in the containers in use; as FFmpeg calls them, without case. */
const TAGS: readonly (readonly [Said['field'], string])[] = [
  ['timecode', 'timecode'],
  ['reel', 'reel_name'],
  ['clipName', 'material_package_name'],
];

const CONTAINER = 'the container';

/** What only the container says of the whole file. */
const FILE_TAGS: readonly (readonly [Said['field'], string])[] = [
  ['created', 'creation_time'],
  ['created', 'date'],
  ['writtenBy', 'encoder'],
  ['writtenBy', 'product_name'],
];

/** What the picture stream, the other streams (timecode tracks among them) and the container say, in that order. */
function tagClaims({ format, stream }: OpenFile): Said[] {
  const tagsOf = (tags: Record<string, string> | undefined) =>
    Object.fromEntries(Object.entries(tags ?? {}).map(([name, value]) => [name.toLowerCase(), value]));
  const places: [string, Record<string, string>][] = [
    ['the picture track', tagsOf(stream.metadata?.getAll())],
    ...format.streams
      .filter((s) => s.index !== stream.index)
      .map((s): [string, Record<string, string>] => [`track ${s.index + 1}`, tagsOf(s.metadata?.getAll())]),
    [CONTAINER, tagsOf(format.metadata?.getAll())],
  ];
  const claims: Said[] = [];
  // The same word from several tracks is one word.
  const add = (said: Said) => {
    if (said.value !== '' && !claims.some((c) => c.field === said.field && c.value === said.value)) claims.push(said);
  };
  for (const [origin, tags] of places)
    for (const [field, tag] of origin === CONTAINER ? [...TAGS, ...FILE_TAGS] : TAGS)
      add({ field, value: (tags[tag] ?? '').trim(), origin });
  // What makers put there under names of their own comes after what FFmpeg knows.
  for (const [origin, tags] of places) for (const said of readTags(tags, origin)) add(said);
  return claims;
}
