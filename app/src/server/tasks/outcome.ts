/** What a task came to: one line for people, and data for later. */
export interface Outcome {
  readonly message: string;
  readonly result: unknown;
}

export const plural = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;
