import type { Raster } from '../edit';
import type { Frames, Rate } from '../time';

/** Something about an original that may spoil the work, in plain words with what to do. */
export interface Warning {
  readonly code: string;
  readonly message: string;
}

/**
 * One camera-original clip: a movie file, a folder of numbered frames, or a still.
 * `start` counts from 00:00:00:00 at the clip's own `rate` and is 0 when `hasTimecode` is false.
 */
export interface Original {
  /** Absolute path; for numbered frames the path of the first one. It is the original's identity. */
  readonly path: string;
  readonly kind: 'movie' | 'frames' | 'still';
  readonly reel: string;
  readonly clipName: string;
  readonly fileName: string;
  readonly start: Frames;
  readonly hasTimecode: boolean;
  /** True number of pictures, counted and not estimated; a still has 1. */
  readonly frames: Frames;
  readonly rate: Rate;
  readonly raster: Raster;
  /** Width of a pixel over its height; null where the file does not say it. */
  readonly pixelAspect: number | null;
  readonly codec: string;
  readonly sound: { readonly channels: number; readonly sampleRate: number } | null;
  /** For numbered frames: every file in order, as names beside `path`; empty otherwise. */
  readonly files: readonly string[];
  readonly sidecars: readonly string[];
  readonly bytes: number;
  readonly warnings: readonly Warning[];
}
