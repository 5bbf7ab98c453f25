import type { ChecksumEvidence } from './checksum';
import type { FolderEvidence, LengthEvidence, RasterEvidence, RateEvidence } from './media';
import type { NameEvidence } from './name';
import type { PictureEvidence } from './picture';
import type { ReelEvidence } from './reel';
import type { SlateEvidence } from './slate';
import type { TimecodeEvidence } from './timecode';

/** What speaks for or against a candidate, one criterion each, as data; `evidenceText` says it in words. */
export type Evidence =
  | ReelEvidence
  | NameEvidence
  | SlateEvidence
  | TimecodeEvidence
  | PictureEvidence
  | LengthEvidence
  | RateEvidence
  | RasterEvidence
  | FolderEvidence
  | ChecksumEvidence;

export * from './checksum';
export * from './grade';
export * from './media';
export * from './name';
export * from './picture';
export * from './reel';
export * from './slate';
export * from './timecode';
