import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { CLIP_CODECS, clipCodecs, type Decision, FILLING, framesOfClip, onEvent, RATES, readEdl } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { grabPicture, probeMovie } from '../src';
import { RASTER } from './footage';
import { keyOf, numberAt, START, ways } from './ways';

/** Clips of a return in every way they may be asked for. */
let made: ReturnType<typeof ways>;
beforeAll(() => {
  made = ways();
}, 60_000);
afterAll(() => made.end());
const write: (typeof made)['write'] = (...args) => made.write(...args);

it('clips that the disk has no room for are not begun', () => {
  const originals = [{ ...made.original, raster: { width: 1e7, height: 1e7 } }];
  expect(() => write('vast', {}, [], { originals })).toThrow(/^The clips will take about \d{5,}\.\d GB, and the disk has/);
  expect(readdirSync(path.join(made.folder, 'vast'))).toEqual(['BACK-pairs.csv']);
});

describe('a clip whose speed is baked', () => {
  it('shows at each frame what the cut shows there, handles too, and is listed at natural speed', () => {
    const { clips, problems, warnings, folder: out } = write('speed', { speed: 'baked' });
    expect(problems).toEqual([]);
    expect(warnings.map((w) => w.code)).toEqual(['baked', 'baked', 'baked']);
    const [, fast, back, slow] = clips;
    const seen = (clip: (typeof clips)[number] | undefined) =>
      clip ? [0, 6, 7, 8, framesOfClip(clip) - 1].map((n) => numberAt(clip.path, n)) : [];
    // Reckoned by hand from the time map: source in + offset x speed, a reverse from its last frame down, six frames of handle.
    expect(seen(fast)).toEqual([28, 40, 42, 44, 40 + 17 * 2]);
    expect(seen(back)).toEqual([89, 83, 82, 81, 83 - 29]);
    expect(seen(slow)).toEqual([27, 30, 30, 31, 30 + 8]);
    expect(clips.map((c) => c.start - START)).toEqual([14, 28, 89, 27, 44]);
    const edl = readFileSync(path.join(out, 'BACK.edl'), 'utf8');
    expect(edl).not.toContain('M2');
    const events = readEdl(edl, { rate: RATES['24'] }).tracks[0]?.events ?? [];
    expect(events.map((e) => [e.record.in, e.record.out, e.source.in - START])).toEqual([
      [0, 24, 20],
      [24, 36, 34],
      [36, 60, 95],
      [60, 72, 33],
      [72, 82, 50],
    ]);
  });
  it('has the handles that the original has, and says where those are fewer', () => {
    const { clips, warnings } = write('short', { speed: 'baked', handles: 40 });
    // Twice as fast from 40: 20 record frames go back to frame 0; 75 - 12 and more go on.
    expect(clips[1]).toMatchObject({ headHandle: 20, tailHandle: 40 });
    expect(warnings.filter((w) => w.code === 'short-handles').map((w) => w.event)).toContain(keyOf(2));
  });
});

it('a placement that is baked is seen in the clip, and no longer in the list; how far it is seen through stays there', () => {
  const mirrored: Decision = { kind: 'placement', event: keyOf(1), placement: { ...FILLING, flipX: true, opacity: 0.5 } };
  const { clips, problems, lists } = write('placed', { placement: 'baked' }, [mirrored]);
  expect(problems).toEqual([]);
  const plain = grabPicture(made.original, 20, RASTER.width, RASTER.height)?.pixels as Uint8Array;
  const seen = grabPicture(probeMovie(clips[0]?.path ?? ''), 6, RASTER.width, RASTER.height)?.pixels as Uint8Array;
  const at = (pixels: Uint8Array, x: number, y: number) => pixels[(y * RASTER.width + x) * 3] as number;
  const worst = Math.max(...Array.from({ length: RASTER.width }, (_, x) => Math.abs(at(plain, x, 9) - at(seen, RASTER.width - 1 - x, 9))));
  expect(worst).toBeLessThan(24);
  const xml = lists.find((name) => name.endsWith('.xml')) ?? '';
  const text = readFileSync(path.join(made.folder, 'placed', xml), 'utf8');
  expect(text).not.toContain('horizontal');
  expect(text.toLowerCase()).toContain('opacity');
});

it('events that share a stretch of source share a clip, and each finds its frames in it', () => {
  const { clips, problems } = write('shared', { clips: 'span' });
  expect(problems).toEqual([]);
  expect(clips.map((c) => [c.events.length, c.given])).toEqual([[5, { in: 14, out: 90 }]]);
  const graded: Decision = {
    kind: 'grade',
    scope: onEvent(keyOf(1)),
    cdl: { slope: [0.5, 0.5, 0.5], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 },
  };
  const apart = write('apart', { clips: 'span' }, [graded]);
  expect(apart.problems).toEqual([]);
  // Another grade is another picture: that event has a clip of its own.
  expect(apart.clips.map((c) => c.events.length)).toEqual([1, 4]);
  expect(write('beside', { clips: 'span', grade: 'beside' }, [graded]).clips.map((c) => c.events.length)).toEqual([5]);
  expect(readFileSync(path.join(made.folder, 'beside', 'BACK.edl'), 'utf8')).toContain('ASC_SOP (0.5000 0.5000 0.5000)');
});

describe.each(clipCodecs.filter((c) => CLIP_CODECS[c].is !== 'frames'))('a clip as %s', (codec) => {
  it('keeps timecode, reel and frames, by ffprobe, shows what was meant, and is about as large as was said', () => {
    const { clips, problems } = write(codec, { codec });
    expect(problems).toEqual([]);
    const [first] = clips;
    const said = JSON.parse(
      execFileSync('ffprobe', [
        '-v',
        'error',
        '-count_packets',
        '-show_entries',
        'stream=nb_read_packets,codec_name,color_space,color_transfer:stream_tags:format_tags',
        '-of',
        'json',
        first?.path ?? '',
      ]).toString(),
    );
    const tags = JSON.stringify([said.format.tags, said.streams.map((s: { tags?: object }) => s.tags)]);
    expect(tags).toContain('01:00:00:14');
    expect(tags).toContain('A001');
    expect(said.streams[0]).toMatchObject({ nb_read_packets: '36', color_space: 'bt709' });
    expect(numberAt(first?.path ?? '', 6)).toBe(20);
    const bytes = statSync(first?.path ?? '').size / 36 / RASTER.width / RASTER.height;
    console.log(`${codec}: ${bytes.toFixed(2)} bytes a pixel, reckoned with ${CLIP_CODECS[codec].bytes}`);
    expect(bytes).toBeLessThan(CLIP_CODECS[codec].bytes);
  });
});
