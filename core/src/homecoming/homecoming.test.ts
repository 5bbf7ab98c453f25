import { describe, expect, it } from 'vitest';
import { dissolve, event, list, original } from '../../test/make';
import { compile } from '../conform';
import { applyDecisions, type Decision } from '../decisions';
import { takenAs } from '../originals';
import { fractionOf, RATES } from '../time';
import { comeHome, versionIn } from '.';

/** Two shots of one clip, the second coming in by a dissolve, and a title on a layer above. */
const clip = original('/v/A001C001.mov');
const title = event('V2/3', 10, 12, 0, { kind: 'title', reel: 'AX', clipName: 'Title SALT', fileName: '' });
const delivered = list([event('V1/1', 0, 20, 1020), event('V1/2', 20, 20, 1060, { transitionIn: dissolve(6) })], [title]);
const pairs: Decision[] = [
  { kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 20 },
  { kind: 'pair', event: 'V1/2', original: clip.path, sourceStartFrame: 60 },
];
const known = new Map([[clip.path, clip]]);
const cut = (more: Decision[] = []) => applyDecisions(delivered, [...pairs, ...more]).list;
const back = (name: string, more: Parameters<typeof original>[1] = {}) => original(`/back/${name}`, more);
const home = (...clips: ReturnType<typeof back>[]) => comeHome(cut(), known, clips);

describe('a clip that came back', () => {
  it('is for the event whose frames its timecode holds, of its reel, whatever it is called now', () => {
    // 20 frames and six of dissolve from 1020 on, with handles of five.
    const { back: found, out } = home(back('final_shot.mov', { start: 1015, frames: 36 }));
    expect(found).toMatchObject([
      { event: 'V1/1', offers: [{ version: null, by: ['timecode', 'reel'], sourceStartFrame: 5, pairedAt: 20 }], shown: null },
    ]);
    expect(out.map((o) => o.number)).toEqual(['002']);
  });
  it('is offered in its newest version first, the older kept at hand', () => {
    const versions = ['A001C001_001_v2.mov', 'A001C001_001_v10.mov', 'A001C001_001_v1.mov'].map((n) =>
      back(n, { start: 1015, frames: 36 }),
    );
    expect(home(...versions).back[0]?.offers.map((o) => o.version)).toEqual([10, 2, 1]);
  });
  it('that has the number of an event is for no other, though its timecode holds both', () => {
    const whole = { start: 1000, frames: 100 };
    expect(home(back('A001C001.mov', whole)).back.map((b) => b.number)).toEqual(['001', '002']);
    expect(home(back('A001C001_002.mov', whole)).back.map((b) => b.number)).toEqual(['002']);
  });
  it('without timecode is told by name and by a length that leaves equal handles', () => {
    const none = { start: 0, hasTimecode: false, reel: '' };
    expect(home(back('A001C001_001_v1.mov', { ...none, frames: 26 + 16 })).back).toMatchObject([
      { number: '001', offers: [{ by: ['name', 'number', 'length'], sourceStartFrame: 8 }] },
    ]);
    expect(home(back('A001C001_001_v1.mov', { ...none, frames: 26 + 7 })).back).toEqual([]);
    expect(home(back('other.mov', { ...none, frames: 26 })).strangers).toMatchObject([{ fileName: 'other.mov', why: 'no-event' }]);
  });
  it('for a title is told by its name, and begins with it', () => {
    const made = back('title-salt_v03.mov', { start: 0, hasTimecode: false, reel: '', frames: 12 });
    expect(home(made).back).toMatchObject([{ event: 'V2/3', offers: [{ version: 3, sourceStartFrame: 0, pairedAt: null }] }]);
  });
  it('whose speed seems to be in its pictures is offered for none: at the speed of its event it would run twice as slowly', () => {
    const half = event('V1/1', 0, 20, 1040, { source: { in: 1040, out: 1050 }, retime: { kind: 'constant', speed: fractionOf(0.5) } });
    const slow = applyDecisions(list([half]), [{ kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 40 }]).list;
    const of = (start: number, frames: number) => comeHome(slow, known, [back('A001C001_v1.mov', { start, frames })]);
    // Its 20 record frames and six of handle begin three frames of source earlier.
    expect(of(1037, 32).strangers).toMatchObject([{ why: 'speed-baked' }]);
    // As its source runs, with six of handle: ten frames and twice six.
    expect(of(1034, 22).back).toMatchObject([{ number: '001', offers: [{ sourceStartFrame: 6 }] }]);
  });
  it('that lacks frames the cut shows, or runs at another rate, is offered for none, and it is said why', () => {
    expect(home(back('A001C001_001.mov', { start: 1022, frames: 36 })).strangers).toMatchObject([{ why: 'too-short' }]);
    expect(home(back('A001C001_001.mov', { start: 1015, frames: 36, rate: RATES['25'] })).strangers).toMatchObject([{ why: 'other-rate' }]);
    // Of another reel it is another clip, though the timecode is the same.
    expect(home(back('B.mov', { start: 1015, frames: 36, reel: 'B007' })).strangers).toMatchObject([{ why: 'no-event' }]);
  });
});

describe('a clip of which only the picture is known', () => {
  const nameless = back('final.mov', { hasTimecode: false, start: 0, reel: '', frames: 40 });
  const seenAt = (frame: number, path = clip.path, frames = 40) =>
    comeHome(cut(), known, [{ ...nameless, frames }], new Map([[nameless.path, { original: path, frame }]]));
  it('is for the events whose frames it shows', () => {
    // Its first frame is 15 of the original: 20 frames and six of dissolve from 20 on.
    expect(seenAt(15).back).toMatchObject([{ number: '001', offers: [{ by: ['picture'], sourceStartFrame: 5, pairedAt: 20 }] }]);
    expect(seenAt(10, clip.path, 80).back.map((b) => b.number)).toEqual(['001', '002']);
  });
  it('is for none where it lacks frames, and where its picture is from an original that the cut does not use', () => {
    expect(seenAt(21).strangers).toMatchObject([{ why: 'no-event' }]);
    expect(seenAt(15, '/v/B001C001.mov').strangers).toMatchObject([{ why: 'no-event' }]);
  });
  it('goes by its timecode where it has one that fits', () => {
    const told = back('final.mov', { start: 1015, frames: 36 });
    const { back: found } = comeHome(cut(), known, [told], new Map([[told.path, { original: clip.path, frame: 50 }]]));
    expect(found).toMatchObject([{ number: '001', offers: [{ by: ['timecode', 'reel'] }] }]);
  });
});

describe('an event that is shown as what came back', () => {
  const graded = back('A001C001_001_v1.mov', { start: 1015, frames: 36 });
  const cdl = { slope: [2, 2, 2], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 } as const;
  const bake: Decision = {
    kind: 'bake',
    event: 'V1/1',
    bake: { original: graded.path, sourceStartFrame: 5, pairedAt: 20, graded: true },
  };
  const shotAt = (more: Decision[]) => compile(cut(more), [clip, graded]).layers[0]?.shots[0];
  it('is not graded a second time, and is slipped as its source is', () => {
    const grade: Decision = { kind: 'grade', scope: { of: 'event', event: 'V1/1' }, cdl };
    expect(shotAt([grade, bake])).toMatchObject({ original: { path: graded.path }, sourceStart: 5, cdl: null });
    const slip: Decision = { kind: 'slip', event: 'V1/1', original: clip.path, sourceStartFrame: 23 };
    expect(shotAt([bake, slip])?.sourceStart).toBe(8);
  });
  it('says so, and what else is offered', () => {
    const { back: found } = comeHome(cut([bake]), new Map([...known, [graded.path, graded]]), [graded]);
    expect(found).toMatchObject([{ shown: graded.path, offers: [{ path: graded.path }] }]);
  });
});

it('reads the version from a name (common practice)', () => {
  expect(versionIn('shot_010_v03.mov')).toEqual({ stem: 'shot_010', version: 3 });
  expect(versionIn('SALT-V2-comp.exr')).toEqual({ stem: 'SALT-comp', version: 2 });
  expect(versionIn('river.mov')).toEqual({ stem: 'river', version: null });
  expect(versionIn('v7.mov')).toEqual({ stem: '', version: 7 });
});

it('what lies in a folder that is said to be made elsewhere is told from originals, until the word is taken back', () => {
  const clips = [clip, back('one.mov'), original('/back/cards/A002C001.mov')];
  const elsewhere = (folder: string, is = true) => ({ kind: 'made-elsewhere', folder, is }) as const;
  expect([...takenAs(clips, [elsewhere('/back')]).elsewhere]).toEqual(['/back/one.mov', '/back/cards/A002C001.mov']);
  expect([...takenAs(clips, [elsewhere('/back'), elsewhere('/back/cards', false)]).elsewhere]).toEqual(['/back/one.mov']);
  expect([...takenAs(clips, [elsewhere('/back'), elsewhere('/back', false)]).elsewhere]).toEqual([]);
});
