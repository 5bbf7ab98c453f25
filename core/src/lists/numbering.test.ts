import { describe, expect, it } from 'vitest';
import { event, list } from '../../test/make';
import { numbered } from './numbering';
import { formatOfName, type ListFormat } from './registry';

const format = (name: string) => formatOfName(name) as ListFormat;
const bare = (key: string, at: number, number = '') => event(key, at, 24, 1000 + at, { number, clipName: key });
const numbersIn = (given: ReturnType<typeof list>) => given.tracks.map((t) => t.events.map((e) => [e.clipName, e.number]));

describe('events that no list numbers', () => {
  const cut = () => ({
    ...list([]),
    tracks: [
      { name: 'V1', kind: 'picture' as const, events: [bare('one', 0), bare('two', 48)] },
      { name: 'V2', kind: 'picture' as const, events: [bare('title', 24), bare('above', 48)] },
      { name: 'A1', kind: 'sound' as const, events: [bare('sound', 0)] },
    ],
  });
  it('are numbered in record order, the lower layer first, pictures before sound', () => {
    expect(numbersIn(numbered(cut()))).toEqual([
      [
        ['one', '001'],
        ['two', '003'],
      ],
      [
        ['title', '002'],
        ['above', '004'],
      ],
      [['sound', '005']],
    ]);
  });
  it('keep clear of the numbers that others have', () => {
    const some = {
      ...cut(),
      tracks: [{ name: 'V1', kind: 'picture' as const, events: [bare('one', 0), bare('two', 24, '001'), bare('three', 48)] }],
    };
    expect(numbersIn(numbered(some))).toEqual([
      [
        ['one', '002'],
        ['two', '001'],
        ['three', '003'],
      ],
    ]);
  });
  it.each(['a.otio', 'a.xml', 'a.aaf'])('have a number once they are read from %s, and keep their key whatever that is', (name) => {
    const read = format(name).read(format(name).write(cut()));
    expect(read.tracks.flatMap((t) => t.events.map((e) => e.number)).sort()).toEqual(['001', '002', '003', '004', '005']);
    const later = cut();
    const again = format(name).read(format(name).write({ ...later, tracks: later.tracks.slice(1) }));
    const keyOf = (l: typeof read) => l.tracks.flatMap((t) => t.events).find((e) => e.clipName === 'title')?.key;
    expect(keyOf(again)).toBe(keyOf(read));
  });
});
