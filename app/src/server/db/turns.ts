/** Does one thing after another, in the order in which they were asked for. What fails keeps nothing behind it from its turn. */
export type Line = <T>(work: () => Promise<T>) => Promise<T>;

export function oneByOne(): Line {
  let last: Promise<unknown> = Promise.resolve();
  return (work) => {
    const done = last.then(work, work);
    last = done.catch(() => {});
    return done;
  };
}
