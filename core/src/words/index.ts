const RULES = new Intl.PluralRules('en');

/** A number with what it counts: `1 event`, `3 events`, `2 copies`. The plural is the word with an s where it is not given. */
export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${form(n, one, many)}`;

/** The form of a word that goes with a number: `is` or `are`, `its` or `their`. */
export const form = (n: number, one: string, many: string): string => (RULES.select(n) === 'one' ? one : many);

/** A number with its sign, a plus where it is above zero: how far something lies aside. */
export const signed = (n: number): string => `${n > 0 ? '+' : ''}${n}`;

/** A number of bytes in words, in the thousands of the SI, as disks are sold: `1 kB` (the least), `3.4 MB`, `128 MB`, `12.0 GB`. */
export function sizeText(bytes: number): string {
  if (bytes >= 999.5e6) return `${(bytes / 1e9).toFixed(1)} GB`;
  if (bytes >= 999.5e3) return `${(bytes / 1e6).toFixed(bytes < 9.95e6 ? 1 : 0)} MB`;
  return `${Math.max(1, Math.round(bytes / 1e3))} kB`;
}

/** What a sentence is made with, by name. */
export type Fields<Name extends string> = Readonly<Record<Name, string | number>>;

/** A sentence with what it is made of: its fields, for whoever words it otherwise or reckons with them. */
export interface Sentence {
  readonly message: string;
  readonly fields: Readonly<Record<string, unknown>>;
}

type Sentences = Readonly<Record<string, (fields: never) => string>>;
type Saying<F> = F extends (fields: infer Given) => string ? (unknown extends Given ? () => Sentence : (fields: Given) => Sentence) : never;

/** The sentences of a room, each of which gives its fields along. */
export function wording<T extends Sentences>(sentences: T): { readonly [K in keyof T]: Saying<T[K]> } {
  const said = Object.entries(sentences).map(([name, sentence]) => [
    name,
    (fields: Readonly<Record<string, unknown>> = {}): Sentence => ({ message: sentence(fields as never), fields }),
  ]);
  return Object.fromEntries(said);
}
