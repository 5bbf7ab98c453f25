import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { event, list, textOf } from '../../test/make';
import { NATURAL } from '../edit';
import { RATES } from '../time';
import { inLayerOrder, readDelivery } from './delivery';
import { readEdl } from './edl';
import { readOtio, writeOtio } from './otio';
import { shortReels } from './reels';
import { formatOfName } from './registry';
import { readTable } from './table';
import { decodeListFile, encodeListFile } from './text';
import { writeList } from './writing';

const bytes = (text: string) => new TextEncoder().encode(text);
const at24 = { rate: RATES['24'] };
const layer = (reel: string, frames: string) =>
  `TITLE: CUT\n001  ${reel}     V     C        01:00:00:00 01:00:02:${frames} 10:00:00:00 10:00:02:${frames}\n`;
const format = (name: string) => formatOfName(name) as NonNullable<ReturnType<typeof formatOfName>>;

describe('several files that form one cut', () => {
  const files = [
    { fileName: 'cut_V10.edl', bytes: bytes(layer('C001', '12')) },
    { fileName: 'cut_V2.edl', bytes: bytes(layer('B001', '24')) },
    { fileName: 'cut_V1.edl', bytes: bytes(layer('A001', '00')) },
  ];
  it('are its layers, from the bottom up in the order of their names', () => {
    const { list: cut } = readDelivery(inLayerOrder(files), at24);
    expect(cut.tracks.map((t) => [t.name, t.part, t.events[0]?.reel])).toEqual([
      ['V1', 0, 'A001'],
      ['V2', 1, 'B001'],
      ['V3', 2, 'C001'],
    ]);
  });
  it('are read at the highest rate that any of them needs, where none states it', () => {
    const { list: cut } = readDelivery(inLayerOrder(files));
    // Frame digits up to 24 do not exist below 25 labels a second.
    expect(cut.rate).toEqual(RATES['25']);
    expect(new Set(cut.tracks.flatMap((t) => t.events.map((e) => e.record.in)))).toEqual(new Set([900_000]));
  });
  it('say in which file a notice has its line', () => {
    const broken = { fileName: 'cut_V4.edl', bytes: bytes(`${layer('D001', '00')}002  A001     V     C        01:00:aa:00`) };
    const { list: cut } = readDelivery([...inLayerOrder(files), broken], { rate: RATES['25'] });
    expect(cut.notices).toMatchObject([{ code: 'broken-line', place: { line: 3 }, part: 3 }]);
  });
  it('are read without the one that is no list, which says why', () => {
    const { list: cut } = readDelivery([{ fileName: 'letter.txt', bytes: bytes('\n\nDear editor') }, ...files], { rate: RATES['25'] });
    expect(cut.tracks).toHaveLength(3);
    expect(cut.notices).toMatchObject([{ severity: 'unreadable', place: { line: 3 }, part: 0 }]);
  });
});

describe('a file', () => {
  it('is text in UTF-8, in UTF-16 by its mark, or else in Latin-1', () => {
    const text = (b: number[]) => decodeListFile(new Uint8Array(b));
    expect(text([0xc3, 0xbc])).toMatchObject({ text: 'ü' });
    expect(text([0xfc])).toMatchObject({ text: 'ü' });
    expect(text([0xff, 0xfe, 0xfc, 0])).toMatchObject({ text: 'ü' });
    expect(text([0xfe, 0xff, 0, 0xfc])).toMatchObject({ text: 'ü' });
  });
  it('that is a bundle is read by its timeline, and comes out as one', () => {
    const cut = list([event('V1/1', 0, 20, 100)]);
    const bundle = encodeListFile('cut.otioz', writeOtio(cut));
    expect([...bundle.subarray(0, 2)]).toEqual([0x50, 0x4b]);
    expect(readDelivery([{ fileName: 'cut.otioz', bytes: bundle }]).list.tracks[0]?.events).toHaveLength(1);
  });
  it('that is an archive of other things, cut off, or with names that lead outside is refused or read safely', () => {
    const reason = (b: Uint8Array) => readDelivery([{ fileName: 'x.otioz', bytes: b }]).list.notices[0]?.message ?? '';
    expect(reason(zipSync({ 'other.txt': bytes('x') }))).toContain('without content.otio');
    expect(reason(zipSync({ '../../content.otio': bytes('{}') }))).toContain('without content.otio');
    const whole = encodeListFile('x.otioz', writeOtio(list([event('V1/1', 0, 20, 100)])));
    for (let cut = 8; cut < whole.length; cut += 7) expect(reason(whole.subarray(0, cut))).not.toBe('');
  });
  it('whose archive lies about its sizes is read by what it holds', () => {
    const lying = zipSync({ 'content.otio': bytes(writeOtio(list([event('V1/1', 0, 20, 100)]))) });
    const view = new DataView(lying.buffer, lying.byteOffset);
    // The central directory entry (PKWARE APPNOTE 4.3.12) has the uncompressed size 24 bytes after its signature.
    const at = lying.findIndex((_, i) => i + 4 <= lying.length && view.getUint32(i, true) === 0x02014b50);
    view.setUint32(at + 24, 0xfffffff0, true);
    expect(readDelivery([{ fileName: 'x.otioz', bytes: lying }]).list.tracks[0]?.events).toHaveLength(1);
  });
  it('whose archive unpacks without end is left, and one that was damaged is refused', () => {
    const reason = (b: Uint8Array) => readDelivery([{ fileName: 'x.otioz', bytes: b }]).list.notices[0]?.message;
    const much = new Uint8Array(40 * 1024 * 1024).fill(32);
    much.set(bytes('{"OTIO_SCHEMA": "Timeline.1"'));
    expect(reason(zipSync({ 'content.otio': much }))).toMatch(/unpacks to more than 16 MB/);
    // Stored, not packed: one digit of a frame count is changed.
    const stored = zipSync({ 'content.otio': [bytes(writeOtio(list([event('V1/1', 0, 20, 1234)]))), { level: 0 }] });
    const digit = stored.findIndex((_, i) => new TextDecoder().decode(stored.subarray(i, i + 4)) === '1234');
    stored[digit] = '9'.charCodeAt(0);
    expect(reason(stored)).toMatch(/checksum/);
  });
});

describe('reels that are too long for a list', () => {
  it('are shortened so that no two become the same, whatever their order', () => {
    const reels = ['A001_20260401_LEFT', 'A001_20260401_RIGHT', 'A001_202', 'B004', 'card 7'];
    const short = shortReels(reels, 8);
    expect(new Set([...short.values()].map((r) => r.toUpperCase())).size).toBe(5);
    for (const written of short.values()) expect(written).toMatch(/^[A-Za-z0-9_]{1,8}$/);
    expect([short.get('B004'), short.get('A001_202'), short.get('card 7')]).toEqual(['B004', 'A001_202', 'card7']);
    expect(shortReels([...reels].reverse(), 8)).toEqual(short);
  });
  it('are told in a table, and come back when the list is read again', () => {
    const cut = list([
      event('V1/1', 0, 20, 100, { reel: 'A001_20260401_LEFT' }),
      event('V1/2', 20, 20, 100, { reel: 'A001_20260401_RIGHT' }),
    ]);
    const written = writeList(cut, format('a.edl'), 'a.edl', { reelLength: 8 });
    expect(written.files.map((f) => f.fileName)).toEqual(['a.edl', 'a_reels.csv']);
    expect(textOf(written.files[1]?.bytes)).toContain('A001_20260401_LEFT,A001_202');
    const text = textOf(written.files[0]?.bytes);
    expect(
      text
        .split('\n')
        .filter((l) => /^\d/.test(l))
        .every((l) => (l.split(/\s+/)[1] ?? '').length <= 8),
    ).toBe(true);
    expect(readEdl(text, at24).tracks[0]?.events.map((e) => e.reel)).toEqual(['A001_20260401_LEFT', 'A001_20260401_RIGHT']);
  });
});

describe('how a list is written', () => {
  const cut = list([event('V1/1', 0, 20, 100), event('V1/2', 20, 20, 200)], [event('V2/1', 10, 5, 300, { number: '007' })]);
  it('one file a layer for systems that read one', () => {
    const { files } = writeList(cut, format('a.edl'), 'out.edl', { layers: 'apart' });
    expect(files.map((f) => f.fileName)).toEqual(['out_V1.edl', 'out_V2.edl']);
    expect(readDelivery(files, at24).list.tracks.map((t) => t.events.length)).toEqual([2, 1]);
  });
  it('under another title, numbered anew in record order', () => {
    const { files } = writeList(cut, format('a.csv'), 'out.csv', { title: 'NEW', numbering: 'anew' });
    const back = readTable(textOf(files[0]?.bytes), at24);
    expect(back.tracks.flatMap((t) => t.events.map((e) => [e.key, e.number]))).toEqual([
      ['V1/1', '001'],
      ['V1/2', '003'],
      ['V2/1', '002'],
    ]);
    expect(readOtio(textOf(writeList(cut, format('a.otio'), 'out.otio', { title: 'NEW' }).files[0]?.bytes)).title).toBe('NEW');
  });
  it('counted in drop-frame from the same first label, with every length kept in frames', () => {
    const hour = { ...list([event('V1/1', 108_000, 2000, 0, { sourceRate: RATES['29.97'] })]), rate: RATES['29.97'] };
    const back = readEdl(textOf(writeList(hour, format('a.edl'), 'a.edl', { counting: 'drop' }).files[0]?.bytes), { rate: RATES['29.97'] });
    // 01:00:00:00 is frame 108 000 in non-drop and 01:00:00;00 is 107 892 in drop-frame (SMPTE ST 12-1).
    expect(back.tracks[0]?.events[0]?.record).toEqual({ in: 107_892, out: 109_892 });
    expect(back.rate.dropFrame).toBe(true);
    expect(writeList(cut, format('a.edl'), 'a.edl', { counting: 'drop' }).notices).toMatchObject([{ code: 'drop-frame-impossible' }]);
  });
  it('with a word on what each format cannot carry', () => {
    const keyed = {
      kind: 'keyed',
      keys: [
        { record: 0, source: 0 },
        { record: 10, source: 30 },
      ],
    } as const;
    const rich = {
      ...list([event('V1/1', 0, 20, 100, { retime: keyed, linked: ['V1/2'] }), event('V1/2', 20, 20, 0, { retime: NATURAL })]),
      framing: { raster: { width: 1920, height: 1080 }, pixelAspect: 1, fields: null },
    };
    const codes = (name: string) => writeList(rich, format(name), name).notices.map((n) => n.code);
    expect(codes('a.edl')).toEqual(['cannot-carry-keyed-speed', 'cannot-carry-links', 'cannot-carry-framing']);
    expect(codes('a.xml')).toEqual([]);
  });
  it('what only another format has a place for is counted as lost', () => {
    const plain = readOtio(writeOtio(cut));
    expect(writeList(plain, format('a.edl'), 'a.edl').notices).toEqual([]);
    const otio = readOtio(writeOtio(cut).replace('"metadata": {\n', '"metadata": {\n"studio": 7,\n'));
    expect(writeList(otio, format('a.edl'), 'a.edl').notices.map((n) => n.code)).toContain('cannot-carry-metadata');
    expect(writeList(otio, format('a.otio'), 'a.otio').notices).toEqual([]);
  });
});
