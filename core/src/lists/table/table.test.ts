import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { listOf, piece } from '../../../test/lists';
import { bytesOf } from '../../../test/make';
import { NATURAL } from '../../edit';
import { decimalOf, fractionOf, RATES } from '../../time';
import { recogniseList } from '../registry';
import { guessMapping, readTable, writeTable } from '.';

const at24 = { rate: RATES['24'] };
const events = (text: string, options = {}) => readTable(text, { ...at24, ...options }).tracks[0]?.events ?? [];

describe('a table as a list', () => {
  it('knows the headings in common use, by comma, semicolon and tab', () => {
    for (const by of [',', ';', '\t']) {
      const text = [
        ['Reel', 'Clip Name', 'Source In', 'Source Out', 'Record In', 'Record Out'],
        ['A001', 'Wide, late', '01:00:00:00', '01:00:02:00', '10:00:00:00', '10:00:02:00'],
      ]
        .map((row) => row.map((c) => (c.includes(',') ? `"${c}"` : c)).join(by))
        .join('\r\n');
      expect(events(text)).toMatchObject([
        { reel: 'A001', clipName: 'Wide, late', source: { in: 86_400, out: 86_448 }, record: { in: 864_000, out: 864_048 }, line: 2 },
      ]);
    }
  });
  it('is known as one by its rows, even where no heading says which column is which', () => {
    expect(recogniseList(bytesOf('Rolle;Von;Bis\nA1;10;20\nA2;5;9'))?.name).toBe('table');
    expect(recogniseList(bytesOf('Dear editor,\nplease find, as agreed, the list\nbelow, with thanks'))).toBeNull();
  });
  it('takes a mapping that a person gave, whatever the headings', () => {
    const text = 'one,two,three\n10,34,A7';
    expect(readTable(text, at24).notices).toMatchObject([{ severity: 'unreadable' }]);
    expect(events(text, { columns: { sourceIn: 'one', sourceOut: 'two', reel: 'three' } })).toMatchObject([
      { reel: 'A7', source: { in: 10, out: 34 } },
    ]);
  });
  it('lays rows without record timecode end to end', () => {
    expect(events('in,out\n00:00:00:00,00:00:01:00\n00:00:05:00,00:00:05:12').map((e) => e.record)).toEqual([
      { in: 0, out: 24 },
      { in: 24, out: 36 },
    ]);
  });
  it('reads speed in percent; columns it does not know become notes', () => {
    const [fast, back, held] = events('in,out,speed,Lens\n0,48,200,35 mm\n0,24,-100 %,\n0,24,0,');
    expect(fast).toMatchObject({ retime: { speed: fractionOf(2) }, record: { in: 0, out: 24 }, notes: ['Lens: 35 mm'] });
    expect([back?.retime, held?.retime]).toEqual([{ kind: 'constant', speed: fractionOf(-1) }, { kind: 'freeze' }]);
  });
  it('names the row that could not be read, and goes on', () => {
    const list = readTable('in,out\n0,24\nx,y\n30,40', at24);
    expect(list.tracks[0]?.events).toHaveLength(2);
    expect(list.notices).toMatchObject([{ severity: 'unreadable', place: { line: 3 } }]);
  });
  it('does not take two headings for one field, nor one for two', () => {
    expect(guessMapping(['In', 'Out', 'Name', 'Clip'])).toEqual({ sourceIn: 'In', sourceOut: 'Out', clipName: 'Clip' });
  });
});

it('what was written reads back equal, but for transitions, grades and markers', () => {
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1, maxLength: 8 }), (pieces) => {
      const made = listOf(pieces.map((p) => ({ ...p, join: 0, cdl: null, marked: false })));
      const essence = (list: typeof made) =>
        list.tracks.map((t) =>
          t.events.map(({ line: _, sourceLabels: __, retime, ...e }) => ({
            ...e,
            retime: retime.kind === 'constant' ? Number(decimalOf(retime.speed).toFixed(6)) : retime.kind,
          })),
        );
      expect(essence(readTable(writeTable(made), at24))).toEqual(essence(made));
    }),
  );
});

it('carries names that a spreadsheet would reckon out as text, and reads them as they were', () => {
  const clip = '=HYPERLINK("http://a.example")';
  const made = listOf([{ reel: 'A001', clipName: clip, start: 0, length: 24, retime: NATURAL, join: 0, cdl: null, marked: false }]);
  const text = writeTable(made);
  expect(text).toContain(`"'=HYPERLINK(""http://a.example"")"`);
  expect(readTable(text, at24).tracks[0]?.events[0]).toMatchObject({ clipName: clip, fileName: 'A001.mov' });
});

it('is recognised by its headings, and an edit list is not taken for one', () => {
  expect(recogniseList(bytesOf('Reel,Source In,Source Out\nA,1,2'))?.name).toBe('table');
  expect(recogniseList(bytesOf('001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00'))?.name).toBe('edl');
  expect(recogniseList(bytesOf('Dear editor, come in, and out'))).toBeNull();
});

it('reading never throws, whatever the text', () => {
  fc.assert(fc.property(fc.string(), (s) => readTable(`in,out\n${s}`).format === 'table'));
});
