import { describe, expect, it } from 'vitest';
import { original as made } from '../../test/make';
import { asDelivered, newEvent, type Standing, type StandingEvent } from '../edit';
import { fileMark, type Original, stampFrom, stampOfTake } from '../originals';
import { RATES, range } from '../time';
import { basisOfPictures, basisOfProof } from './basis';
import { compile, shotOf } from './compile';

const rate = RATES['24'];
const original = (path: string, stamp: string): Original => made(path, { frames: 500, stamp, start: 0 });
const event = (key: string, from: number, to: number, more: Partial<StandingEvent> = {}): StandingEvent => ({
  ...asDelivered(newEvent({ key, sourceRate: rate, source: range(100, 100 + to - from), record: range(from, to) })),
  pair: { original: key, sourceStartFrame: 100, acceptedAt: 100, rate },
  ...more,
});
const cut = (...layers: StandingEvent[][]): Standing => ({
  title: 'T',
  format: '',
  notes: [],
  metadata: {},
  rate,
  start: null,
  framing: null,
  tracks: layers.map((events, i) => ({ name: `V${i + 1}`, kind: 'picture' as const, enabled: true, events, markers: [] })),
  notices: [],
  sequences: [],
  fit: 'inside',
  rateMode: 'usual',
  referenceFit: null,
});
const files = (stamp = 's1~p1') => [original('one', stamp), original('two', 's2~'), original('over', 's3~')];
const proofOf = (list: Standing, originals = files()) => {
  const conform = compile(list, originals);
  const shot = shotOf(conform, 'one');
  if (!shot) throw new Error('no shot');
  return JSON.stringify([basisOfProof(conform, shot), basisOfPictures(shot)]);
};
const plain = () => cut([event('one', 0, 50), event('two', 50, 90)]);

describe('what a proof rests on', () => {
  const before = proofOf(plain());
  it.each<[string, Standing, Original[]?]>([
    ['the file was replaced under its name, of the same size', plain(), files('s9~p1')],
    ['the speed is another', cut([event('one', 0, 50, { retime: { kind: 'constant', speed: { num: 2, den: 1 } } }), event('two', 50, 90)])],
    ['it lies elsewhere in the cut', cut([event('one', 1, 51), event('two', 51, 90)])],
    ['a layer lies over it now', cut([event('one', 0, 50), event('two', 50, 90)], [event('over', 40, 60)])],
    [
      'a transition was put at its end',
      cut([
        event('one', 0, 50),
        event('two', 50, 90, { transitionIn: { type: 'dissolve', duration: 10, before: 5, from: 'previous', wipeCode: null } }),
      ]),
    ],
    [
      'it is slipped',
      cut([event('one', 0, 50, { pair: { original: 'one', sourceStartFrame: 101, acceptedAt: 100, rate } }), event('two', 50, 90)]),
    ],
  ])('changes when %s', (_, list, originals) => expect(proofOf(list, originals)).not.toBe(before));
  it.each<[string, Standing, Original[]?]>([
    ['nothing did', plain()],
    ['only a paper beside the file was written anew', plain(), files('s1~p2')],
    ['an event elsewhere is trimmed', cut([event('one', 0, 50), event('two', 50, 80)])],
  ])('stays when %s', (_, list, originals) => expect(proofOf(list, originals)).toBe(before));
});

describe('the mark of a file', () => {
  it('is that of all its pieces, without what lies beside them', () => {
    const stamp = stampOfTake([{ stamp: stampFrom('a', 'x') }, { stamp: stampFrom('b', 'y') }]);
    expect(fileMark({ stamp, path: '/p', bytes: 1 })).toBe('a+b');
  });
  it('goes by path and size where no stamp is known', () => expect(fileMark({ stamp: '', path: '/p', bytes: 7 })).toBe('/p 7'));
});
