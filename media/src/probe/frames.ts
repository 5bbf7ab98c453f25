import path from 'node:path';
import {
  formatRate,
  type Original,
  parseRate,
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
import { ALONE, type Beside, type Stamped, stampOf } from './beside';
import { pixelAspectOf } from './movie';

/** An OpenEXR header that is longer than this is not looked for, in bytes. */
const LONGEST_HEADER = 64 * 1024;

/** What a single picture's own header says. */
interface PictureHeader {
  readonly raster: Original['raster'];
  readonly pixelAspect: number | null;
  readonly codec: string;
  readonly rate: Rate | null;
  /** How the header is called as a source. */
  readonly origin: string;
  readonly said: readonly Said[];
}

/** Most OpenEXR headers end within this, in bytes. */
const USUAL_HEADER = 4 * 1024;

/** DPX and OpenEXR headers are read without a decoder; other pictures are opened with one. */
function headerOf(file: string, head: FileHead): PictureHeader {
  if (/\.dpx$/i.test(file)) {
    const dpx = readDpxHeader(head.read(0, DPX_HEADER_BYTES));
    if (dpx)
      return {
        raster: { width: dpx.width, height: dpx.height },
        pixelAspect: dpx.pixelAspect,
        codec: 'dpx',
        rate: dpx.framesPerSecond ? rateFromDecimal(dpx.framesPerSecond) : null,
        origin: 'the DPX header',
        said: said('the DPX header', {
          timecode: dpx.timecode,
          reel: dpx.inputDevice,
          clipName: sourceClip(dpx.sourceName, file),
          created: dateOf(dpx.created),
        }),
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
        origin: 'the OpenEXR header',
        said: said('the OpenEXR header', { timecode: exr.timecode, reel: exr.reel, clipName: exr.clipName, created: dateOf(exr.created) }),
      };
  }
  const { format, stream } = openFile(file);
  try {
    return {
      raster: { width: stream.codecpar.width, height: stream.codecpar.height },
      pixelAspect: pixelAspectOf(stream),
      codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
      rate: null,
      origin: 'the file',
      said: [],
    };
  } finally {
    format.closeInputSync();
  }
}

/** The clip a picture was made from, by the name of its source: without folders, extension and number. Empty when that is its own name. */
function sourceClip(source: string, file: string): string {
  const name = source.split(/[/\\]/).pop() ?? '';
  return name === path.basename(file) ? '' : withoutExtension(name).replace(/[ _.-]+\d{3,10}$/, '');
}

/** `yyyy:mm:dd hh:mm:ss` and the like, as people write dates; empty when it is none. */
function dateOf(text: string): string {
  const found = /^(\d{4}):(\d{2}):(\d{2})[: ](\d{2}:\d{2}:\d{2})/.exec(text);
  return found ? `${found[1]}-${found[2]}-${found[3]} ${found[4]}` : '';
}

function said(origin: string, fields: Partial<Record<Said['field'], string | null>>): Said[] {
  const all: Said[] = [];
  for (const field in fields) {
    const value = fields[field as Said['field']];
    if (value) all.push({ field: field as Said['field'], value, origin });
  }
  return all;
}

const headerIn = (file: string): PictureHeader => withHead(file, (head) => headerOf(file, head));

/** Reads a single picture as a still. Throws MediaError when it is none. */
export function probeStill(file: string, beside: Beside = ALONE, stamped: Stamped = stampOf([file])): Original {
  const header = headerIn(file);
  const fileName = path.basename(file);
  return {
    path: file,
    kind: 'still',
    reel: '',
    clipName: withoutExtension(fileName),
    fileName,
    start: 0,
    hasTimecode: false,
    frames: 1,
    rate: RATES['24'],
    clock: RATES['24'],
    raster: header.raster,
    pixelAspect: header.pixelAspect,
    codec: header.codec,
    sound: null,
    files: [],
    pieces: [],
    sidecars: beside.sidecars,
    claims: [],
    checksums: beside.checksums,
    measured: [],
    grades: beside.grades,
    bytes: stamped.bytes,
    stamp: stamped.stamp,
    print: '',
    warnings: [],
  };
}

/** Reads a run of numbered frames as one clip; the first frame's header gives timecode, rate and reel. */
export function probeNumbered(
  folder: string,
  stem: string,
  files: readonly string[],
  gaps: readonly number[],
  beside: Beside = ALONE,
  stamped: Stamped = stampOf(files.map((f) => path.join(folder, f))),
): Original {
  const first = path.join(folder, files[0] as string);
  const header = headerIn(first);
  const warnings: Warning[] = [];
  const stated = beside.said
    .filter((s) => s.field === 'rate')
    .map((s) => parseRate(s.value))
    .find((r) => r !== null);
  const rate = header.rate ?? stated ?? RATES['24'];
  if (!header.rate && !stated) warnings.push({ code: 'rate-unknown', message: 'The frames do not say their rate; 24 was taken.' });
  if (gaps.length > 0) {
    const shown = gaps.slice(0, 5).join(', ');
    warnings.push({
      code: 'frames-missing',
      message: `${gaps.length} numbered frames are missing (${shown}${gaps.length > 5 ? ', …' : ''}). Copy the folder again.`,
    });
  }
  const told: Said[] = header.rate ? [{ field: 'rate', value: formatRate(header.rate), origin: header.origin }] : [];
  const settled = settleClaims([...header.said, ...told, ...beside.said], rate, stem.replace(/[ _.-]+$/, '') || path.basename(folder));
  return {
    ...settled,
    path: first,
    kind: 'frames',
    clock: settled.rate,
    fileName: path.basename(first),
    frames: files.length,
    raster: header.raster,
    pixelAspect: header.pixelAspect,
    codec: header.codec,
    sound: null,
    files,
    pieces: [],
    sidecars: beside.sidecars,
    checksums: beside.checksums,
    measured: [],
    grades: beside.grades,
    ...stamped,
    print: '',
    warnings: [...warnings, ...settled.warnings],
  };
}
