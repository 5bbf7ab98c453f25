/**
 * What names and reels go by when they are compared loosely. All of it is data: a form that turns up in the work is added
 * here, and nowhere else (common practice).
 */
export const NAME_FORMS = {
  /** Tails that proxies get and originals do not; `#` stands for any number of digits. */
  proxyTails: ['proxy', 'prx', 'offline', 'lores', 'low', 'lq', 'sub#', 'h264', 'preview'],
  /** What may stand between the parts of a name, and says nothing. */
  separators: ' _.-',
  /** How many letters or digits an extension has at most. */
  longestExtension: 5,
  /** What stands in a reel field where no reel is named (SMPTE ST 258 lineage). */
  noReel: ['', 'AX', 'UNKNOWN', 'NONE'],
  /** What people write before a scene and before a take. */
  sceneMarks: ['scene', 'sc'],
  takeMarks: ['take', 'tk', 't'],
  /** Classic lists cut a reel to this many characters (SMPTE ST 258). */
  shortReel: 8,
} as const;

const escaped = (text: string): string => text.replace(/[\\\]^-]/g, '\\$&');
const SEPARATOR = `[\\s${escaped(NAME_FORMS.separators)}]+`;
const SEPARATORS = new RegExp(SEPARATOR, 'g');
const PROXY_TAIL = new RegExp(`${SEPARATOR}(?:${NAME_FORMS.proxyTails.map((t) => t.replace('#', '\\d*')).join('|')})$`, 'i');
const EXTENSION = new RegExp(`\\.[a-z0-9]{1,${NAME_FORMS.longestExtension}}$`, 'i');
const NO_REEL: ReadonlySet<string> = new Set(NAME_FORMS.noReel);

/** A name without its file extension. A dot followed by more than five characters is kept. */
export const withoutExtension = (name: string): string => name.replace(EXTENSION, '');

/** A name without the tail of a proxy, its extension gone. */
export const withoutProxyTail = (name: string): string => withoutExtension(name.trim()).replace(PROXY_TAIL, '');

/** Names and reels with nothing that parts them, in lower case. */
export const joined = (text: string): string => text.replace(SEPARATORS, '').toLowerCase();

/** The name as compared loosely: no extension, no proxy's tail, no separators, lower case. */
export const looseName = (name: string): string => joined(withoutProxyTail(name));

/** A reel as compared loosely: no separators, lower case. */
export const looseReel = (reel: string): string => joined(reel);

/**
 * The card that a longer reel speaks of: `A012` of `A012_260413` and of `A012R1AB`, the letters and digits it begins with.
 * Null where a reel says no more than its card, or too little more for it to be another card's name (`A012B`).
 */
export function cardOf(reel: string): string | null {
  const [, card, more = ''] = /^([a-z]+\d+)(?!\d)(.*)$/i.exec(reel.trim()) ?? [];
  return card && joined(more).length >= SHORTEST_ADDITION ? card : null;
}

const SHORTEST_ADDITION = 3;

/** `AX`, `UNKNOWN` and an empty field name no reel (SMPTE ST 258 lineage, common practice). */
export const namesReel = (reel: string): boolean => !NO_REEL.has(reel.trim().toUpperCase());

/** True when a file name ends like a proxy's. */
export const looksLikeProxy = (name: string): boolean => PROXY_TAIL.test(withoutExtension(name));

/** The runs of letters and of digits a text is made of, in lower case: `A011C002` is `a`, `011`, `c`, `002`. */
export const runsOf = (text: string): readonly string[] => text.toLowerCase().match(/[a-z]+|\d+/g) ?? [];

/** True when two names are alike up to a number, and that number is another: `A001C003` and `A001C004_2604`. */
export function numberAnother(a: string, b: string): boolean {
  const [one, other] = [runsOf(a), runsOf(b)];
  const at = one.findIndex((run, i) => run !== other[i]);
  return at > 0 && at < other.length && isNumber(one[at] as string) && isNumber(other[at] as string);
}

const isNumber = (run: string): boolean => run.charCodeAt(0) < 58;

/**
 * True when two names are of one scheme and name two things, as `A011C002` and `A011C003_260412` do: where they first
 * differ both have letters, or both digits, and they are alike before it or alike in form throughout. `untitled_7` is of
 * another scheme than `A011C002`, and says nothing against it.
 */
export function nameAnother(a: string, b: string): boolean {
  const [one, other] = [runsOf(a), runsOf(b)];
  const shared = Math.min(one.length, other.length);
  let at = 0;
  while (at < shared && one[at] === other[at]) at++;
  if (at === shared) return false;
  if (isNumber(one[at] as string) !== isNumber(other[at] as string)) return false;
  if (at > 0) return true;
  return one.length === other.length && one.every((run, i) => isNumber(run) === isNumber(other[i] as string));
}
