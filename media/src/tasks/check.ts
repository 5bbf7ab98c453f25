import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import {
  checkReturn,
  compile,
  LIST_FORMATS,
  lookAlone,
  lookAsStranger,
  type Original,
  planReturn,
  type Rate,
  type ReturnAsked,
  type ReturnProblem,
  readDelivery,
  type Standing,
} from '@gemello/core';
import { MediaError } from '../plain';
import { clipMaker } from './clips';
import { asCarried, otherPictures } from './clips-seen';
import { scan } from './scan';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface ReturnCheckPayload {
  readonly folder: string;
  /** Rate of lists that do not state one; null: that of another list or of the clips. */
  readonly rate: Rate | null;
  /** What the return ought to be; null where only the folder is there, and its lists are held against its clips. */
  readonly against: {
    readonly list: Standing;
    readonly originals: readonly Original[];
    readonly asked: ReturnAsked;
  } | null;
}

export interface ReturnCheck {
  readonly lists: readonly string[];
  readonly clips: number;
  readonly problems: readonly ReturnProblem[];
}

/** Looks at the folder of a return, whoever wrote it: its lists are read, its clips scanned, and the ones held against the others. Files are only read. */
export function checkReturned({ folder, rate, against }: ReturnCheckPayload, report: Report, signal: StopSignal): ReturnCheck {
  const formats = LIST_FORMATS.filter((f) => f.hasTransitions);
  const files = readdirSync(folder)
    .sort()
    .flatMap((fileName) => {
      const format = formats.find((f) => f.extensions.includes(path.extname(fileName).slice(1).toLowerCase()));
      return format ? [{ fileName, format, bytes: readFileSync(path.join(folder, fileName)) }] : [];
    });
  if (files.length === 0) throw new MediaError(`${folder} holds no list that can be read. Is it the folder of a return?`);
  const { originals: scanned, problems: unread } = scan({ folders: [folder] }, report, signal);
  const problems: ReturnProblem[] = unread.map((p) => ({ fileName: path.relative(folder, p.path), message: p.message }));
  const stated = files.find((f) => f.format.statesRate);
  const counted = rate ?? (stated ? readDelivery([stated]).list.rate : (scanned[0]?.rate ?? null));
  const conform = against && compile(against.list, against.originals);
  const plan = against && conform && planReturn(against.list, conform, { ...against.asked, title: '' });
  const planned = new Map(plan?.clips.map((c) => [c.fileName, c]));
  const found = scanned.map((one) => asCarried(one, planned.get(one.fileName)));
  for (const { fileName, format, bytes } of files) {
    stopIfAsked(signal);
    const { list } = readDelivery([{ fileName, bytes }], counted ? { rate: counted } : {});
    const refused = list.tracks.length === 0 ? list.notices.find((n) => n.severity === 'unreadable') : undefined;
    if (refused) problems.push({ fileName, message: refused.message });
    else
      problems.push(
        ...(plan ? lookAsStranger(fileName, list, found, format.asLaid(plan.list), plan.clips) : lookAlone(fileName, list, found)),
      );
  }
  if (plan && against && conform) {
    const madeOf = clipMaker(conform, against.asked.codec);
    const byName = new Map(found.map((o) => [o.fileName, o]));
    const byPath = new Map(against.originals.map((o) => [o.path, o]));
    problems.push(...checkReturn(plan.clips, byName));
    for (const [i, clip] of plan.clips.entries()) {
      stopIfAsked(signal);
      report({ done: i, total: plan.clips.length, what: clip.fileName });
      const [written, original] = [byName.get(clip.fileName), byPath.get(clip.originalPath)];
      if (written && original) problems.push(...otherPictures(madeOf(clip, original), written));
    }
  }
  return { lists: files.map((f) => f.fileName), clips: found.length, problems };
}
