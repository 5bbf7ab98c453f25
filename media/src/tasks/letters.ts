import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

/** The font of documents comes in files by script (IBM Plex Sans): a text is written in runs, each with the file that has its letters. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'cyrillic', 'cyrillic-ext', 'vietnamese'] as const;
type Script = (typeof SCRIPTS)[number];
export type Weight = 'text' | 'strong';

const require = createRequire(import.meta.url);
const WEIGHT = { text: 400, strong: 600 } as const;

export const fontFile = (script: Script, weight: Weight): string =>
  require.resolve(`@fontsource/ibm-plex-sans/files/ibm-plex-sans-${script}-${WEIGHT[weight]}-normal.woff`);

export function registerFonts(document: PDFKit.PDFDocument): void {
  for (const script of SCRIPTS)
    for (const weight of ['text', 'strong'] as const) document.registerFont(`${weight} ${script}`, fontFile(script, weight));
}

/** Code points that each file has, as its package states them: `U+0100-02BA,U+02BD`. */
const ranges: Readonly<Record<Script, readonly (readonly [number, number])[]>> = (() => {
  const stated = JSON.parse(readFileSync(require.resolve('@fontsource/ibm-plex-sans/unicode.json'), 'utf8')) as Record<Script, string>;
  const read = (text: string) =>
    text.split(',').map((part) => {
      const [from = '', to = from] = part.trim().replace('U+', '').split('-');
      return [Number.parseInt(from, 16), Number.parseInt(to, 16)] as const;
    });
  return Object.fromEntries(SCRIPTS.map((script) => [script, read(stated[script])])) as never;
})();

const scriptOf = (letter: string): Script | null => {
  const code = letter.codePointAt(0) ?? 0;
  return SCRIPTS.find((script) => ranges[script].some(([from, to]) => code >= from && code <= to)) ?? null;
};

/** A text in runs of one script. A letter that no file has is shown by a sign that says so. */
export function runsOf(text: string): { readonly script: Script; readonly text: string }[] {
  const runs: { script: Script; text: string }[] = [];
  for (const letter of text) {
    const script = scriptOf(letter);
    const last = runs.at(-1);
    // A space belongs to whatever it follows.
    if (last && (script === last.script || letter === ' ')) last.text += letter;
    else runs.push({ script: script ?? 'latin', text: script ? letter : '\u00bf' });
  }
  return runs;
}

/** Writes a text where the document stands. */
export function write(document: PDFKit.PDFDocument, weight: Weight, text: string, options: PDFKit.Mixins.TextOptions = {}): void {
  const runs = runsOf(text);
  runs.forEach((run, i) => {
    document.font(`${weight} ${run.script}`).text(run.text, { ...options, continued: i < runs.length - 1 || options.continued === true });
  });
}
