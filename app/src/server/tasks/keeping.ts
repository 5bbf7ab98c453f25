/**
 * Keeps parts of work while it goes on: they come when they like, and are kept in their order, those that came meanwhile
 * all at once. `kept` resolves when all are, or rejects with why one is not.
 */
export function keepInOrder<T>(keep: (parts: readonly T[]) => Promise<void>): { take(parts: readonly T[]): void; kept(): Promise<void> } {
  let pending: T[] = [];
  let keeping: Promise<void> = Promise.resolve();
  return {
    take(parts) {
      const first = pending.length === 0;
      pending.push(...parts);
      if (!first) return;
      keeping = keeping.then(() => {
        const now = pending;
        pending = [];
        return keep(now);
      });
      // A fault is heard when the work ends; until then nobody waits for it.
      keeping.catch(() => {});
    },
    kept: () => keeping,
  };
}
