import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';
import path from 'node:path';

// Long work gives way to what a person waits for, from before it is loaded. Linux has a priority for each thread, by its number; elsewhere all
// have the same.
if (process.env.GEMELLO_NICE) makeNice(Number(process.env.GEMELLO_NICE));

function makeNice(by: number): void {
  try {
    setPriority(Number(path.basename(readlinkSync('/proc/thread-self'))), by);
  } catch {
    // The work is done all the same.
  }
}

/** Entry point of a thread that works. */
const { work } = await import('./worker');
export default work;
