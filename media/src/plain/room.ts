import { MediaError } from './faults';

const GIGA = 1e9;
const inGigabytes = (bytes: number): string => `${(bytes / GIGA).toFixed(bytes < GIGA ? 2 : 1)} GB`;

/**
 * Looked at before long work is begun: throws a MediaError that names both figures where a disk has less room than the work is reckoned to
 * take. `work` as the sentence begins, `instead` what else would help; sizes in bytes.
 */
export function mustHaveRoom(work: string, needed: number, room: number, instead: string): void {
  if (needed <= room) return;
  throw new MediaError(
    `${work} will take about ${inGigabytes(needed)}, and the disk has ${inGigabytes(room)} left. Make room on it, or ${instead}.`,
  );
}
