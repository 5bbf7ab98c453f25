import { RATES, type Rate, rateOf } from '@gemello/core';
import type { TakeLook } from './scenes/brush';
import type { SceneName } from './scenes/scenes';

/**
 * *The Salt Year*: what was shot, how it was cut, and what went wrong on the way. Everything the
 * demo writes comes from here. `at` is the frame of the take, counted from 0, that truly stands
 * first in the reference; what the list says instead, where it is wrong, is under `listed`.
 */
export const RATE: Rate = RATES['23.976'];
export const RECORD_START = '01:00:00:00';
export const TITLE = 'SALT_YEAR_V04';

export interface Take {
  readonly clip: string;
  readonly reel: string;
  /** Folder below the demo's `media` folder. */
  readonly folder: string;
  readonly file: string;
  readonly scene: SceneName;
  readonly look: TakeLook;
  readonly start: string;
  readonly frames: number;
  readonly rate: Rate;
  readonly raster: readonly [number, number];
  readonly writer: 'intra-light' | 'intra-8bit' | 'intra-mpeg' | 'long-gop' | 'dpx' | 'png';
  /** Frames cut off at the end of the delivered file, against what the editor had. */
  readonly trimmed?: number;
  readonly proxy: boolean;
}

const FULL = [960, 540] as const;
const look = (seed: number, hour: number, driftX: number, driftY = 0, zoom = 1.16, push = 0.012): TakeLook => ({
  seed,
  hour,
  driftX,
  driftY,
  zoom,
  push,
});

type Camera = Pick<Take, 'writer' | 'raster' | 'rate' | 'proxy'> & { volume: string; extension: string; reelFolders: boolean };
const A: Camera = { volume: 'SALT_01', extension: 'mov', writer: 'intra-8bit', raster: FULL, rate: RATE, proxy: true, reelFolders: true };
const B: Camera = { volume: 'SALT_02', extension: 'mxf', writer: 'intra-mpeg', raster: FULL, rate: RATE, proxy: true, reelFolders: true };
const D: Camera = { volume: 'SALT_02', extension: 'mov', writer: 'long-gop', raster: FULL, rate: RATE, proxy: true, reelFolders: true };

function take(
  camera: Camera,
  clip: string,
  scene: SceneName,
  start: string,
  frames: number,
  takeLook: TakeLook,
  change: Partial<Take> = {},
): Take {
  const reel = clip.slice(0, 4);
  return {
    clip,
    reel,
    scene,
    start,
    frames,
    look: takeLook,
    folder: `${camera.volume}/${reel}`,
    file: `${clip}.${camera.extension}`,
    rate: camera.rate,
    raster: camera.raster,
    writer: camera.writer,
    proxy: camera.proxy,
    ...change,
  };
}

export const TAKES: readonly Take[] = [
  take(A, 'A011C001_260412', 'pans', '05:41:12:03', 196, look(11, 0.27, 0.16)),
  take(A, 'A011C002_260412', 'windpump', '06:02:40:11', 148, look(12, 0.33, -0.1, 0.06)),
  take(A, 'A011C003_260412', 'raking', '07:15:03:20', 250, look(13, 0.42, 0.14)),
  take(A, 'A011C004_260412', 'cart', '07:48:55:02', 150, look(14, 0.45, 0.1, 0.04)),
  take(A, 'A012C001_260413', 'salthouse', '09:20:18:16', 172, look(15, 0.5, 0.12, 0.05)),
  take(A, 'A012C002_260413', 'pans', '10:05:44:00', 150, look(16, 0.46, -0.2)),
  take(A, 'A012C003_260413', 'cart', '10:31:09:07', 138, look(17, 0.55, -0.12)),
  take(A, 'A012C004_260413', 'raking', '11:12:30:12', 142, look(18, 0.52, 0.2)),
  take(A, 'A012C005_260413', 'raking', '11:16:02:05', 142, look(19, 0.52, -0.16, 0.03)),
  take(A, 'A013C001_260414', 'salthouse', '22:23:10:00', 136, look(20, 0.7, -0.14, 0.04)),
  take(A, 'A013C002_260414', 'dyke', '18:40:21:18', 150, look(21, 0.73, 0.18)),
  take(A, 'A013C003_260414', 'windpump', '18:52:00:09', 138, look(22, 0.72, 0.12, -0.05), { file: 'untitled_export_7.mov' }),
  take(A, 'A013C004_260414', 'gulls', '19:03:47:21', 144, look(23, 0.68, 0.1, -0.06)),
  take(A, 'A013C004_260414', 'gulls', '19:03:47:21', 144, look(23, 0.68, 0.1, -0.06), {
    folder: 'SALT_01/exports',
    raster: [640, 360],
    proxy: false,
  }),
  take(A, 'A013C005_260414', 'pans', '19:30:15:06', 182, look(24, 0.76, 0.22)),
  take(A, 'A014C001_260415', 'dyke', '06:11:33:14', 142, look(25, 0.28, -0.16, 0.02), { folder: 'SALT_03/A014' }),
  take(B, 'B004C001_260412', 'sluice', '05:58:01:10', 136, look(31, 0.4, 0.08, 0.05)),
  take(B, 'B004C002_260412', 'gulls', '06:44:20:00', 132, look(32, 0.4, -0.14)),
  take(B, 'B004C003_260412', 'brine', '08:10:36:19', 132, look(33, 0.5, 0.1, 0.03)),
  take(B, 'B005C001_260413', 'windpump', '10:50:12:08', 124, look(34, 0.5, -0.14, 0.05)),
  take(B, 'B005C002_260413', 'brine', '11:40:05:13', 148, look(35, 0.55, -0.12, 0.05)),
  take(B, 'B005C003_260413', 'crystals', '12:02:59:22', 110, look(36, 0.5, 0.12)),
  take(B, 'B005C004_260413', 'stillWater', '04:50:10:00', 132, look(37, 0.22, 0, 0, 1.16, 0)),
  take(B, 'B005C005_260414', 'rain', '20:02:00:00', 132, look(38, 0.6, 0.1), { trimmed: 44 }),
  take(D, 'D002C001_260413', 'aerial', '13:20:44:04', 190, look(41, 0.5, 0, 0, 1.05, 0)),
  take(D, 'D002C002_260413', 'gulls', '13:42:18:15', 120, look(42, 0.47, 0.2, 0.05)),
  take(D, 'D002C003_260413', 'aerial', '13:55:02:02', 108, look(43, 0.5, 0, 0, 1.3, 0.03)),
  take(D, 'D003C001_260414', 'rain', '20:14:51:17', 160, look(44, 0.66, -0.16, 0.02)),
  take({ ...B, volume: 'SALT_02', proxy: true }, 'S001_crystals', 'crystals', '02:00:00:00', 84, look(51, 0.5, -0.16, 0.04), {
    reel: 'S001',
    folder: 'SALT_02/S001/S001_crystals',
    file: 'S001_crystals.%07d.dpx',
    writer: 'dpx',
    raster: [640, 360],
  }),
  take({ ...B, volume: 'ARCHIVE', rate: RATES['25'] }, 'H1931_harbour', 'harbour', '10:00:00:00', 150, look(61, 0.5, 0.1, 0, 1.1, 0.01), {
    reel: 'H193',
    folder: 'ARCHIVE',
    file: 'H1931_harbour.mov',
    writer: 'intra-light',
    rate: rateOf(25),
  }),
  take({ ...A, volume: 'ARCHIVE' }, 'works_plan', 'plan', '00:00:00:00', 1, look(71, 0.5, 0, 0, 1, 0), {
    reel: '',
    folder: 'ARCHIVE',
    file: 'works_plan.png',
    writer: 'png',
    raster: [1920, 1080],
    proxy: false,
  }),
];

/** What the list says where it differs from the truth. */
interface Listed {
  readonly clip?: string;
  /** Added to the true source in. */
  readonly shift?: number;
  /** The list counts this clip's source from zero and has lost its reel. */
  readonly fromZero?: boolean;
}

export interface CutEvent {
  readonly track: 'V' | 'V2';
  readonly number: string;
  /** Clip name of the take; null for black and titles. */
  readonly clip: string | null;
  readonly at: number;
  readonly length: number;
  /** For V2 events: frames from the start of the cut. V events follow one another. */
  readonly offset?: number;
  readonly speed?: number;
  readonly join?: { readonly code: 'D' | 'W001'; readonly frames: number; readonly fromBlack?: boolean };
  readonly title?: string;
  /** A size the reference has and the list lost. */
  readonly reframe?: { readonly scale: number; readonly x: number; readonly y: number };
  readonly cdl?: { readonly sop: string; readonly sat: string };
  readonly listed?: Listed;
}

const cut = (number: string, clip: string | null, at: number, length: number, more: Partial<CutEvent> = {}): CutEvent => ({
  track: 'V',
  number,
  clip,
  at,
  length,
  ...more,
});

export const CUT: readonly CutEvent[] = [
  cut('001', 'A011C001_260412', 40, 96, { join: { code: 'D', frames: 24, fromBlack: true } }),
  cut('002', 'A011C002_260412', 36, 70, {
    cdl: { sop: '(1.0800 1.0100 0.9400)(0.0100 0.0000 -0.0150)(1.0500 1.0000 0.9800)', sat: '1.1000' },
  }),
  cut('003', 'B004C001_260412', 30, 64),
  cut('004', 'A011C003_260412', 48, 84),
  cut('005', 'B004C002_260412', 32, 56, { join: { code: 'D', frames: 12 } }),
  cut('006', 'A011C004_260412', 40, 72),
  cut('007', 'S001_crystals', 14, 48),
  cut('008', 'A012C001_260413', 40, 90, { join: { code: 'D', frames: 24 } }),
  cut('009', 'B004C003_260412', 36, 60),
  cut('010', 'A011C003_260412', 160, 54),
  cut('011', 'D002C001_260413', 24, 66, { speed: 2 }),
  cut('012', 'A012C002_260413', 36, 72, { join: { code: 'W001', frames: 18 } }),
  cut('013', 'B005C001_260413', 84, 48, { speed: -1 }),
  cut('014', 'works_plan', 0, 60),
  cut('015', 'H1931_harbour', 34, 75),
  cut('016', 'A012C003_260413', 30, 66),
  cut('017', 'D002C002_260413', 40, 80, { speed: 0.5 }),
  cut('018', 'A012C005_260413', 36, 70, { listed: { clip: 'A012C004_260413' } }),
  cut('019', 'B005C002_260413', 38, 72, { listed: { shift: -3 } }),
  cut('020', 'A013C001_260414', 36, 64, { listed: { fromZero: true } }),
  cut('021', 'B005C003_260413', 52, 40, { speed: 0 }),
  cut('022', 'A013C002_260414', 36, 78, { reframe: { scale: 1.25, x: 0.06, y: -0.05 } }),
  cut('023', 'A014C001_260415', 36, 70),
  cut('024', 'B005C004_260413', 36, 60),
  cut('025', 'A013C003_260414', 36, 66),
  cut('026', 'A013C004_260414', 36, 72),
  cut('027', 'D003C001_260414', 30, 90, { join: { code: 'D', frames: 24 } }),
  cut('028', 'B005C005_260414', 34, 60),
  cut('029', 'A013C005_260414', 30, 110, { join: { code: 'D', frames: 12 } }),
  cut('030', null, 0, 24, { join: { code: 'D', frames: 24 } }),
  { track: 'V2', number: '031', clip: null, title: 'THE SALT YEAR', at: 0, length: 60, offset: 40 },
  { track: 'V2', number: '032', clip: 'D002C003_260413', at: 36, length: 36, offset: 530 },
];

/** The take a clip name stands for; the first where two files hold the same take. */
export function takeOf(clip: string): Take {
  const found = TAKES.find((t) => t.clip === clip);
  if (!found) throw new Error(`No take is called ${clip}`);
  return found;
}

/** Length of the whole cut in frames. */
export const CUT_LENGTH = CUT.filter((e) => e.track === 'V').reduce((sum, e) => sum + e.length, 0);

/** Where each event begins, in frames from the start of the cut. */
export function offsets(): Map<CutEvent, number> {
  const starts = new Map<CutEvent, number>();
  let at = 0;
  for (const event of CUT) {
    starts.set(event, event.offset ?? at);
    if (event.track === 'V') at += event.length;
  }
  return starts;
}
