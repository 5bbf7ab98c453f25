/** Tails that light copies get and originals do not: `_proxy`, `_offline`, `-lores` (common practice). */
const LIGHT_COPY = /[ _.-]+(proxy|prx|offline|lores|low|lq|sub\d*|h264|preview)$/i;
const EXTENSION = /\.[a-z0-9]{1,5}$/i;

/** A name without its file extension. A dot followed by more than five characters is kept. */
export const withoutExtension = (name: string): string => name.replace(EXTENSION, '');

/** The name as compared loosely: no extension, no light-copy tail, no separators, lower case. */
export function looseName(name: string): string {
  return withoutExtension(name.trim())
    .replace(LIGHT_COPY, '')
    .replace(/[\s_.-]+/g, '')
    .toLowerCase();
}

/** A reel as compared loosely: no separators, lower case. */
export const looseReel = (reel: string): string => reel.replace(/[\s_.-]+/g, '').toLowerCase();

/** `AX`, `UNKNOWN` and an empty field name no reel (SMPTE ST 258 lineage, common practice). */
export const namesReel = (reel: string): boolean => !/^(|AX|UNKNOWN|NONE)$/i.test(reel.trim());

/** True when a file name ends like a light copy's. */
export const looksLikeProxy = (name: string): boolean => LIGHT_COPY.test(withoutExtension(name));

const NUMBERED = /^(.*?)(\d{3,10})(\.[a-z0-9]+)$/i;

/** Files of one numbered run, in order, with the numbers that are missing between first and last. */
export interface NumberedRun {
  readonly stem: string;
  readonly extension: string;
  readonly first: number;
  readonly files: readonly string[];
  readonly gaps: readonly number[];
}

/** Groups the picture files of one folder into numbered runs; a run has at least two files. */
export function groupNumbered(fileNames: readonly string[]): { runs: NumberedRun[]; singles: string[] } {
  const groups = new Map<string, { name: string; number: number }[]>();
  const singles: string[] = [];
  for (const name of fileNames) {
    const match = NUMBERED.exec(name);
    if (!match) {
      singles.push(name);
      continue;
    }
    const key = `${match[1]}\u0000${match[3]?.toLowerCase()}`;
    const group = groups.get(key) ?? [];
    group.push({ name, number: Number(match[2]) });
    groups.set(key, group);
  }
  const runs: NumberedRun[] = [];
  for (const [key, group] of groups) {
    if (group.length < 2) {
      singles.push(...group.map((g) => g.name));
      continue;
    }
    group.sort((a, b) => a.number - b.number);
    const [stem = '', extension = ''] = key.split('\u0000');
    runs.push({ stem, extension, first: group[0]?.number ?? 0, files: group.map((g) => g.name), gaps: gapsIn(group.map((g) => g.number)) });
  }
  return { runs, singles };
}

function gapsIn(numbers: readonly number[]): number[] {
  const gaps: number[] = [];
  numbers.forEach((n, i) => {
    const before = numbers[i - 1];
    if (before !== undefined) for (let missing = before + 1; missing < n && gaps.length < 10000; missing++) gaps.push(missing);
  });
  return gaps;
}
