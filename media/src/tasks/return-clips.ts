import { mkdirSync } from 'node:fs';
import path from 'node:path';
import {
  basisOfClip,
  basisOfHeard,
  bytesOfClip,
  type ClipCodec,
  compile,
  framesOfClip,
  type Heard,
  type Original,
  planReturn,
  type ReturnAsked,
  type ReturnClip,
  type ReturnProblem,
  type Standing,
} from '@gemello/core';
import { isFaultOfFile, MediaError, withRoom, writtenOf } from '../plain';
import { stampOf } from '../probe';
import { clipMaker, placeOf, renderClip } from './clips';
import { asCarried, otherPictures, probeClip } from './clips-seen';
import { openRecord } from './record';
import { type Report, type StopSignal, stopIfAsked } from './task';

/** What a return is made of, and how. */
export interface ReturnPayload {
  /** The cut as it stands, with its pairs and grades. */
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly folder: string;
  readonly title: string;
  readonly asked: ReturnAsked;
  /** Names of the list formats that are written; all that hold transitions where it is left out. */
  readonly lists?: readonly string[];
  /** What may be heard with the clips, besides what their originals sound of. */
  readonly heard?: readonly Heard[];
  /** What was decided since the turnover, for the report; each in one line. */
  readonly decisions?: readonly string[];
  /** Clips that were made before by shares; null makes all of them first. */
  readonly done?: readonly ClipDone[] | null;
  /** False writes only the list that points at the originals, and the table of pairs. */
  readonly render: boolean;
}

/** Which of the clips of a return are made: each `of`-th, from `index` on. */
export interface Share {
  readonly index: number;
  readonly of: number;
}

/** A clip of a return that was made, or could not be. */
export interface ClipDone {
  readonly fileName: string;
  /** True where it was there already, made from the same. */
  readonly reused: boolean;
  /** It as it was opened again; null where it is not there. */
  readonly found: Original | null;
  /** Why it could not be made, and where its pictures are others than were meant. */
  readonly problems: readonly ReturnProblem[];
}

/** The record, inside a return's folder, of what each finished clip was made from: one for each share, since they are written at once. */
const recordName = (index: number): string => (index === 0 ? 'return.json' : `return-${index}.json`);
/** As many shares as are looked for. */
const MOST_SHARES = 64;

/**
 * Makes clips of a return, and looks at each again. What is finished and was made from the same is not made again; one that cannot be made
 * leaves the others to be, a full disk stops them all. `share`: null for all of them.
 */
export function renderShare(payload: ReturnPayload, share: Share | null, report: Report, signal: StopSignal): ClipDone[] {
  const folder = folderOf(payload);
  mkdirSync(folder, { recursive: true });
  const { index, of } = share ?? { index: 0, of: 1 };
  const conform = compile(payload.list, payload.originals);
  const { clips: all } = planReturn(payload.list, conform, { ...payload.asked, title: payload.title });
  const clips = all.filter((_, i) => i % of === index);
  const byPath = new Map(payload.originals.map((o) => [o.path, o]));
  const madeOf = clipMaker(conform, payload.asked.codec, payload.heard);
  const records = Array.from({ length: MOST_SHARES }, (_, i) => path.join(folder, recordName(i)));
  const record = openRecord(path.join(folder, recordName(index)), records);
  // Of all shares, so that each tells how much there is.
  const total = all.reduce((sum, c) => sum + framesOfClip(c), 0);
  let before = 0;
  const make = (clip: ReturnClip): ClipDone => {
    stopIfAsked(signal);
    const { fileName } = clip;
    const original = byPath.get(clip.originalPath) as Original;
    const made = madeOf(clip, original);
    const target = placeOf(folder, clip);
    try {
      const mark = markOf(payload, clip, original);
      const reused = record.holds(target, mark);
      if (!reused) {
        renderClip(made, folder, signal, (frame) => report({ done: before + frame, total, what: fileName }));
        record.keep(target, mark);
      }
      const found = asCarried(probeClip(clip, target), clip);
      return { fileName, reused, found, problems: otherPictures(made, found) };
    } catch (error) {
      if (!isFaultOfFile(error)) throw error;
      return { fileName, reused: false, found: null, problems: [{ fileName, message: `was not written: ${error.message}` }] };
    } finally {
      before += framesOfClip(clip);
      report({ done: before, total, what: fileName });
    }
  };
  const left = () => all.reduce((sum, clip) => sum + leftOf(clip, payload.asked.codec, folder), 0);
  return withRoom(folder, { what: 'The clips', instead: 'choose another kind of clip' }, left, () => clips.map(make));
}

/** About how many bytes of a clip are still to be written. */
function leftOf(clip: ReturnClip, codec: ClipCodec, folder: string): number {
  const reckoned = bytesOfClip(clip, codec);
  return reckoned - writtenOf(placeOf(folder, clip), reckoned);
}

/** Where a return goes. Throws MediaError for a folder that holds originals. */
export function folderOf(payload: ReturnPayload): string {
  const folder = path.resolve(payload.folder);
  for (const original of payload.originals)
    if (path.dirname(original.path) === folder)
      throw new MediaError(`The return cannot go into ${folder}: it holds originals, and nothing is written beside those.`);
  return folder;
}

/** Changes with all that a clip is made from. */
function markOf({ asked, heard = [] }: ReturnPayload, clip: ReturnClip, original: Original): string {
  const sounds = heard.find((h) => h.from === clip.sound);
  return JSON.stringify([
    asked.codec,
    basisOfClip(clip, original),
    clip.lut && stampOf([clip.lut.file]).stamp,
    sounds ? basisOfHeard(sounds) : null,
  ]);
}
