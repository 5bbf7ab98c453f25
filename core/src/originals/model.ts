import type { Cdl, Raster } from '../edit';
import type { FrameRange, Frames, Rate } from '../time';

/** Something about an original that may spoil the work, in plain words with what to do. */
export interface Warning {
  readonly code: string;
  readonly message: string;
}

/**
 * What can be said of a clip by several sources; `proxy` names its proxy, `proxyOf` the clip it is
 * one of, `created` when it was recorded or written, `writtenBy` what wrote the file: a rewrapped one
 * was written by something else than its camera. `scene` and `take` are what its slate says.
 */
export type ClaimField = 'timecode' | 'rate' | 'reel' | 'clipName' | 'scene' | 'take' | 'proxy' | 'proxyOf' | 'created' | 'writtenBy';

/** A file of a take that goes over several, with how many frames it holds. */
export interface Piece {
  readonly path: string;
  readonly frames: Frames;
}

/** What one source says of a clip, as it says it. */
export interface Claim {
  readonly field: ClaimField;
  readonly value: string;
  /** Who says it, in plain words: `the timecode track`, `sidecar A001C003.xml`. */
  readonly origin: string;
  /** True when this is what the clip is taken to be. */
  readonly taken: boolean;
}

/** A checksum that a manifest gives for one of a clip's files. */
export interface StatedChecksum {
  /** The file's name. */
  readonly file: string;
  readonly algorithm: string;
  readonly value: string;
  readonly manifest: string;
}

/** A checksum that was measured here over a whole file, by its name. */
export interface MeasuredChecksum {
  readonly file: string;
  readonly algorithm: string;
  readonly value: string;
}

/** A grade that a file beside the clip holds: ASC CDL numbers, or a look-up table, or why it cannot be read. */
export type StatedGrade =
  | { readonly kind: 'cdl'; readonly file: string; readonly id: string; readonly cdl: Cdl }
  | { readonly kind: 'lut'; readonly file: string; readonly title: string; readonly dimensions: 1 | 3; readonly size: number }
  | { readonly kind: 'unreadable'; readonly file: string; readonly why: string };

/**
 * One camera-original clip: a movie file, a folder of numbered frames, or a still.
 * `start` counts from 00:00:00:00 at the clip's own `rate` and is 0 when `hasTimecode` is false.
 */
export interface Original {
  /** Absolute path; for numbered frames the path of the first one. It is the original's identity. */
  readonly path: string;
  readonly kind: 'movie' | 'frames' | 'still' | 'sound';
  readonly reel: string;
  readonly clipName: string;
  readonly fileName: string;
  readonly start: Frames;
  readonly hasTimecode: boolean;
  /** True number of pictures, counted and not estimated; a still has 1. Of numbered frames from the first to the last, `gaps` included. */
  readonly frames: Frames;
  readonly rate: Rate;
  /** The rate that the file itself runs at: its frames are found by it, whatever `rate` a person sets. */
  readonly clock: Rate;
  readonly raster: Raster;
  /** Width of a pixel over its height; null where the file does not say it. */
  readonly pixelAspect: number | null;
  readonly codec: string;
  readonly sound: { readonly channels: number; readonly sampleRate: number } | null;
  /** For numbered frames: every file in order, as names beside `path`; empty otherwise. */
  readonly files: readonly string[];
  /** For numbered frames: the frames between first and last that are missing, counted from 0; empty otherwise. */
  readonly gaps: readonly FrameRange[];
  /** For a take that goes over several files: each of them in order, the first included; empty otherwise. */
  readonly pieces: readonly Piece[];
  /** Files beside it that belong to it, as names. */
  readonly sidecars: readonly string[];
  readonly claims: readonly Claim[];
  readonly checksums: readonly StatedChecksum[];
  /** Measured on demand; empty until then. */
  readonly measured: readonly MeasuredChecksum[];
  readonly grades: readonly StatedGrade[];
  readonly bytes: number;
  /**
   * A quick fingerprint of the content: size, head and tail of its first and last file. Equal prints are the
   * same file, as good as surely. Empty until it is of use: made for clips that share their name.
   */
  readonly print: string;
  /** Changes when any of its files or sidecars does: sizes, times and inodes. `fileMark` gives the part of its own files. */
  readonly stamp: string;
  readonly warnings: readonly Warning[];
}
