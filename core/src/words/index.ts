const RULES = new Intl.PluralRules('en');

/** A number with what it counts: `1 event`, `3 events`, `2 copies`. The plural is the word with an s where it is not given. */
export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${form(n, one, many)}`;

/** The form of a word that goes with a number: `is` or `are`, `its` or `their`. */
export const form = (n: number, one: string, many: string): string => (RULES.select(n) === 'one' ? one : many);

/** What a sentence is made with, by name. */
export type Fields<Name extends string> = Readonly<Record<Name, string | number>>;
