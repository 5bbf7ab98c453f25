/** Sound is fetched in pieces of so many seconds, counted from the first picture of its movie. */
export const PIECE_SECONDS = 4;

/** Points a second at which it is kept how loud a movie is. */
export const PEAKS_EACH = 100;

/** The loudest of the points between two moments, in seconds from the first picture, 0 to 255; 0 where there are none. */
export function loudest(peaks: Uint8Array, from: number, to: number): number {
  let most = 0;
  const end = Math.min(peaks.length, Math.max(Math.floor(from * PEAKS_EACH) + 1, Math.ceil(to * PEAKS_EACH)));
  for (let i = Math.max(0, Math.floor(from * PEAKS_EACH)); i < end; i++) most = Math.max(most, peaks[i] as number);
  return most;
}
