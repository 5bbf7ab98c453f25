/** What stands in fields once what was sent of them has been taken: those that were typed in meanwhile stay as they are typed. */
export const typedSince =
  <T extends object>(sent: T) =>
  (now: T): T =>
    Object.fromEntries(Object.entries(now).filter(([field, typed]) => (sent as Record<string, unknown>)[field] !== typed)) as T;

/** The same of one field of text, which is emptied. */
export const emptiedOf = (sent: string) => (now: string) => (now === sent ? '' : now);
