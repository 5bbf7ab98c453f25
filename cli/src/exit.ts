/** Exit codes of every command. */
export const EXIT = { done: 0, open: 1, badInput: 2 } as const;

/** Input or usage that a person can correct; its message is the one line they see. */
export class UsageError extends Error {
  override readonly name = 'UsageError';
}
