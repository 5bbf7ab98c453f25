import { RATES } from '@gemello/core';
import { AV_PIX_FMT_RGB24, SWS_BICUBIC } from 'node-av/constants';
import { afterAll, expect, it } from 'vitest';
import { probeMovie } from '../src';
import { formatOf, openPixelGrader } from '../src/engine/grading';
import { makePixelFrame } from '../src/engine/pixels';
import { openPictures } from '../src/engine/reader';
import { makeScaler } from '../src/engine/scaler';
import { type MovieWriter, openMovieWriter } from '../src/engine/writer';
import { scratch } from './scratch';

/** A return goes through all of its frames without a pause: what each of them leaves behind adds up, and a feature has 150 000. */
const { at, end } = scratch();
afterAll(end);

const raster = { width: 960, height: 540 };
const pixels = new Uint8Array(raster.width * raster.height * 3).fill(90);

/** How far the memory of this process rises, in bytes, while something is done a number of times more, after a third of that. */
function rises(times: number, each: () => void): number {
  for (let i = 0; i < times / 3; i++) each();
  const before = process.memoryUsage.rss();
  for (let i = 0; i < times; i++) each();
  return process.memoryUsage.rss() - before;
}
/** 300 frames of 1.5 MB and more, none of which stays. */
const MOST = 150e6;

it('clips that are written leave nothing behind', () => {
  const settings = { writer: 'intra', raster, rate: RATES['24'], timecode: '01:00:00:00', reel: 'A001', threads: 2 } as const;
  const write = (file: string, frames: (writer: MovieWriter) => void) => {
    const writer = openMovieWriter(file, settings);
    frames(writer);
    writer.close();
  };
  write(at('original.mov'), (writer) => {
    for (let i = 0; i < 20; i++) writer.writePixels(pixels, AV_PIX_FMT_RGB24);
  });
  const original = probeMovie(at('original.mov'));
  const rise = rises(15, () =>
    write(at('clip.mov'), (writer) => {
      const reader = openPictures(original, 2);
      reader.read(0, 20, (frame) => {
        writer.writeFrame(frame);
        return undefined;
      });
      reader.close();
    }),
  );
  expect(rise).toBeLessThan(MOST);
});

it('frames that are scaled and graded leave nothing behind', () => {
  const of = { raster, alpha: false };
  const source = makePixelFrame(raster);
  const scaler = makeScaler(raster.width, raster.height, formatOf(of), 'full', SWS_BICUBIC, 2);
  const grader = openPixelGrader(of, (values) => values.fill(7));
  const rise = rises(300, () => {
    grader.grade(scaler.convert(source.of(pixels, AV_PIX_FMT_RGB24)));
    scaler.convertToOwn(source.of(pixels, AV_PIX_FMT_RGB24)).free();
  });
  for (const one of [grader, scaler, source]) one.free();
  expect(rise).toBeLessThan(MOST);
});
