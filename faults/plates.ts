import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';

/** A grey picture, one byte a pixel, rows from the top. */
export interface Plate {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

export const newPlate = (width: number, height: number, value = 0): Plate => ({
  width,
  height,
  data: new Uint8Array(width * height).fill(value),
});

/** The value at a point in pixels, between pixels linear; outside the edge's. */
export function valueAt({ width, height, data }: Plate, x: number, y: number): number {
  const cx = Math.min(width - 1.001, Math.max(0, x));
  const cy = Math.min(height - 1.001, Math.max(0, y));
  const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
  const [fx, fy] = [cx - x0, cy - y0];
  const at = y0 * width + x0;
  const top = (data[at] as number) * (1 - fx) + (data[at + 1] as number) * fx;
  const bottom = (data[at + width] as number) * (1 - fx) + (data[at + width + 1] as number) * fx;
  return top * (1 - fy) + bottom * fy;
}

/** The frames that the ffmpeg program decodes from a file, as grey plates of one size, the picture filling it. */
export function readPlates(file: string, width: number, height: number, filter = ''): Plate[] {
  const fill = `scale=${width}:${height}:force_original_aspect_ratio=increase:flags=area,crop=${width}:${height}`;
  const bytes = execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      file,
      '-vf',
      [filter, fill].filter(Boolean).join(','),
      '-fps_mode',
      'passthrough',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      '-',
    ],
    { maxBuffer: 2 ** 31 - 1 },
  );
  const size = width * height;
  return Array.from({ length: Math.floor(bytes.length / size) }, (_, i) => ({
    width,
    height,
    data: bytes.subarray(i * size, (i + 1) * size),
  }));
}

/** Writes plates as a movie of 24 frames a second with the ffmpeg program. */
export async function writePlates(file: string, plates: Iterable<Plate>, how: readonly string[], timecode: string | null): Promise<void> {
  let program: ReturnType<typeof spawn> | null = null;
  for (const plate of plates) {
    program ??= spawn(
      'ffmpeg',
      [
        ...['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${plate.width}x${plate.height}`, '-r', '24', '-i', '-'],
        ...(timecode ? ['-timecode', timecode] : []),
        ...how,
        file,
      ],
      { stdio: ['pipe', 'ignore', 'inherit'] },
    );
    if (!program.stdin?.write(plate.data)) await once(program.stdin as NonNullable<typeof program.stdin>, 'drain');
  }
  if (!program) throw new Error('a movie needs pictures');
  program.stdin?.end();
  const [code] = await once(program, 'close');
  if (code !== 0) throw new Error(`ffmpeg could not write ${file}`);
}

/** Numbers from 0 up to 1 that follow from a seed. */
export function numbersFrom(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), a | 1);
    t = (t + Math.imul(t ^ (t >>> 7), t | 61)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
