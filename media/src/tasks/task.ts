/** How far a task is. `done` and `total` count the same things; `total` 0 means not known yet. */
export interface Progress {
  readonly done: number;
  readonly total: number;
  readonly what: string;
}
export type Report = (progress: Progress) => void;

/**
 * A report for the steps of a task, and one for what is done within a step, such as reading a file: that says what it is doing
 * and leaves the count to the steps, which count other things.
 */
export function inSteps(report: Report): { readonly step: Report; readonly within: Report } {
  let last: Progress = { done: 0, total: 0, what: '' };
  return {
    step(progress) {
      last = progress;
      report(progress);
    },
    within: ({ what }) => report({ ...last, what }),
  };
}

/** Read by handlers between steps; once true they stop and throw `Stopped`. */
export interface StopSignal {
  readonly aborted: boolean;
}

/** Thrown by a handler that was asked to stop. */
export class Stopped extends Error {
  override readonly name = 'Stopped';
}

/** Throws `Stopped` when the task was asked to stop. */
export function stopIfAsked(signal: StopSignal): void {
  if (signal.aborted) throw new Stopped('Stopped');
}

/** A file that a task could not read or write, and why, in words for the person; the rest was done. */
export interface FileFault {
  readonly path: string;
  readonly message: string;
}
