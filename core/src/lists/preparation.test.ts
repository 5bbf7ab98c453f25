import { describe, expect, it } from 'vitest';
import { event, list } from '../../test/make';
import { fractionOf } from '../time';
import { readEdl } from './edl';
import { checkPreparation } from './preparation';
import { readXmeml } from './xmeml';

const codes = (cut: ReturnType<typeof list>, end: number | null = null) => checkPreparation(cut, end).map((u) => [u.code, u.events]);

describe('what is usually cleaned before a cut is sent (TRADE.md section 2)', () => {
  it('nothing is said of a clean list', () => {
    expect(codes(list([event('V1/1', 0, 20, 0), event('V1/2', 20, 20, 0)]), 40)).toEqual([]);
  });
  it('gaps and overlaps name the event after them', () => {
    expect(codes(list([event('V1/1', 0, 20, 0), event('V1/2', 25, 20, 0), event('V1/3', 40, 20, 0)]))).toEqual([
      ['gap', ['V1/2']],
      ['overlap', ['V1/3']],
    ]);
  });
  it('layers, titles, retimed shots on the main layer, switched-off events', () => {
    const cut = list(
      [event('V1/1', 0, 20, 0, { retime: { kind: 'constant', speed: fractionOf(2) } })],
      [event('V2/1', 0, 5, 0, { kind: 'title', number: '7' }), event('V2/2', 6, 5, 0, { enabled: false, number: '8' })],
    );
    expect(codes(cut)).toEqual([
      ['layers', ['V2/1', 'V2/2']],
      ['switched-off', ['V2/2']],
      ['title', ['V2/1']],
      ['retimed-on-main-layer', ['V1/1']],
    ]);
  });
  it('single frames, shared numbers, and events past the end of the reference', () => {
    const cut = list([event('V1/1', 0, 20, 0, { number: '5' }), event('V1/2', 20, 1, 0, { number: '5' })]);
    expect(codes(cut, 20)).toEqual([
      ['one-frame', ['V1/2']],
      ['duplicate-number', ['V1/1', 'V1/2']],
      ['past-reference', ['V1/2']],
    ]);
  });
  it('sound mixed in', () => {
    const cut = readEdl('001  A001     B     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00');
    expect(checkPreparation(cut, null)).toMatchObject([
      { code: 'sound', message: '1 sound track in the list; picture alone is conformed.' },
    ]);
  });
  it('nested cuts and effects, where the format can say so', () => {
    const rate = '<rate><timebase>25</timebase><ntsc>FALSE</ntsc></rate>';
    const effect = '<filter><effect><name>Blur</name><effectid>blur</effectid></effect></filter>';
    const item = `<clipitem><name>INSERT</name>${rate}<start>0</start><end>10</end><in>0</in><out>10</out><sequence><name>INSERT</name></sequence>${effect}</clipitem>`;
    const cut = readXmeml(
      `<xmeml version="5"><sequence><name>S</name>${rate}<media><video><track>${item}</track></video></media></sequence></xmeml>`,
    );
    expect(codes(cut)).toEqual([
      ['nested', ['V1/1']],
      ['effect', ['V1/1']],
    ]);
  });
});
