import { describe, expect, it } from 'vitest';
import { fraction, RATES, type Rate } from '../../time';
import { ratesAgainst } from '../rate-doubt';
import { formatOfName, type ListFormat, recogniseList } from '../registry';
import { readEdl } from '.';

/** What an edit list says twice, or says in a way that cannot be (SMPTE ST 258 lineage; common practice for the comment lines). */
const line = (number: string, reel: string, source: readonly [string, string], record: readonly [string, string], how = 'C       ') =>
  `${number}  ${reel.padEnd(8)} V     ${how} ${source.join(' ')} ${record.join(' ')}\n`;
const read = (text: string, rate: Rate = RATES['24']) => readEdl(`TITLE: CUT\nFCM: NON-DROP FRAME\n${text}`, { rate });
const codes = (text: string, rate?: Rate) => read(text, rate).notices.map((n) => n.code);
const first = (text: string, rate?: Rate) => read(text, rate).tracks[0]?.events[0];
const SECOND = ['01:00:00:00', '01:00:01:00'] as const;

describe('a speed', () => {
  const at = (fps: string, source: string, rate: Rate) =>
    first(`${line('001', 'A001', ['10:00:00:00', source], SECOND)}M2   A001       ${fps}       10:00:00:00\n`, rate);
  it.each([
    ['047.952', '10:00:02:00', RATES['23.976'], 2, 1],
    ['059.9', '10:00:02:00', RATES['29.97'], 2, 1],
    ['059.94', '10:00:02:00', RATES['29.97'], 2, 1],
    ['011.988', '10:00:00:12', RATES['23.976'], 1, 2],
    ['048.0', '10:00:02:00', RATES['23.976'], 2, 1],
    // What the lengths do not say stays as it is written.
    ['047.6', '10:00:01:24', RATES['25'], 476, 250],
    ['030.0', '10:00:01:06', RATES['24'], 5, 4],
  ] as const)('of M2 %s over a second that ends at %s is the exact one that its lengths say', (fps, source, rate, num, den) => {
    expect(at(fps, source, rate)?.retime).toEqual({ kind: 'constant', speed: fraction(num, den) });
  });
  it('that contradicts the lengths is told, and one that is only rounded is not', () => {
    const event = (fps: string, source: string) =>
      codes(`${line('001', 'A001', ['10:00:00:00', source], SECOND)}M2   A001       ${fps}       10:00:00:00\n`);
    expect(event('048.0', '10:00:01:00')).toEqual(['speed-differs']);
    expect(event('-048.0', '10:00:03:00')).toEqual(['speed-differs']);
    for (const [fps, source] of [
      ['048.0', '10:00:02:00'],
      ['036.0', '10:00:01:12'],
      ['025.1', '10:00:01:02'],
      ['000.0', '10:00:00:01'],
    ] as const)
      expect({ fps, codes: event(fps, source) }).toEqual({ fps, codes: [] });
  });
});

describe('names', () => {
  const cut = line('001', 'A001', ['10:00:00:00', '10:00:01:00'], SECOND);
  it('both of a cut are kept, and so are two of one kind', () => {
    const both = `${cut}* FROM CLIP NAME: PANS\n* TO CLIP NAME: GULLS\n`;
    expect([first(both)?.clipName, first(both)?.notes, codes(both)]).toEqual(['GULLS', ['FROM CLIP NAME: PANS'], ['two-names']]);
    const two = `${cut}* FROM CLIP NAME: PANS\n* FROM CLIP NAME: GULLS\n`;
    expect([first(two)?.clipName, first(two)?.notes, codes(two)]).toEqual(['PANS', ['FROM CLIP NAME: GULLS'], ['two-names']]);
  });
  it('of a transition that are both called FROM are those of its two sides', () => {
    const text = `${cut}* FROM CLIP NAME: PANS\n${line('002', 'A001', ['10:00:01:00', '10:00:01:00'], ['01:00:01:00', '01:00:01:00'])}${line('002', 'A002', ['11:00:00:00', '11:00:02:00'], ['01:00:01:00', '01:00:03:00'], 'D    012')}* FROM CLIP NAME: PANS\n* FROM CLIP NAME: GULLS\n`;
    expect(read(text).tracks[0]?.events.map((e) => e.clipName)).toEqual(['PANS', 'GULLS']);
    expect(codes(text)).toEqual(['two-names']);
  });
});

describe('a dissolve', () => {
  const dissolve = (leaves: string) =>
    codes(
      `${line('001', 'A001', ['10:00:00:00', '10:00:01:00'], SECOND)}${line('002', 'A001', [leaves, leaves], ['01:00:01:00', '01:00:01:00'])}${line('002', 'A002', ['11:00:00:00', '11:00:02:00'], ['01:00:01:00', '01:00:03:00'], 'D    012')}`,
    );
  it('that leaves its shot elsewhere than that ends is told', () => {
    expect(dissolve('10:00:01:00')).toEqual([]);
    expect(dissolve('10:00:02:00')).toEqual(['outgoing-elsewhere']);
  });
});

it('a source of 24 hours and more says so', () => {
  expect(codes(line('001', 'A001', ['25:00:00:00', '25:00:01:00'], SECOND))).toEqual(['past-day']);
  expect(codes(line('001', 'A001', ['23:59:59:00', '24:00:00:00'], SECOND))).toEqual([]);
});

it('a rate that was assumed is doubted where no original runs at it, and only there', () => {
  const list = readEdl(`TITLE: CUT\n${line('001', 'A001', ['10:00:00:00', '10:00:00:20'], ['01:00:00:00', '01:00:00:20'])}`);
  const against = (...rates: (keyof typeof RATES)[]) =>
    ratesAgainst(
      list,
      rates.map((r) => RATES[r]),
    ).map((r) => r.num);
  // Digits to 20 could be of any rate from 24 up.
  expect(list.rate).toEqual(RATES['24']);
  expect(against('29.97', '29.97', '25')).toEqual([30_000, 25]);
  expect(against('29.97', '24')).toEqual([]);
  expect(against()).toEqual([]);
  expect(ratesAgainst(readEdl('TITLE: CUT\n', { rate: RATES['24'] }), [RATES['29.97']])).toEqual([]);
});

describe('a table', () => {
  const format = formatOfName('a.tsv') as ListFormat;
  const rows = (...of: string[][]) =>
    new TextEncoder().encode(
      [['Event', 'Reel', 'Source In', 'Source Out', 'Record In', 'Record Out', 'Speed'], ...of].map((r) => r.join('\t')).join('\n'),
    );
  const codesOf = (bytes: Uint8Array) => format.read(bytes, { rate: RATES['24'] }).notices.map((n) => n.code);
  it('of tabs whose rows begin with numbers is one, and no edit list', () => {
    const bytes = rows(['001', 'A001', '10:00:00:00', '10:00:01:00', '01:00:00:00', '01:00:01:00', '']);
    expect(recogniseList(bytes)?.name).toBe('table');
    expect(codesOf(bytes)).toEqual([]);
  });
  it('tells frame digits beyond the rate, and lengths that disagree without a speed', () => {
    expect(codesOf(rows(['001', 'A001', '10:00:00:00', '10:00:01:00', '01:00:00:00', '01:00:00:24', '']))).toEqual(['timecode-impossible']);
    expect(codesOf(rows(['001', 'A001', '10:00:00:00', '10:00:02:00', '01:00:00:00', '01:00:01:00', '']))).toEqual(['length-differs']);
    expect(codesOf(rows(['001', 'A001', '10:00:00:00', '10:00:02:00', '01:00:00:00', '01:00:01:00', '200%']))).toEqual([]);
  });
});
