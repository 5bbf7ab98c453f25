import type { FrameRange, Rate } from '../time';

/** Where guide sound lies under a cut. */
export interface GuideLies {
  /** When its first sample is heard, in seconds of the record count from 00:00:00:00. */
  readonly at: number;
  /** What says so: its own timecode, or that it begins with the reference or the cut. */
  readonly by: 'timecode' | 'reference' | 'cut';
}

/**
 * Lays guide sound that came as a file of its own: by its timecode where some of it then falls on the cut, otherwise with the first
 * picture of the reference, or of the cut where there is none (common practice). `beginsAt`, `length`: seconds; `reference`: the
 * record frame of the reference's first picture. A record frame n is heard n frames after 00:00:00:00, each as long as `rate` says.
 */
export function layGuide(
  { beginsAt, length }: { readonly beginsAt: number | null; readonly length: number },
  { rate, span }: { readonly rate: Rate; readonly span: FrameRange },
  reference: number | null,
): GuideLies {
  const seconds = (frame: number) => (frame * rate.den) / rate.num;
  if (beginsAt !== null && beginsAt < seconds(span.out) && beginsAt + length > seconds(span.in)) return { at: beginsAt, by: 'timecode' };
  return reference === null ? { at: seconds(span.in), by: 'cut' } : { at: seconds(reference), by: 'reference' };
}
