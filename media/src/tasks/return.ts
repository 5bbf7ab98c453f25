import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import {
  checkReturn,
  compile,
  type EditList,
  LIST_FORMATS,
  lookAsStranger,
  pairsTable,
  planReturn,
  portableName,
  RETURN_WORDS,
  type ReturnClip,
  type ReturnPlan,
  type ReturnProblem,
  readDelivery,
  relinkedList,
  returnCsv,
  returnHtml,
  returnSheet,
  type Severity,
  type Shot,
  shotsByKey,
  withLinks,
  writeCdlFile,
  writeList,
} from '@gemello/core';
import { placeOf } from './clips';
import { writeWhole } from './record';
import { type ClipDone, folderOf, type ReturnPayload, renderShare } from './return-clips';
import { returnPdf } from './return-document';
import type { Report, StopSignal } from './task';

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

/**
 * Writes a return: clips, list, table of pairs, grades. Each file appears under its own name only
 * when it is complete. Asked again with the same plan, finished clips are not rendered again; one
 * that cannot be made is a problem, and the others are made. What was written is opened and
 * compared with the plan. The folder is never one that holds an original.
 */
export function writeReturn(payload: ReturnPayload, report: Report, signal: StopSignal): ReturnResult {
  const folder = folderOf(payload);
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
  const formats = LIST_FORMATS.filter((f) => f.hasTransitions && (payload.lists?.includes(f.name) ?? true));
  /** The list in every format that is asked for, so that the editor takes the one their system reads best. */
  const putList = (list: EditList) =>
    formats.map((format) => {
      const name = `${stem}.${format.extensions[0]}`;
      const { files, notices } = writeList(list, format, name);
      for (const { fileName, bytes } of files) put(fileName, bytes);
      for (const { severity, message } of notices) notCarried.push({ fileName: name, severity, message });
      return { name, planned: format.asLaid(list), files: files.map(({ fileName }) => fileName) };
    });
  if (!payload.render) {
    putList(relinkedList(payload.list, conform, payload.title));
    return { folder, clips: [], lists, notCarried, warnings: [], problems: [] };
  }

  const { asked } = payload;
  const plan = planReturn(payload.list, conform, { ...asked, title: payload.title });
  const shots = shotsByKey(conform);
  const done = payload.done ?? renderShare(payload, null, report, signal);
  const clips = plan.clips.flatMap((clip) => {
    const one = done.find((d) => d.fileName === clip.fileName && d.found !== null);
    return one ? [{ ...clip, path: placeOf(folder, clip), reused: one.reused }] : [];
  });
  const { links, linksIn } = asked;
  const written = putList(withLinks(plan.list, plan.clips, { beside: null, here: folder, elsewhere: linksIn }[links]));
  const grades = plan.clips.flatMap((c) => {
    const cdl = shots.get(c.event)?.cdl;
    return cdl ? [{ id: c.name, cdl }] : [];
  });
  for (const kind of grades.length > 0 ? (['ccc', 'cdl'] as const) : []) put(`${stem}.${kind}`, writeCdlFile(grades, kind));
  // One file a shot is how some systems take grades; beside the clips each would be taken for one that is still to be applied.
  if (grades.length > 0) mkdirSync(path.join(folder, `${stem}-cc`), { recursive: true });
  for (const grade of grades) writeWhole(path.join(folder, `${stem}-cc`, `${grade.id}.cc`), writeCdlFile([grade], 'cc'));
  const lostLuts = putLuts(plan, shots, path.join(folder, `${stem}-lut`));
  const found = new Map(done.flatMap((d) => (d.found ? [[d.fileName, d.found] as const] : [])));
  const problems = [...checkReturn(clips, found), ...inOrder(plan, done).flatMap((d) => d.problems), ...lostLuts];
  for (const { name, planned, files } of written) {
    const given = files.map((fileName) => ({ fileName, bytes: readFileSync(path.join(folder, fileName)) }));
    const { list: returned } = readDelivery(given, { rate: plan.list.rate });
    problems.push(...lookAsStranger(name, returned, [...found.values()], planned, clips));
  }
  const made = new Date().toISOString().slice(0, 16).replace('T', ' ');
  const { title, list: cut, decisions = [] } = payload;
  const of = { title, made: `${made} UTC`, cut, asked, plan, files: [...lists], problems, decisions };
  const sheet = returnSheet(of);
  put(`${stem}-report.html`, returnHtml(sheet));
  put(`${stem}-report.pdf`, returnPdf(sheet));
  put(`${stem}-report.csv`, returnCsv(of));
  return { folder, clips, lists, notCarried, warnings: plan.warnings, problems };
}

/** The LUT of each clip as a file under its name, as it came; those that are not there any more are told. */
function putLuts({ clips }: ReturnPlan, shots: ReadonlyMap<string, Shot>, folder: string): ReturnProblem[] {
  const problems: ReturnProblem[] = [];
  for (const { event, name } of clips) {
    const lut = shots.get(event)?.lut;
    if (!lut) continue;
    const fileName = `${name}.cube`;
    if (existsSync(lut.file)) {
      mkdirSync(folder, { recursive: true });
      writeWhole(path.join(folder, fileName), readFileSync(lut.file));
    } else problems.push({ fileName, message: RETURN_WORDS.lutNotHere({ file: lut.file }) });
  }
  return problems;
}

/** Shares were made at once: what is said of them follows the plan. */
const inOrder = ({ clips }: ReturnPlan, done: readonly ClipDone[]): readonly ClipDone[] =>
  clips.flatMap((clip) => done.find((d) => d.fileName === clip.fileName) ?? []);

const fileStem = (title: string) => portableName(title.trim() || 'return');
