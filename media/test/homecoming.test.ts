import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { applyDecisions, comeHome, compile, type Decision, formatTimecode, pictureAt, RATES, readEdl } from '@gemello/core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { scan } from '../src';
import { compositionOf, openCompositor, openSources, toRgb24 } from '../src/compose';
import { RASTER, writeClip } from './footage';

/** A title that was made elsewhere, with an alpha by the ffmpeg program: red over the left half, nothing over the right. */
const tc = (n: number) => formatTimecode(n, RATES['24']);
const START = 24 * 3600;
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-home-'));
  const clip = { writer: 'intra-8bit', rate: RATES['24'], frames: 60, reel: 'A001', start: '01:00:00:00' } as const;
  writeClip(path.join(folder, 'cards', 'A001C001.mov'), clip);
  mkdirSync(path.join(folder, 'back'));
  const half = `color=red:s=${RASTER.width}x${RASTER.height}:r=24:d=1,format=yuva444p10le,geq=lum='lum(X,Y)':cb='cb(X,Y)':cr='cr(X,Y)':a='if(lt(X,W/2),1023,0)'`;
  const out = path.join(folder, 'back', 'Title_SALT_v02.mov');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    half,
    '-c:v',
    'prores_ks',
    '-profile:v',
    '4444',
    '-pix_fmt',
    'yuva444p10le',
    out,
  ]);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const LIST = [
  'TITLE: TITLED',
  `001  A001  V   C  ${tc(START + 10)} ${tc(START + 50)} ${tc(0)} ${tc(40)}`,
  `002  AX    V2  C  ${tc(0)} ${tc(24)} ${tc(8)} ${tc(32)}`,
  '* FROM CLIP NAME: Title SALT',
].join('\n');

it('a title made elsewhere is found by its name and length, and laid over what is below it with its alpha', () => {
  const read = (name: string) => scan({ folders: [path.join(folder, name)] }, () => {}, { aborted: false }).originals;
  const [cards, clips] = [read('cards'), read('back')];
  const list = readEdl(LIST, { rate: RATES['24'] });
  const [below, title] = list.tracks.map((t) => t.events[0]);
  if (!below || !title || !cards[0]) throw new Error('the cut has two layers');
  const pair: Decision = { kind: 'pair', event: below.key, original: cards[0].path, sourceStartFrame: 10 };
  const exempt: Decision = { kind: 'exempt', event: title.key, exempt: true };
  const cut = applyDecisions(list, [pair, exempt]).list;
  const { back, strangers } = comeHome(cut, new Map(cards.map((o) => [o.path, o])), clips);
  expect(strangers).toEqual([]);
  expect(back).toMatchObject([{ number: '002', offers: [{ version: 2, by: ['name', 'length'], sourceStartFrame: 0, pairedAt: null }] }]);
  const offer = back[0]?.offers[0];
  const bake: Decision = {
    kind: 'bake',
    event: title.key,
    bake: { original: offer?.path ?? '', sourceStartFrame: offer?.sourceStartFrame ?? 0, graded: true },
  };
  const drawn = (decisions: Decision[]) => {
    const conform = compile(applyDecisions(list, decisions).list, [...cards, ...clips]);
    const compositor = openCompositor(openSources(1, 0, 'held'));
    try {
      const { width, height } = RASTER;
      const { canvas, drawing } = compositor.draw(compositionOf(pictureAt(conform, 20), conform.frame), width, height);
      expect(drawing.missing).toEqual([]);
      return toRgb24(canvas, new Uint8Array(width * height * 3)).slice();
    } finally {
      compositor.close();
    }
  };
  const [plain, titled] = [drawn([pair, { kind: 'enable', event: title.key, enabled: false }]), drawn([pair, exempt, bake])];
  const at = (pixels: Uint8Array, x: number, y: number) =>
    Array.from(pixels.subarray((y * RASTER.width + x) * 3, (y * RASTER.width + x) * 3 + 3));
  for (const y of [20, 70, 120]) {
    const [red = 0, green = 255, blue = 255] = at(titled, 40, y);
    expect([red > 200, green < 40, blue < 40]).toEqual([true, true, true]);
    expect(at(titled, RASTER.width - 30, y)).toEqual(at(plain, RASTER.width - 30, y));
  }
});
