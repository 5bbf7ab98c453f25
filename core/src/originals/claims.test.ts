import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { original } from '../../test/make';
import { RATES } from '../time';
import { type Said, settleClaims } from './claims';
import { withCorrections } from './corrections';
import { guessLogMapping, holdLog, readClipLog } from './logs';
import type { Original } from './model';
import { readManifest, readSidecar } from './sidecars';
import { slateIn, slateOf } from './slate';

const said = (field: Said['field'], value: string, origin: string): Said => ({ field, value, origin });
const HEADER = 'the timecode track';
const CAR = 'sidecar A001C003.xml';

describe('what several sources say of one clip', () => {
  it('is taken from the first that speaks, in the order of trust, and all of it is kept', () => {
    const settled = settleClaims(
      [said('timecode', '01:00:00:00', HEADER), said('reel', 'A001', CAR), said('reel', 'A001', 'the folder name')],
      RATES['24'],
      'x',
    );
    expect(settled).toMatchObject({ start: 86_400, hasTimecode: true, reel: 'A001', clipName: 'x', warnings: [] });
    expect(settled.claims.map((c) => [c.origin, c.taken])).toEqual([
      [HEADER, true],
      [CAR, true],
      ['the folder name', false],
    ]);
  });
  it('a header of all zeros gives way to a sidecar that knows better (TRADE.md: the timecode was in a sidecar)', () => {
    const settled = settleClaims([said('timecode', '00:00:00:00', HEADER), said('timecode', '22:23:10:00', CAR)], RATES['24'], 'x');
    // 22 h 23 min 10 s of 24 labels.
    expect(settled.start).toBe(80_590 * 24);
    expect(settled.warnings).toEqual([]);
    expect(settled.claims.find((c) => c.taken)?.origin).toBe(CAR);
  });
  it('that disagree are named, both of them', () => {
    const settled = settleClaims(
      [
        said('timecode', '01:00:00:00', HEADER),
        said('timecode', '02:00:00:00', CAR),
        said('rate', '25', CAR),
        said('reel', 'A001', HEADER),
        said('reel', 'B001', CAR),
      ],
      RATES['24'],
      'x',
    );
    expect(settled.warnings.map((w) => w.code)).toEqual(['rate-disagrees', 'timecode-disagrees', 'reel-disagrees']);
    expect(settled.warnings[1]?.message).toContain('02:00:00:00');
  });
  it('differ in drop-frame: the header is taken, and it is said', () => {
    const settled = settleClaims([said('timecode', '01:00:00;00', HEADER), said('timecode', '01:00:00:00', CAR)], RATES['29.97'], 'x');
    // One hour of drop-frame is 107 892 frames (SMPTE ST 12-1).
    expect([settled.start, settled.rate.dropFrame]).toEqual([107_892, true]);
    expect(settled.warnings.map((w) => w.code)).toContain('drop-frame-disagrees');
  });
  it('of a reel written two ways are one', () => {
    expect(settleClaims([said('reel', 'A_001', HEADER), said('reel', 'a001', CAR)], RATES['24'], 'x').warnings).toEqual([]);
  });
});

describe('a metadata file beside a clip', () => {
  const fields = (text: string) => Object.fromEntries(readSidecar(text, CAR).map((s) => [s.field, s.value]));
  it('may give timecode packed, hours first as numbered frames do (SMPTE ST 268-1) or frames first as a signal does (SMPTE ST 12-1)', () => {
    expect(fields('<C><StartTimecode>22231007</StartTimecode><FrameRate>24</FrameRate></C>').timecode).toBe('22:23:10:07');
    // 0x57: 17 frames with the drop-frame flag, bit 6.
    expect(fields('<C tcFps="30"><LtcChange frameCount="0" value="57102322"/></C>').timecode).toBe('22:23:10;17');
    // Only hours first is a time of day: there is no hour 35.
    expect(fields('<C><Ltc frameCount="0" value="10222335"/></C>').timecode).toBe('10:22:23:35');
    // Both are; a later one tells the order: 240 frames on are ten seconds at 24.
    const ends = (end: string) => `<C fps="24"><Mark frame="0" value="10111213"/><Mark frame="240" value="${end}"/></C>`;
    expect(fields(ends('10112213')).timecode).toBe('10:11:12:13');
    expect(fields(ends('10211213')).timecode).toBe('13:12:11:10');
  });
  it('may give timecode as a count of frames, which its rate makes a label', () => {
    expect(fields('<C><StartTimecode>86400</StartTimecode><FrameRate>24</FrameRate></C>').timecode).toBe('01:00:00:00');
    expect(fields('<C><StartTimecode>86400</StartTimecode></C>').timecode).toBeUndefined();
  });
  it('may name the proxy of its clip, or the clip of a proxy', () => {
    expect(fields('<C><ProxyFile>sub/A001C003_p.mp4</ProxyFile><Original>yes</Original></C>')).toEqual({ proxy: 'sub/A001C003_p.mp4' });
    expect(fields('<C proxyOf="A001C003.mxf"/>')).toEqual({ proxyOf: 'A001C003.mxf' });
  });
  it('is read by what its elements are called, whoever wrote it', () => {
    expect(
      fields('<Clip><StartTimecode>05:41:12:03</StartTimecode><FrameRate>24000/1001</FrameRate><ReelName>A011</ReelName></Clip>'),
    ).toEqual({
      timecode: '05:41:12:03',
      rate: '24000/1001',
      reel: 'A011',
    });
    expect(
      fields(
        '<m:Meta xmlns:m="u"><Device/><TimeCode start-tc="10:00:00:00" fps="25"/><Media card_id="B004" Clip-Name="B004C001"/></m:Meta>',
      ),
    ).toEqual({
      timecode: '10:00:00:00',
      rate: '25',
      reel: 'B004',
      clipName: 'B004C001',
    });
    expect(fields('<list><Item name="Reel" value="A7"/><Item key="Start TC" value="01:00:00:00"/></list>')).toEqual({
      reel: 'A7',
      timecode: '01:00:00:00',
    });
  });
  it('says drop-frame in a field of its own', () => {
    expect(fields('<c><StartTimecode value="01:00:00:02"/><DropFrame>true</DropFrame></c>').timecode).toBe('01:00:00;02');
  });
  it('that is broken, hostile or of other things says nothing, and never throws', () => {
    expect(readSidecar('<a><b></a>', CAR)).toEqual([]);
    expect(readSidecar('<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><a><reel>&x;</reel></a>', CAR).map((s) => s.value)).toEqual([
      '&x;',
    ]);
    fc.assert(fc.property(fc.string(), (text) => Array.isArray(readSidecar(`<a><reel>${text}</reel></a>`, CAR))));
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => Array.isArray(readSidecar(text, CAR)) && Array.isArray(readManifest(text))),
    );
  });
});

describe('a clip log', () => {
  it('names each clip with its timecode, rate and reel, under headings in common use', () => {
    expect(readClipLog('File Name\tStart TC\tFPS\tReel\nB004C001.MXF\t05:58:01:10\t23.976\tB004\n', 'log.tsv')).toEqual([
      {
        clip: 'b004c001',
        called: 'B004C001.MXF',
        said: [
          { field: 'timecode', value: '05:58:01:10', origin: 'log.tsv' },
          { field: 'rate', value: '23.976', origin: 'log.tsv' },
          { field: 'reel', value: 'B004', origin: 'log.tsv' },
        ],
        notes: '',
      },
    ]);
  });
  it('is read by the columns a person names', () => {
    expect(guessLogMapping(['Bild', 'Anfang'])).toEqual({});
    expect(readClipLog('Bild,Anfang\nA1,01:00:00:00\n', 'log', { clip: 'Bild', timecode: 'Anfang' })[0]?.said).toHaveLength(1);
  });
});

describe('a clip log held against the originals', () => {
  const rows = (text: string) => readClipLog(`File,Start,Reel,Notes\n${text}`, 'log');
  const clips = [
    original('/c/A001C001.mov', { start: 86_400 }),
    original('/c/A001C002.mov', { start: 0, hasTimecode: false, reel: '' }),
    original('/x/K1/0001.mov', { reel: 'K1' }),
    original('/x/K2/0001.mov', { reel: 'K2' }),
  ];
  it('sets what differs, with its name as the source, and leaves what agrees', () => {
    const held = holdLog(rows('A001C001.mov,01:00:00:00,A001,good\nA001C002.MXF,02:00:00:00,A001,\n'), clips, 'clip log day2.csv');
    expect(held.agreeing).toBe(1);
    expect(held.corrections).toMatchObject([
      { word: { original: '/c/A001C002.mov', start: 172_800, reel: 'A001', source: 'clip log day2.csv' }, now: 'no reel, no timecode' },
    ]);
    expect(held.notes).toEqual([{ path: '/c/A001C001.mov', note: 'good' }]);
  });
  it('sets scene and take, where a row names both and they are new', () => {
    const told = 'File,Scene,Take\nA001C001.mov,12-A,03\nA001C002.mov,12-A,\n';
    const { corrections } = holdLog(readClipLog(told, 'log'), clips, 'log');
    expect(corrections).toMatchObject([{ word: { scene: '12-A', take: '03' }, says: 'scene 12-A take 03', now: 'no scene and take' }]);
    const [corrected] = withCorrections(
      clips,
      corrections.map((c) => c.word),
    );
    expect(slateOf(corrected as Original)).toEqual({ scene: '12a', take: '3' });
    expect(holdLog(readClipLog(told, 'log'), [corrected as Original], 'log').agreeing).toBe(1);
  });
  it('takes namesakes by their reel, and names what it cannot place', () => {
    const held = holdLog(rows('0001.mov,05:00:00:00,K2,\n0001.mov,06:00:00:00,,\ngone.mov,07:00:00:00,A001,\n'), clips, 'log');
    expect(held.corrections.map((c) => c.word.original)).toEqual(['/x/K2/0001.mov']);
    expect([held.ambiguous, held.unmatched]).toEqual([['0001.mov'], ['gone.mov']]);
  });
});

describe('a hash manifest', () => {
  it('of ASC MHL 2.0 gives paths with their hashes (ASC MHL 2.0 example structure)', () => {
    const text = `<?xml version="1.0"?><hashlist version="2.0" xmlns="urn:ASC:MHL:v2.0"><hashes><hash><path size="1234" lastmodificationdate="2026-04-12T10:00:00+00:00">A011/A011C001.mov</path><xxh64 action="original">0ea03b369a463d9d</xxh64></hash></hashes></hashlist>`;
    expect(readManifest(text)).toEqual([{ file: 'A011/A011C001.mov', algorithm: 'xxh64', value: '0ea03b369a463d9d' }]);
  });
  it('of the older form names files', () => {
    const text =
      '<hashlist version="1.1"><hash><file>A011C001.mov</file><size>12</size><md5>9e107d9d372bb6826bd81d3542a419d6</md5></hash></hashlist>';
    expect(readManifest(text)).toEqual([{ file: 'A011C001.mov', algorithm: 'md5', value: '9e107d9d372bb6826bd81d3542a419d6' }]);
  });
});

describe('whatever the sources say', () => {
  const words = fc.array(
    fc.record({
      field: fc.constantFrom('timecode', 'reel', 'rate', 'clipName', 'created'),
      value: fc.oneof(
        fc.constantFrom('01:00:00:00', '00:00:00:00', '22:23:10;02', '24', '25', '29.97df', 'A001', 'a-001', '', '   ', 'nonsense'),
        fc.string({ maxLength: 12 }),
      ),
      origin: fc.constantFrom(HEADER, CAR, 'iXML', 'the folder name'),
    }),
    { maxLength: 10 },
  );
  const rates = fc.constantFrom(RATES['24'], RATES['25'], RATES['29.97'], RATES['29.97df'], RATES['59.94']);
  it('all that is no blank is kept in its order, and of each field one is taken at the most', () => {
    fc.assert(
      fc.property(words, rates, (list, rate) => {
        const { claims } = settleClaims(list as Said[], rate, 'x');
        expect(claims.map(({ taken: _, ...c }) => c)).toEqual(list.filter((c) => c.value.trim() !== ''));
        for (const field of ['timecode', 'reel', 'rate', 'clipName'])
          expect(claims.filter((c) => c.field === field && c.taken).length).toBeLessThanOrEqual(1);
      }),
    );
  });
  it('the clip is what the taken ones say, runs as its file does, and counts in drop-frame only where that exists', () => {
    fc.assert(
      fc.property(words, rates, (list, rate) => {
        const settled = settleClaims(list as Said[], rate, 'x');
        const taken = (field: string) => settled.claims.find((c) => c.field === field && c.taken)?.value.trim();
        expect(settled.reel).toBe(taken('reel') ?? '');
        expect(settled.clipName).toBe(taken('clipName') ?? 'x');
        expect(settled.hasTimecode).toBe(taken('timecode') !== undefined);
        expect([settled.rate.num, settled.rate.den]).toEqual([rate.num, rate.den]);
        if (settled.rate.dropFrame) expect(rate.den).toBe(1001);
        expect(Number.isInteger(settled.start)).toBe(true);
      }),
    );
  });
  it('a warning is only given where two of them differ, and names both', () => {
    fc.assert(
      fc.property(words, rates, (list, rate) => {
        const { warnings } = settleClaims(list as Said[], rate, 'x');
        for (const w of warnings) {
          expect(w.code).toMatch(/^(rate|drop-frame|timecode|reel)-disagrees$/);
          expect(w.message).toMatch(/Choose which one is right on the page of the clip\.$/);
        }
        expect(new Set(warnings.map((w) => w.code)).size).toBe(warnings.length);
        const same = settleClaims([...list, ...list] as Said[], rate, 'x');
        expect(same.warnings).toEqual(warnings);
      }),
    );
  });
});

// Common practice: how assistants call clips after their slates.
it.each([
  ['12A-3', '12a|3'],
  ['12A_T03', '12a|3'],
  ['Sc12A Tk3.mov', '12a|3'],
  ['scene 12 take 1', '12|1'],
  ['12-A-3', '12a|3'],
  ['R101/2', 'r101|2'],
  ['A011C002', null],
  ['gulls over the pans', null],
  ['2026', null],
])('the name %s says scene and take: %s', (name, key) => {
  const slate = slateIn(name);
  expect(slate && `${slate.scene}|${slate.take}`).toBe(key);
});
