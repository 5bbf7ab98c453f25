import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { greyFrames } from '@gemello/demo/grey';
import { newPlate, numbersFrom, type Plate, readPlates, valueAt } from './plates';

/** Size of everything that plays an original. */
export const RASTER = { width: 480, height: 270 } as const;

/** A clip of real pictures, and which source it came from: what is calibrated on one is never reported on. */
export interface Take {
  readonly name: string;
  readonly source: string;
  readonly kind: 'movie' | 'filmed' | 'drawn';
  readonly plates: readonly Plate[];
}

/** Sources whose pictures lines are drawn by, and others that figures are reported of: parted by movie and photograph. */
export const GROUPS = ['calibrate', 'report', 'all'] as const;
export type Group = (typeof GROUPS)[number];

/** Whether a group has the source of a number. */
type Wanted = (number: number) => boolean;

/** All clips of a group; `folder` keeps what is filmed. Only they are made. */
export function takesOf(group: Group, movies: string, photographs: string, folder: string): Take[] {
  const where =
    (calibrates: Wanted): Wanted =>
    (number) =>
      group === 'all' || calibrates(number) === (group === 'calibrate');
  // Of the movies the first calibrates, the last reports; every second photograph and drawing does either.
  const [first, second] = [where((n) => n === 0), where((n) => n % 2 === 0)];
  return [...moviesIn(movies, first), ...filmed(photographs, folder, second), ...drawn(folder, second)];
}

/** Frames of a movie that make one clip. */
const CLIP = 150;

/** The example movies of Debian's opencv-doc, cut into clips. */
function moviesIn(folder: string, wanted: Wanted): Take[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((f) => /\.avi$/.test(f) && !/bugy/.test(f))
    .sort()
    .flatMap((file, s) => {
      if (!wanted(s)) return [];
      const plates = readPlates(path.join(folder, file), RASTER.width, RASTER.height);
      // A movie shorter than that leaves no room for slips.
      const clips = Math.floor(plates.length / CLIP);
      return Array.from(
        { length: clips },
        (_, i): Take => ({
          name: `M${s}C${String(i + 1).padStart(3, '0')}`,
          source: `movie ${s}`,
          kind: 'movie',
          plates: plates.slice(i * CLIP, (i + 1) * CLIP),
        }),
      );
    });
}

/** The photographs of scikit-image that are photographs of something, filmed by a camera that is not there. */
const PHOTOGRAPHS = [
  'astronaut',
  'camera',
  'chelsea',
  'coffee',
  'rocket',
  'motorcycle_left',
  'brick',
  'gravel',
  'grass',
  'moon',
  'coins',
  'hubble_deep_field',
];

const MOVES = ['pan', 'shake', 'focus', 'crowd', 'fog', 'dark', 'repeat'] as const;

/** Photographs below a folder, each filmed in one way, by turns. */
function filmed(folder: string, cache: string, wanted: Wanted): Take[] {
  if (!existsSync(folder)) return [];
  const found = PHOTOGRAPHS.flatMap((name) => {
    const file = ['png', 'jpg'].map((e) => path.join(folder, `${name}.${e}`)).find(existsSync);
    return file ? [{ name, photo: readPlates(file, 960, 540)[0] as Plate }] : [];
  });
  return found.flatMap(({ photo }, i): Take[] => {
    if (!wanted(i)) return [];
    const other = (found[(i + 5) % found.length] as { photo: Plate }).photo;
    const make = () => film(photo, other, MOVES[i % MOVES.length] as (typeof MOVES)[number], i);
    const plates = kept(path.join(cache, `P${i}.grey`), make);
    return [{ name: `P${String(i).padStart(2, '0')}C001`, source: `photograph ${i}`, kind: 'filmed', plates }];
  });
}

/** Takes of the demo whose scenes are drawn by code, so that it is seen what drawn pictures make easier, or harder, than real ones. */
const DRAWINGS = [
  'A011C001_260412',
  'A011C002_260412',
  'A011C003_260412',
  'A011C004_260412',
  'B004C002_260412',
  'B004C003_260412',
  'A013C002_260414',
  'B005C005_260414',
];

const drawn = (cache: string, wanted: Wanted): Take[] =>
  DRAWINGS.flatMap((clip, i): Take[] => {
    if (!wanted(i)) return [];
    const make = () => greyFrames(clip, RASTER.width, RASTER.height, CLIP).map((data) => ({ ...RASTER, data }));
    return [
      {
        name: `D${String(i).padStart(2, '0')}C001`,
        source: `drawing ${i}`,
        kind: 'drawn',
        plates: kept(path.join(cache, `D${i}.grey`), make),
      },
    ];
  });

/** Plates that are drawn once and kept. */
function kept(file: string, make: () => Plate[]): Plate[] {
  const { width, height } = RASTER;
  const size = width * height;
  if (existsSync(file)) {
    const bytes = readFileSync(file);
    return Array.from({ length: Math.floor(bytes.length / size) }, (_, i) => ({
      width,
      height,
      data: bytes.subarray(i * size, (i + 1) * size),
    }));
  }
  const plates = make();
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, Buffer.concat(plates.map((p) => p.data)));
  return plates;
}

/** A camera over a photograph: `other` lends the pieces that move before it. */
function film(photo: Plate, other: Plate, move: (typeof MOVES)[number], seed: number): Plate[] {
  const random = numbersFrom(seed * 7919 + 1);
  const [speedX, speedY, turn, zoom] = [random() * 2.4 - 1.2, random() * 0.8 - 0.4, random() * 0.02 - 0.01, 1 + random() * 0.3];
  const still = move === 'crowd' || move === 'fog';
  const movers = Array.from({ length: move === 'crowd' ? 14 : 0 }, () => ({
    x: random() * RASTER.width,
    y: 60 + random() * 180,
    dx: random() * 3 - 1.5,
    dy: random() * 0.6 - 0.3,
    u: random() * 900,
    v: random() * 480,
    w: 8 + random() * 14,
    h: 16 + random() * 22,
  }));
  let [shakeX, shakeY] = [0, 0];
  return Array.from({ length: CLIP }, (_, n) => {
    shakeX = shakeX * 0.9 + (random() - 0.5) * (move === 'shake' ? 6 : 0.6) * (still ? 0 : 1);
    shakeY = shakeY * 0.9 + (random() - 0.5) * (move === 'shake' ? 4 : 0.4) * (still ? 0 : 1);
    const t = move === 'repeat' ? Math.sin((n * 2 * Math.PI) / 24) * 12 : still ? 0 : n - CLIP / 2;
    const plate = newPlate(RASTER.width, RASTER.height);
    const scale = (photo.width / RASTER.width / 1.5) * zoom;
    const angle = still ? 0 : turn * Math.sin(n / 30);
    const blur = move === 'focus' ? Math.abs(Math.sin(n / 25)) * 3 : 0;
    const [cos, sin] = [Math.cos(angle) * scale, Math.sin(angle) * scale];
    const [cx, cy] = [photo.width / 2 + speedX * t * scale + shakeX, photo.height / 2 + speedY * t * scale + shakeY];
    for (let y = 0, at = 0; y < RASTER.height; y++)
      for (let x = 0; x < RASTER.width; x++, at++) {
        const [u, v] = [x - RASTER.width / 2, y - RASTER.height / 2];
        const [px, py] = [cx + u * cos - v * sin, cy + u * sin + v * cos];
        let value = valueAt(photo, px, py);
        if (blur > 0.3)
          value =
            (value +
              valueAt(photo, px + blur, py) +
              valueAt(photo, px - blur, py) +
              valueAt(photo, px, py + blur) +
              valueAt(photo, px, py - blur)) /
            5;
        plate.data[at] = value;
      }
    for (const m of movers) {
      const [left, top] = [m.x + m.dx * n, m.y + m.dy * n + Math.sin(n / 5 + m.u) * 1.5];
      for (let y = 0; y < m.h; y++)
        for (let x = 0; x < m.w; x++) {
          const [px, py] = [Math.round(((left + x) % RASTER.width) + RASTER.width) % RASTER.width, Math.round(top + y)];
          if (py >= 0 && py < RASTER.height) plate.data[py * RASTER.width + px] = valueAt(other, m.u + x * 2, m.v + y * 2);
        }
    }
    if (move === 'fog')
      for (let at = 0; at < plate.data.length; at++)
        plate.data[at] = 150 + ((plate.data[at] as number) - 128) * 0.12 + 6 * Math.sin(at / 900 + n / 9);
    if (move === 'dark') for (let at = 0; at < plate.data.length; at++) plate.data[at] = 6 + (plate.data[at] as number) * 0.14;
    return plate;
  });
}
