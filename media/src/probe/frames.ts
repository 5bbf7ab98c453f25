import path from 'node:path';
import {
  type FrameRange,
  formatRate,
  formatTimecode,
  framesPerDay,
  lengthOf,
  type NumberedRun,
  nominal,
  type Original,
  RATES,
  type Rate,
  rateFromDecimal,
  rateOf,
  type Said,
  settleClaims,
  type Warning,
  withoutExtension,
} from '@gemello/core';
import { avGetCodecName } from 'node-av/lib';
import { openFile } from '../engine/reader';
import { DPX_HEADER_BYTES, readDpxHeader } from '../headers/dpx';
import { readExrHeader } from '../headers/exr';
import { type FileHead, withHead } from '../headers/file';
import { readStillHeader } from '../headers/stills';
import { ALONE, type Beside, type Stamped, stampOf, statedRate } from './beside';
import { pixelAspectOf } from './movie';

/** An OpenEXR header that is longer than this is not looked for, in bytes. */
const LONGEST_HEADER = 64 * 1024;

/** What a single picture's own header says. */
interface PictureHeader {
  readonly raster: Original['raster'];
  readonly pixelAspect: number | null;
  readonly codec: string;
  readonly rate: Rate | null;
  /** Which frame of its run it was made as, from 0; null when it does not say so. */
  readonly position: number | null;
  /** How the header is called as a source. */
  readonly origin: string;
  readonly said: readonly Said[];
}

/** Most OpenEXR headers end within this, in bytes. */
const USUAL_HEADER = 4 * 1024;

/** Headers of the picture formats of the trade are read without a decoder; what is left is opened with one. */
function headerOf(file: string, head: FileHead): PictureHeader {
  if (/\.dpx$/i.test(file)) {
    const dpx = readDpxHeader(head.read(0, DPX_HEADER_BYTES));
    if (dpx)
      return {
        raster: { width: dpx.width, height: dpx.height },
        pixelAspect: dpx.pixelAspect,
        codec: 'dpx',
        rate: dpx.framesPerSecond ? rateFromDecimal(dpx.framesPerSecond) : null,
        position: dpx.position,
        origin: 'the DPX header',
        said: said('the DPX header', dpx.timecode, dpx.inputDevice, sourceClip(dpx.sourceName, file), dateOf(dpx.created)),
      };
  }
  if (/\.exr$/i.test(file)) {
    const exr = readExrHeader(head.read(0, USUAL_HEADER)) ?? readExrHeader(head.read(0, LONGEST_HEADER));
    if (exr)
      return {
        raster: { width: exr.width, height: exr.height },
        pixelAspect: exr.pixelAspect,
        codec: 'exr',
        rate: exr.framesPerSecond && rateOf(exr.framesPerSecond.num, exr.framesPerSecond.den),
        position: null,
        origin: 'the OpenEXR header',
        said: said('the OpenEXR header', exr.timecode, exr.reel, exr.clipName, dateOf(exr.created)),
      };
  }
  const still = /\.(png|jpe?g|tiff?)$/i.test(file) ? readStillHeader(head) : null;
  if (still)
    return {
      raster: { width: still.width, height: still.height },
      pixelAspect: still.pixelAspect,
      codec: still.codec,
      rate: null,
      position: null,
      origin: 'the file',
      said: [],
    };
  const { format, stream } = openFile(file);
  try {
    return {
      raster: { width: stream.codecpar.width, height: stream.codecpar.height },
      pixelAspect: pixelAspectOf(stream),
      codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
      rate: null,
      position: null,
      origin: 'the file',
      said: [],
    };
  } finally {
    format.closeInputSync();
  }
}

/** The clip a picture was made from, by the name of its source: without folders, extension and number. Empty when that is its own name. */
function sourceClip(source: string, file: string): string {
  if (source === '') return '';
  const name = source.split(/[/\\]/).pop() ?? '';
  return name === path.basename(file) ? '' : withoutExtension(name).replace(/[ _.-]+\d{3,10}$/, '');
}

/** `yyyy:mm:dd hh:mm:ss` and the like, as people write dates; empty when it is none. */
function dateOf(text: string): string {
  const found = /^(\d{4}):(\d{2}):(\d{2})[: ](\d{2}:\d{2}:\d{2})/.exec(text);
  return found ? `${found[1]}-${found[2]}-${found[3]} ${found[4]}` : '';
}

/** What a header says, as claims; fields that are empty say nothing. */
function said(origin: string, timecode: string | null, reel: string, clipName: string, created: string): Said[] {
  const all: Said[] = [];
  if (timecode) all.push({ field: 'timecode', value: timecode, origin });
  if (reel) all.push({ field: 'reel', value: reel, origin });
  if (clipName) all.push({ field: 'clipName', value: clipName, origin });
  if (created) all.push({ field: 'created', value: created, origin });
  return all;
}

/** What is known of a picture's file before its header is settled with what stands beside it. */
interface Headed {
  readonly file: string;
  readonly header: PictureHeader;
  readonly stamped: Stamped;
}

/** Opens the first picture of `files`, all absolute, for its header and the stamp of all. */
function headOf(files: readonly string[], beside: Beside): Headed {
  const file = files[0] as string;
  return withHead(file, (head) => ({ file, header: headerOf(file, head), stamped: stampOf(files, beside.papers, head.state) }));
}

/** Reads a single picture as a still. Throws MediaError when it is none. */
export function probeStill(file: string, beside: Beside = ALONE): Original {
  const headed = headOf([file], beside);
  return describePictures(headed, 'still', withoutExtension(path.basename(file)), { files: [], gaps: [] }, beside, []);
}

/** Reads a run of numbered frames as one clip; the first frame's header gives timecode, rate and reel. */
export function probeNumbered(folder: string, { stem, first, files, gaps }: NumberedRun, beside: Beside = ALONE): Original {
  const headed = headOf(
    files.map((f) => path.join(folder, f)),
    beside,
  );
  const warnings: Warning[] = [];
  const rate = headed.header.rate ?? statedRate(beside);
  if (!rate) warnings.push({ code: 'rate-unknown', message: 'The frames do not say their rate; 24 was taken.' });
  if (gaps.length > 0) {
    const missing = framesIn(gaps);
    const shown = gaps.slice(0, GAPS_SHOWN).map((gap) => numbersOf(gap, first));
    if (gaps.length > GAPS_SHOWN) shown.push(`and ${gaps.length - GAPS_SHOWN} more places`);
    warnings.push({
      code: 'frames-missing',
      message: `${missing} numbered ${missing === 1 ? 'frame is' : 'frames are'} missing: ${shown.join(', ')}. Their places are kept. Copy the folder again.`,
    });
  }
  const before = headed.header.position ?? 0;
  // Some systems write the number of the file as its position, which says nothing of what came before.
  if (before > 0 && before !== first)
    warnings.push({
      code: 'head-missing',
      message: `By the header of its first file, ${before} frames of the run come before it and are not here. Copy the folder again if they are needed.`,
    });
  const counted = rate && countedFromMidnight(first, rate);
  const said = [...beside.said, ...(counted && !tellsTimecode(headed.header, beside) ? [counted] : [])];
  return describePictures(
    headed,
    'frames',
    stem.replace(/[ _.-]+$/, '') || path.basename(folder),
    { files, gaps },
    { ...beside, said },
    warnings,
  );
}

/**
 * Scans are often numbered by their timecode, in frames since midnight; runs of pictures that are not begin
 * at 0, 1 or 1001 (common practice). A number of an hour and more is taken for a timecode, a day at the most.
 */
function countedFromMidnight(first: number, rate: Rate): Said | null {
  if (first < 3600 * nominal(rate) || first >= framesPerDay(rate)) return null;
  return { field: 'timecode', value: formatTimecode(first, rate), origin: 'the number of the first file' };
}

const tellsTimecode = (header: PictureHeader, beside: Beside): boolean =>
  [...header.said, ...beside.said].some((s) => s.field === 'timecode');

const framesIn = (gaps: readonly FrameRange[]) => gaps.reduce((sum, gap) => sum + lengthOf(gap), 0);

/** Places of missing frames that a warning names. */
const GAPS_SHOWN = 20;

/** Missing frames by the numbers of their files: `1004` or `1010–1022`. */
const numbersOf = (gap: FrameRange, first: number) =>
  lengthOf(gap) === 1 ? String(first + gap.in) : `${first + gap.in}–${first + gap.out - 1}`;

function describePictures(
  { file, header, stamped }: Headed,
  kind: 'still' | 'frames',
  name: string,
  { files, gaps }: Pick<Original, 'files' | 'gaps'>,
  beside: Beside,
  warnings: readonly Warning[],
): Original {
  const said: Said[] = [];
  for (const s of header.said) said.push(s);
  if (header.rate) said.push({ field: 'rate', value: formatRate(header.rate), origin: header.origin });
  for (const s of beside.said) said.push(s);
  const settled = settleClaims(said, header.rate ?? statedRate(beside) ?? RATES['24'], name);
  // Every field is written out: copying objects over one another costs more than reading the header.
  return {
    path: file,
    kind,
    reel: settled.reel,
    clipName: settled.clipName,
    fileName: path.basename(file),
    start: settled.start,
    hasTimecode: settled.hasTimecode,
    frames: Math.max(1, files.length) + framesIn(gaps),
    rate: settled.rate,
    clock: settled.rate,
    raster: header.raster,
    pixelAspect: header.pixelAspect,
    codec: header.codec,
    sound: null,
    files,
    gaps,
    pieces: [],
    sidecars: beside.sidecars,
    claims: settled.claims,
    checksums: beside.checksums,
    measured: [],
    grades: beside.grades,
    bytes: stamped.bytes,
    stamp: stamped.stamp,
    print: '',
    warnings: [...warnings, ...settled.warnings],
  };
}
