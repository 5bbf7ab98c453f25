import { expect, it } from 'vitest';
import { event, list, original } from '../../test/make';
import { compile } from '../conform';
import { applyDecisions } from '../decisions';
import { LIST_FORMATS, readDelivery, writeList } from '../lists';
import { basisOfClip, fileUrl, pathIn, planReturn, relinkedList, returnAskedSchema, USUAL_RETURN, withLinks } from '.';

/** The editor's offline clip has the name that the returned clip will have. */
const clip = original('/v/A001C001.mov');
const offline = { clipName: 'A001C001', fileName: 'A001C001.mov', mediaPath: 'file:///Users/editor/offline/A001C001.mov' };
const cut = applyDecisions(list([event('V1/1', 0, 20, 1005, offline), event('V1/2', 20, 20, 1050, { ...offline, clipName: 'lost' })]), [
  { kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 5 },
]).list;
const plan = planReturn(cut, compile(cut, [clip]), { ...USUAL_RETURN, title: 'BACK' });

it('the address of a file is that of RFC 8089, whatever machine it is on', () => {
  expect(fileUrl('/Volumes/BACK 1/A001C001.mov')).toBe('file:///Volumes/BACK%201/A001C001.mov');
  expect(fileUrl(pathIn('E:\\back', 'A001C001', 'A001C001.0000100.dpx'))).toBe('file:///E:/back/A001C001/A001C001.0000100.dpx');
  expect(fileUrl(pathIn('\\\\nas\\back\\', 'A.mov'))).toBe('file://nas/back/A.mov');
  expect(pathIn('/back/', '', 'A.mov')).toBe('/back/A.mov');
});

it.each([
  [null, ''],
  ['/mnt/back', 'file:///mnt/back/A001C001.mov'],
  ['E:\\back', 'file:///E:/back/A001C001.mov'],
])('a returned list says that its clips are in %s, and never where the offline clip of the same name lay', (folder, address) => {
  const linked = withLinks(plan.list, plan.clips, folder);
  const [returned, kept] = linked.tracks[0]?.events ?? [];
  expect(returned?.mediaPath).toBe(address);
  // What has no clip keeps what the editor had.
  expect(kept?.mediaPath).toBe(offline.mediaPath);
  for (const format of LIST_FORMATS.filter((f) => ['otio', 'xmeml'].includes(f.name))) {
    const files = writeList(linked, format, `BACK.${format.extensions[0]}`).files.map(({ fileName, bytes }) => ({ fileName, bytes }));
    const read = readDelivery(files, {}).list.tracks[0]?.events[0];
    expect([format.name, read?.fileName, read?.mediaPath]).toEqual([format.name, 'A001C001.mov', address]);
    const text = files.map((f) => new TextDecoder().decode(f.bytes)).join('');
    expect(text.split('offline/A001C001.mov')).toHaveLength(2);
  }
});

it('a list of originals alone says where they are', () => {
  const relinked = relinkedList(cut, compile(cut, [clip]), 'ORIGINALS');
  expect(relinked.tracks[0]?.events.map((e) => e.mediaPath)).toEqual(['file:///v/A001C001.mov', offline.mediaPath]);
});

it('another machine needs its folder named', () => {
  expect(returnAskedSchema.safeParse({ links: 'elsewhere' }).error?.issues[0]?.message).toContain('Say which folder');
  expect(returnAskedSchema.parse({ links: 'elsewhere', linksIn: ' E:\\back ' }).linksIn).toBe('E:\\back');
});

it('a clip rests on where it stands in the cut only where it sounds or reads by it: a shot put in before leaves the others as they are', () => {
  const later = applyDecisions(list([event('V1/1', 50, 20, 1005, offline)]), [
    { kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 5 },
  ]).list;
  const basis = (of: typeof cut, asked: object) => {
    const [first] = planReturn(of, compile(of, [clip]), { ...returnAskedSchema.parse(asked), title: 'BACK' }).clips;
    return JSON.stringify(first && basisOfClip(first, clip));
  };
  const moved = (asked: object) => basis(cut, asked) !== basis(later, asked);
  expect([{}, { codec: 'review', burnIn: '{source}' }].map(moved)).toEqual([false, false]);
  expect([{ sound: 'reference' }, { codec: 'review', burnIn: '{record}' }].map(moved)).toEqual([true, true]);
});
