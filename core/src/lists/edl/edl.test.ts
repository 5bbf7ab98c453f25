import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { content, listOf, piece } from '../../../test/lists';
import { dissolve, event, list } from '../../../test/make';
import { frameAt, runOf } from '../../conform';
import { type EditList, type ListEvent, NATURAL } from '../../edit';
import { formatTimecode, fractionOf, RATES } from '../../time';
import { lossesIn } from '../losses';
import { readOtio, writeOtio } from '../otio';
import { formatOfName } from '../registry';
import { readEdl, writeEdl } from '.';

const at24 = { rate: RATES['24'] };
const read = (body: string, options: Parameters<typeof readEdl>[1] = at24) => readEdl(`TITLE: CUT\nFCM: NON-DROP FRAME\n${body}`, options);
const events = (list: EditList, track = 'V1') => list.tracks.find((t) => t.name === track)?.events ?? [];
const only = (body: string): ListEvent => {
  const [event, ...more] = events(read(body));
  if (!event || more.length > 0) throw new Error(`${more.length + (event ? 1 : 0)} events`);
  return event;
};
const codes = (list: EditList) => list.notices.map((n) => n.code);

const CUT = '001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00';

describe('an event line (SMPTE ST 258 lineage)', () => {
  it('has an exclusive record out', () => {
    const event = only(CUT);
    expect(event.record).toEqual({ in: 864_000, out: 864_048 });
    expect(event.source).toEqual({ in: 86_400, out: 86_448 });
    expect([event.number, event.reel, event.kind]).toEqual(['001', 'A001', 'clip']);
  });
  it('takes event numbers of any width, and none', () => {
    expect(only(CUT.replace('001 ', '000042 ')).number).toBe('000042');
    expect(only(CUT.replace('001 ', '1 ')).number).toBe('1');
    expect(only(CUT.replace('001  ', '')).number).toBe('');
  });
  it('takes reels of up to 128 characters, blanks included', () => {
    const long = 'R'.repeat(128);
    expect(only(CUT.replace('A001    ', long)).reel).toBe(long);
    expect(only(CUT.replace('A001    ', 'CARD 7 LEFT')).reel).toBe('CARD 7 LEFT');
  });
  it('stands on each channel it names (common practice)', () => {
    const tracks = (channels: string) => read(CUT.replace('V     ', `${channels} `)).tracks.map((t) => t.name);
    expect(tracks('V')).toEqual(['V1']);
    expect(tracks('B')).toEqual(['V1', 'A1']);
    expect(tracks('AA')).toEqual(['A1', 'A2']);
    expect(tracks('AA/V')).toEqual(['V1', 'A1', 'A2']);
    expect(tracks('A3')).toEqual(['A3']);
    expect(tracks('V2')).toEqual(['V2']);
  });
  it('is black for BL and an unnamed source for AX', () => {
    expect(only(CUT.replace('A001', 'BL  ')).kind).toBe('black');
    expect(only(CUT.replace('A001', 'AX  ')).kind).toBe('clip');
  });
});

describe('transitions', () => {
  const dissolve = (first: string) => `${first}
002  A001     V     C        01:00:02:00 01:00:02:00 10:00:02:00 10:00:02:00
002  A002     V     D    012 02:00:00:00 02:00:01:00 10:00:02:00 10:00:03:00
* FROM CLIP NAME: ONE
* TO CLIP NAME: TWO`;
  it('are two lines with one event number, and the second carries the picture', () => {
    const [first, second, ...more] = events(read(dissolve(CUT)));
    expect(more).toEqual([]);
    expect(first?.transitionIn).toBeNull();
    expect(second?.transitionIn).toEqual({ type: 'dissolve', duration: 12, before: 0, from: 'previous', wipeCode: null });
    expect([second?.reel, second?.clipName]).toEqual(['A002', 'TWO']);
  });
  it('leave black where the first line is BL', () => {
    const event = events(read(dissolve(CUT).replace('002  A001', '002  BL  ')))[1];
    expect(event?.transitionIn?.from).toBe('black');
  });
  it('keep the code of a wipe', () => {
    const event = events(read(dissolve(CUT).replace('D    012', 'W017 012')))[1];
    expect(event?.transitionIn).toMatchObject({ type: 'wipe', wipeCode: '017', duration: 12 });
  });
  it('are cut to the length of their event, with a word', () => {
    const list = read(dissolve(CUT).replace('D    012', 'D    120'));
    expect(events(list)[1]?.transitionIn?.duration).toBe(24);
    expect(codes(list)).toContain('transition-too-long');
  });
});

describe('M2 gives frames per second of source (common practice)', () => {
  const speed = (fps: string) => only(`${CUT}\nM2   A001       ${fps}       01:00:00:00`).retime;
  it('faster, slower, reverse, frozen, natural', () => {
    expect(speed('048.0')).toEqual({ kind: 'constant', speed: fractionOf(2) });
    expect(speed('012.0')).toEqual({ kind: 'constant', speed: fractionOf(0.5) });
    expect(speed('-024.0')).toEqual({ kind: 'constant', speed: fractionOf(-1) });
    expect(speed('000.0')).toEqual({ kind: 'freeze' });
    expect(speed('024.0')).toEqual(NATURAL);
  });
  it('takes the exact decimal of a 1001 rate for natural speed', () => {
    const list = readEdl(`TITLE: X\n${CUT}\nM2   A001   023.976   01:00:00:00`, { rate: RATES['23.976'] });
    expect(events(list)[0]?.retime).toEqual(NATURAL);
  });
  it('that names the clip in place of the reel is known by its source in (as the reference library writes it)', () => {
    expect(only(`${CUT}\nM2   THE CLIP   048.0   01:00:00:00`).retime).toEqual({ kind: 'constant', speed: fractionOf(2) });
  });
  it('that names no event is said to be lost', () => {
    expect(codes(read(`${CUT}\nM2   B999   048.0   02:00:00:00`))).toContain('motion-without-event');
  });
});

describe('comments in common use', () => {
  it('carry clip name, file name, grade and markers', () => {
    const event = only(`${CUT}
* FROM CLIP NAME: Wide of the pans
* SOURCE FILE: A001C003.MOV
* ASC_SOP (1.1 1.0 0.9)(0.01 0 -0.02)(1 1 1.05)
* ASC_SAT 0.85
* LOC: 10:00:01:00 GREEN  CHECK THE EDGE`);
    expect([event.clipName, event.fileName]).toEqual(['Wide of the pans', 'A001C003.MOV']);
    expect(event.cdl).toEqual({ slope: [1.1, 1, 0.9], offset: [0.01, 0, -0.02], power: [1, 1, 1.05], saturation: 0.85 });
    expect(event.markers).toEqual([{ record: 864_024, colour: 'GREEN', text: 'CHECK THE EDGE' }]);
  });
  it('give back the reel that a list had no room for', () => {
    const short = CUT.replace('A001 ', 'A0010401');
    const { reel } = only(`${short}\n* ORIGINAL REEL: A001_20260401_LEFT`);
    const replaced = only(`* REEL A001_20260401_LEFT REPLACED BY A0010401\n${short.replace('A0010401    V', 'A0010401 V')}`).reel;
    expect([reel, replaced]).toEqual(['A001_20260401_LEFT', 'A001_20260401_LEFT']);
  });
  it('name effects: those of no conform are lost, a special transition is shown as what it stands for', () => {
    const blur = read(`${CUT}\n* EFFECT NAME: SOFT BLUR`);
    expect(blur.notices).toMatchObject([{ severity: 'lost', code: 'effect', place: { line: 4 } }]);
    const joined = `${CUT}\n002  A002     V     D    012 02:00:00:00 02:00:01:00 10:00:02:00 10:00:03:00\n* EFFECT NAME: `;
    expect(codes(read(`${joined}FILM BURN`))).toContain('transition-kind');
    expect(codes(read(`${joined}CROSS DISSOLVE`))).not.toContain('transition-kind');
  });
  it('that are unknown are kept as notes, and said so', () => {
    const list = read(`${CUT}\n* SHOT ON A WINDY DAY`);
    expect(events(list)[0]?.notes).toEqual(['SHOT ON A WINDY DAY']);
    expect(list.notices).toContainEqual(expect.objectContaining({ severity: 'kept', place: { line: 4 }, event: 'V1/1' }));
  });
  it('of a title make the event a title, which needs no original', () => {
    expect(only(`${CUT.replace('A001', 'AX  ')}\n* FROM CLIP NAME: Title THE END`).kind).toBe('title');
  });
});

describe('counting of timecode', () => {
  const df = { rate: RATES['29.97df'] };
  it('the first FCM settles the record, and each FCM the sources after it', () => {
    const list = readEdl(
      `TITLE: X
FCM: DROP FRAME
001  A001     V     C        01:00:00;00 01:00:02;00 10:00:00;00 10:00:02;00
FCM: NON-DROP FRAME
002  A002     V     C        01:00:00:00 01:00:02:00 10:00:02;00 10:00:04;00`,
      { rate: RATES['29.97'] },
    );
    expect(list.rate).toEqual(RATES['29.97df']);
    // One hour: 107 892 frames in drop-frame, 108 000 in non-drop (SMPTE ST 12-1).
    expect(events(list).map((e) => [e.sourceRate.dropFrame, e.source.in])).toEqual([
      [true, 107_892],
      [false, 108_000],
    ]);
  });
  it('goes out as it came in, an FCM before each change', () => {
    const text = `TITLE: X
FCM: DROP FRAME
001  A001     V     C        01:00:00;00 01:00:02;00 10:00:00;00 10:00:02;00
FCM: NON-DROP FRAME
002  A002     V     C        01:00:00:00 01:00:02:00 10:00:02;00 10:00:04;00
`;
    expect(writeEdl(readEdl(text, df))).toBe(text);
  });
  it('labels that drop-frame skips are said, and counted as the next that exists', () => {
    const list = readEdl(`FCM: DROP FRAME\n001  A001     V     C        00:01:00;00 00:01:01;00 10:00:00;00 10:00:00;28`, df);
    expect(codes(list)).toContain('timecode-dropped-label');
    expect(events(list)[0]?.source.in).toBe(1800);
  });
});

describe('channels and joins less often met', () => {
  it('AUD adds channels to the event before it (common practice)', () => {
    expect(read(`${CUT}\nAUD  3 4`).tracks.map((t) => t.name)).toEqual(['V1', 'A3', 'A4']);
  });
  it('an event on no channel is said to be lost', () => {
    const list = read(CUT.replace('V     ', 'NONE  '));
    expect(codes(list)).toEqual(['no-channel']);
  });
  it('a key is kept as one', () => {
    const list = read(`${CUT}\n002  A002     V     K    012 02:00:00:00 02:00:01:00 10:00:02:00 10:00:03:00`);
    expect(events(list)[1]?.transitionIn).toMatchObject({ type: 'key', duration: 12 });
  });
  it('M2 may speak of the outgoing side of a dissolve', () => {
    const list = read(`${CUT}
002  A001     V     C        01:00:02:00 01:00:02:00 10:00:02:00 10:00:02:00
002  A002     V     D    012 02:00:00:00 02:00:01:00 10:00:02:00 10:00:03:00
M2   A001       048.0       01:00:00:00
M2   A002       012.0       02:00:00:00`);
    expect(events(list).map((e) => e.retime)).toEqual([
      { kind: 'constant', speed: fractionOf(2) },
      { kind: 'constant', speed: fractionOf(0.5) },
    ]);
  });
  it('a source that runs backwards without a speed is read as a reverse, with a word', () => {
    const list = read(CUT.replace('01:00:00:00 01:00:02:00', '01:00:02:00 01:00:00:00'));
    expect(events(list)[0]).toMatchObject({ retime: { speed: fractionOf(-1) }, source: { in: 86_400, out: 86_448 } });
    expect(codes(list)).toContain('source-backwards');
  });
  it('a first line of no length that no transition follows is said to be lost', () => {
    expect(codes(read(`${CUT}\n002  A001     V     C        01:00:02:00 01:00:02:00 10:00:02:00 10:00:02:00`))).toContain('zero-length');
  });
  it('an event that stands alike on picture and sound is written once', () => {
    const text = writeEdl(read(CUT.replace('V     ', 'B     ')));
    expect(text.match(/^001/gm)).toHaveLength(1);
    expect(text).toContain('001  A001     B     C');
  });
});

describe('trouble', () => {
  it('never stops the reading, and names the line', () => {
    const list = read(
      `${CUT}\n002  A001     V     C        01:00:aa:00 01:00:02:00 10:00:02:00 10:00:04:00\n${CUT.replace('001 ', '003 ').replaceAll('10:00:0', '10:01:0')}`,
    );
    expect(events(list)).toHaveLength(2);
    expect(list.notices).toContainEqual(expect.objectContaining({ severity: 'unreadable', code: 'broken-line', place: { line: 4 } }));
  });
  it('of the record running backwards leaves the event out', () => {
    const list = read(CUT.replace('10:00:02:00', '09:00:00:00'));
    expect(list.tracks).toEqual([]);
    expect(codes(list)).toContain('record-backwards');
  });
  it('of a rate too low for the frame digits is said once for the event', () => {
    const list = read(CUT.replace('01:00:00:00', '01:00:00:24'));
    expect(codes(list).filter((c) => c === 'timecode-frame-digits')).toHaveLength(1);
  });
  it('of drop-frame at a rate that has none is said', () => {
    expect(codes(readEdl(`TITLE: X\nFCM: DROP FRAME\n${CUT}`, at24))).toContain('drop-frame-impossible');
  });
  it('of source and record lengths that differ without a speed is said', () => {
    expect(codes(read(CUT.replace('01:00:02:00', '01:00:03:00')))).toContain('length-differs');
  });
});

describe('the rate, where the list does not state it', () => {
  const inferred = (frames: string, fcm = 'NON-DROP FRAME') =>
    readEdl(`FCM: ${fcm}\n${CUT.replace('01:00:00:00', `01:00:00:${frames}`)}`).rate;
  it('is the lowest that could hold every frame digit', () => {
    expect(inferred('23')).toEqual(RATES['24']);
    expect(inferred('24')).toEqual(RATES['25']);
    expect(inferred('29')).toEqual(RATES['30']);
    expect(inferred('49')).toEqual(RATES['50']);
    expect(inferred('29', 'DROP FRAME')).toEqual(RATES['29.97df']);
  });
  it('is named as assumed', () => {
    expect(codes(readEdl(CUT))).toContain('rate-assumed');
    expect(codes(read(CUT))).toEqual([]);
  });
});

describe('files as they come', () => {
  it('with a byte-order mark, CRLF, tabs and blank lines', () => {
    const list = readEdl(`\uFEFFTITLE: T\r\n\r\n001\tA001\tV\tC\t01:00:00:00\t01:00:02:00\t10:00:00:00\t10:00:02:00\r\n`, at24);
    expect(list.title).toBe('T');
    expect(events(list)).toHaveLength(1);
  });
  it('in any order are put in record order, and keep their numbers', () => {
    const later = CUT.replace('001 ', '002 ').replaceAll('10:00:0', '11:00:0');
    expect(events(read(`${later}\n${CUT}`)).map((e) => e.number)).toEqual(['001', '002']);
  });
  it('of 50 000 events are read', () => {
    const lines = Array.from({ length: 50_000 }, (_, i) => {
      const record = (n: number) => formatTimecode(n * 10, RATES['24']);
      return `${String(i + 1).padStart(6, '0')}  A001     V     C        01:00:00:00 01:00:00:10 ${record(i)} ${record(i + 1)}`;
    });
    expect(events(read(lines.join('\n')))).toHaveLength(50_000);
  });
});

describe('laws', () => {
  it('what was written reads back equal', () => {
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
        const list = listOf(pieces);
        expect(content(readEdl(writeEdl(list), at24))).toEqual(content(list));
      }),
      { numRuns: 200 },
    );
  });
  it('reading never throws, whatever the text', () => {
    const scrap = fc.oneof(
      fc.string(),
      fc.constantFrom(CUT, 'M2', 'FCM: DROP FRAME', '* LOC: x', '001 A V C', '* ASC_SOP ((('),
      fc.string({ unit: 'binary', maxLength: 300 }),
    );
    fc.assert(
      fc.property(fc.array(scrap, { maxLength: 20 }), (lines) => {
        const list = readEdl(lines.join('\n'));
        expect(content(readEdl(writeEdl(list), { rate: list.rate })).tracks.length).toBe(list.tracks.length);
      }),
      { numRuns: 300 },
    );
  });
  it('a list with one byte changed still reads', () => {
    const text = writeEdl(listOf(fc.sample(piece, { numRuns: 6, seed: 4 })));
    for (let i = 0; i < text.length; i += 3)
      expect(() => readEdl(text.slice(0, i) + String.fromCharCode((text.charCodeAt(i) + 13) % 128) + text.slice(i + 1))).not.toThrow();
  });
});

describe('a dissolve centred on the cut of a shot at half speed', () => {
  const half = { kind: 'constant', speed: fractionOf(0.5) } as const;
  const cut = (before: number) =>
    list([
      event('V1/1', 0, 40, 1000),
      event('V1/2', 40, 40, 1100, { retime: half, source: { in: 1100, out: 1120 }, transitionIn: { ...dissolve(12), before } }),
    ]);
  const frames = (made: EditList) => {
    const shot = made.tracks[0]?.events[1] as ListEvent;
    const run = runOf(shot, made.rate);
    return Array.from({ length: 34 }, (_, n) => shot.source.in + frameAt(run, 46 + n - shot.record.in));
  };
  const edl = formatOfName('a.edl') as NonNullable<ReturnType<typeof formatOfName>>;
  it('keeps every picture where the format can say it: six frames ahead are three of source', () => {
    expect(frames(readEdl(writeEdl(cut(6)), { rate: RATES['24'] }))).toEqual(frames(cut(6)));
    expect(lossesIn(cut(6), edl)).toEqual([]);
  });
  it('and where it cannot, it is told: five frames ahead are two and a half', () => {
    expect(lossesIn(cut(5), edl).map((n) => n.code)).toEqual(['cannot-carry-part-frames']);
    const off = frames(readEdl(writeEdl(cut(5)), { rate: RATES['24'] })).map((f, i) => Math.abs(f - (frames(cut(5))[i] ?? 0)));
    expect(Math.max(...off)).toBeLessThanOrEqual(1);
    // OpenTimelineIO says it in our own metadata.
    expect(frames(readOtio(writeOtio(cut(5))))).toEqual(frames(cut(5)));
  });
});
