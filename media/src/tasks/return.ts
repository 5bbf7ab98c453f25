import { mkdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import {
  basisOfClip,
  checkReturn,
  compile,
  type EditList,
  formatTimecode,
  gradePixels,
  isNeutral,
  LIST_FORMATS,
  type Original,
  pairsTable,
  planReturn,
  type ReturnClip,
  type ReturnPlan,
  type ReturnProblem,
  relinkedList,
  type Severity,
  type Standing,
  writeCdlFile,
  writeList,
} from '@gemello/core';
import { AV_PIX_FMT_RGB48LE, SWS_ACCURATE_RND, SWS_BICUBIC } from 'node-av/constants';
import { lutOf } from '../compose';
import { openPictures, readHeld } from '../engine/reader';
import { makeScaler } from '../engine/scaler';
import { openMovieWriter } from '../engine/writer';
import { isFaultOfFile, MediaError } from '../plain';
import { probeMovie, stampOf } from '../probe';
import { openRecord, writeWhole } from './record';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface ReturnPayload {
  /** The cut as it stands, with its pairs and grades. */
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly folder: string;
  readonly handles: number;
  readonly title: string;
  /** False writes only the list that points at the originals, and the table of pairs. */
  readonly render: boolean;
}

export interface ReturnResult {
  readonly folder: string;
  readonly clips: readonly (ReturnClip & { path: string; reused: boolean })[];
  readonly lists: readonly string[];
  /** What each list does not carry, found by reading it again. */
  readonly notCarried: readonly NotCarried[];
  readonly warnings: ReturnPlan['warnings'];
  readonly problems: readonly ReturnProblem[];
}

export interface NotCarried {
  readonly fileName: string;
  readonly severity: Severity;
  readonly message: string;
}

/** The name of the record, inside a return's folder, of what each finished clip was made from. */
const RECORD = 'return.json';

/**
 * Writes a return: clips, list, table of pairs, grades. Each file appears under its own name only
 * when it is complete. Asked again with the same plan, finished clips are not rendered again; one
 * that cannot be made is a problem, and the others are made. What was written is opened and
 * compared with the plan. The folder is never one that holds an original.
 */
export function writeReturn(payload: ReturnPayload, report: Report, signal: StopSignal): ReturnResult {
  const folder = path.resolve(payload.folder);
  for (const original of payload.originals)
    if (path.dirname(original.path) === folder)
      throw new MediaError(`The return cannot go into ${folder}: it holds originals, and nothing is written beside those.`);
  mkdirSync(folder, { recursive: true });
  const conform = compile(payload.list, payload.originals);
  const stem = fileStem(payload.title);
  const lists: string[] = [];
  const notCarried: NotCarried[] = [];
  const put = (name: string, content: string | Uint8Array) => {
    writeWhole(path.join(folder, name), content);
    lists.push(name);
  };
  put(`${stem}-pairs.csv`, pairsTable(conform));
  /** The list in every format, so that the editor takes the one their system reads best. */
  const putList = (list: EditList) => {
    for (const format of LIST_FORMATS.filter((f) => f.hasTransitions)) {
      const name = `${stem}.${format.extensions[0]}`;
      const { files, notices } = writeList(list, format, name);
      for (const { fileName, bytes } of files) put(fileName, bytes);
      for (const { severity, message } of notices) notCarried.push({ fileName: name, severity, message });
    }
  };
  if (!payload.render) {
    putList(relinkedList(payload.list, conform, payload.title));
    return { folder, clips: [], lists, notCarried, warnings: [], problems: [] };
  }

  const plan = planReturn(payload.list, conform, { handles: payload.handles, extension: 'mov', title: payload.title });
  const byPath = new Map(payload.originals.map((o) => [o.path, o]));
  const record = openRecord(path.join(folder, RECORD));
  const total = plan.clips.reduce((sum, c) => sum + lengthOfClip(c), 0);
  let before = 0;
  const clips: ReturnResult['clips'][number][] = [];
  const failed: ReturnProblem[] = [];
  for (const clip of plan.clips) {
    stopIfAsked(signal);
    const original = byPath.get(clip.originalPath) as Original;
    const target = path.join(folder, clip.fileName);
    try {
      const mark = JSON.stringify([basisOfClip(clip, original), clip.lut && stampOf([clip.lut]).stamp]);
      const reused = record.holds(target, mark);
      if (!reused) {
        renderClip(clip, original, target, signal, (frame) => report({ done: before + frame, total, what: clip.fileName }));
        record.keep(target, mark);
      }
      clips.push({ ...clip, path: target, reused });
    } catch (error) {
      // One clip that cannot be made leaves the others to be; a full disk stops them all.
      if (!isFaultOfFile(error)) throw error;
      failed.push({ fileName: clip.fileName, message: `was not written: ${error.message}` });
    }
    before += lengthOfClip(clip);
  }
  putList(plan.list);
  const grades = plan.clips.flatMap((c) => (c.cdl ? [{ id: c.fileName.replace(/\.mov$/, ''), cdl: c.cdl }] : []));
  if (grades.length > 0) put(`${stem}.ccc`, writeCdlFile(grades));
  report({ done: total, total, what: 'Checking what was written' });
  const found = new Map(clips.map((c) => [c.fileName, probeMovie(c.path)]));
  const problems = [...failed, ...checkReturn(clips, found)];
  return { folder, clips, lists, notCarried, warnings: plan.warnings, problems };
}

const lengthOfClip = (c: ReturnClip) => c.given.out - c.given.in;
const fileStem = (title: string) => title.trim().replace(/[^\w.-]+/g, '_') || 'return';

/** Writes a clip, which appears under its name only when it is whole. */
function renderClip(clip: ReturnClip, original: Original, target: string, signal: StopSignal, onFrame: (done: number) => void): void {
  const partial = target.replace(/\.mov$/, '.part.mov');
  try {
    writeClip(clip, original, partial, signal, onFrame);
    renameSync(partial, target);
  } catch (error) {
    rmSync(partial, { force: true });
    throw error;
  }
}

function writeClip(clip: ReturnClip, original: Original, partial: string, signal: StopSignal, onFrame: (done: number) => void): void {
  const { width, height } = original.raster;
  const raster = { width: width - (width % 2), height: height - (height % 2) };
  const cdl = clip.cdl && !isNeutral(clip.cdl) ? clip.cdl : null;
  const look = clip.lut === null ? null : lutOf(clip.lut);
  const reader = openPictures(original, 2);
  const writer = openMovieWriter(partial, {
    writer: 'intra',
    raster,
    rate: clip.rate,
    timecode: formatTimecode(clip.start, clip.rate),
    reel: clip.reel || null,
    threads: 2,
  });
  const toRgb = makeScaler(raster.width, raster.height, AV_PIX_FMT_RGB48LE, 'full', SWS_BICUBIC | SWS_ACCURATE_RND);
  const grade = cdl && gradePixels(cdl, 65536);
  const span = original.kind === 'still' ? { in: 0, out: 1 } : clip.given;
  let written = 0;
  try {
    readHeld(original, reader, span.in, span.out, (frame) => {
      const pixels = grade || look ? new Uint8Array(toRgb.convert(frame).toBuffer()) : null;
      if (pixels) {
        const values = new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2);
        grade?.(values, 3);
        look?.(values, 3);
      }
      const times = original.kind === 'still' ? lengthOfClip(clip) : 1;
      for (let n = 0; n < times && !signal.aborted; n++) {
        if (pixels) writer.writePixels(pixels, AV_PIX_FMT_RGB48LE);
        else writer.writeFrame(frame);
        written++;
      }
      onFrame(written);
      return signal.aborted ? false : undefined;
    });
  } finally {
    toRgb.free();
    reader.close();
    writer.close();
  }
  stopIfAsked(signal);
  if (written !== lengthOfClip(clip))
    throw new MediaError(
      `${original.fileName} gave ${written} of ${lengthOfClip(clip)} frames; the file is damaged or was cut off while copying.`,
    );
}
