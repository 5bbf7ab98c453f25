import { mkdirSync, readdirSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { type Cdl, formatTimecode, gradePixels, type Original, withoutExtension, writeCdlFile } from '@gemello/core';
import { probeMovie } from '@gemello/media';
import { makeScaler, openMovieWriter, openPictures } from '@gemello/media/engine';
import { AV_PIX_FMT_RGB48LE, SWS_ACCURATE_RND, SWS_BICUBIC } from 'node-av/constants';

/** Two looks of the room, by turns: a warm one, and a cool one with less colour. */
const LOOKS: readonly Cdl[] = [
  { slope: [1.12, 1.03, 0.92], offset: [0.01, 0, -0.01], power: [0.95, 1, 1.04], saturation: 1.1 },
  { slope: [0.94, 1.0, 1.08], offset: [-0.01, 0, 0.015], power: [1.05, 1, 0.97], saturation: 0.85 },
];

const even = (n: number): number => n - (n % 2);

/**
 * Stands in for an outside grading room: each movie of a folder comes back graded, under a name with a version, with its timecode and reel, and
 * the grades beside as `.ccc`. The folder it is given is only read. Gives the names that were written.
 */
export function gradeAll(from: string, to: string, version: number): string[] {
  mkdirSync(to, { recursive: true });
  const movies = readdirSync(from)
    .filter((name) => /\.(mov|mxf)$/i.test(name))
    .sort();
  const graded = movies.map((name, i) => {
    const stem = `${withoutExtension(name)}_v${String(version).padStart(2, '0')}`;
    const cdl = LOOKS[(i + version) % LOOKS.length] as Cdl;
    grade(probeMovie(path.join(from, name)), cdl, path.join(to, `${stem}.mov`));
    return { id: stem, cdl };
  });
  writeFileSync(path.join(to, `room_v${String(version).padStart(2, '0')}.ccc`), writeCdlFile(graded, 'ccc'));
  return graded.map((g) => `${g.id}.mov`);
}

function grade(clip: Original, cdl: Cdl, target: string): void {
  const partial = `${withoutExtension(target)}.part.mov`;
  const raster = { width: even(clip.raster.width), height: even(clip.raster.height) };
  const reader = openPictures(clip, 2);
  const toRgb = makeScaler(raster.width, raster.height, AV_PIX_FMT_RGB48LE, 'full', SWS_BICUBIC | SWS_ACCURATE_RND);
  const writer = openMovieWriter(partial, {
    writer: 'intra',
    raster,
    rate: clip.rate,
    timecode: clip.hasTimecode ? formatTimecode(clip.start, clip.rate) : null,
    reel: clip.reel || null,
    threads: 2,
  });
  const through = gradePixels(cdl, 65_536);
  try {
    reader.read(0, clip.frames, (frame) => {
      const pixels = new Uint8Array(toRgb.convert(frame).toBuffer());
      through(new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.byteLength / 2), 3);
      writer.writePixels(pixels, AV_PIX_FMT_RGB48LE);
      return undefined;
    });
  } finally {
    toRgb.free();
    reader.close();
    writer.close();
  }
  renameSync(partial, target);
}
