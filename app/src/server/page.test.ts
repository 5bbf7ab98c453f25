import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pictureAt } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { original } from '../../../core/test/make';
import { openStanding } from '../islands/work/standing';

/** The page reckons from what the server sends, through JSON: it must come to what the server itself says. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-page-'));
process.env.GEMELLO_DATA = path.join(folder, 'desk');
process.env.GEMELLO_ROOT = process.cwd();
process.env.GEMELLO_LOG = 'silent';
afterAll(() => rmSync(folder, { recursive: true }));

const LIST = `TITLE: PAGE
001  A001     V     C        01:00:00:10 01:00:01:10 10:00:00:00 10:00:01:00
* FROM CLIP NAME: A001C001
002  A001     V     C        01:00:03:00 01:00:03:00 10:00:01:00 10:00:01:00
* FROM CLIP NAME: A001C001
002  A001     V     D    012 01:00:03:00 01:00:05:00 10:00:01:00 10:00:02:00
M2   A001             048.0                01:00:03:00
* TO CLIP NAME: A001C001
`;

describe('the time map of the page', () => {
  const standing = openStanding();
  let server: (record: number) => { event: string; sourceFrame: number; side: string }[];
  beforeAll(async () => {
    const jobs = await import('./jobs');
    const lists = await import('./lists');
    const { conformView } = await import('./ledger');
    const { workspace } = await import('./workspace');
    const { write } = await import('./db/open');
    const { originals } = await import('./db/schema');
    const id = await jobs.createJob('Page');
    const volume = await jobs.addVolume(id, folder);
    const file = path.join(folder, 'A001C001.mov');
    const data = original(file, { reel: 'A001', start: 86_400, frames: 400 });
    await write((tx) => tx.insert(originals).values({ path: file, jobId: id, volumeId: volume, data, here: true }));
    const answer = await lists.receive(id, 'page.edl', new TextEncoder().encode(LIST), []);
    if ('list' in answer) await lists.take(id, answer.list, { reading: { rate: '24' }, as: 'cut', apart: false });
    jobs.changed(id);
    standing.load(JSON.parse(JSON.stringify(await conformView(id))));
    const { shown } = await workspace(id);
    server = (record) => {
      if (!shown) throw new Error('nothing is shown');
      const { parts, count } = pictureAt(shown, record);
      return parts
        .slice(0, count)
        .filter((p) => p.shot.original)
        .map(({ shot, sourceFrame, side }) => ({ event: shot.event.key, sourceFrame, side }));
    };
  });
  it('says of every frame what the server says, dissolve and double speed included', () => {
    for (let record = 864_000 - 2; record < 864_000 + 50; record++)
      expect(standing.at(record).map(({ event, sourceFrame, side }) => ({ event, sourceFrame, side }))).toEqual(server(record));
  });
  it('names the frame by the label of its file', () => {
    // The first event begins ten frames into its source: 01:00:00:10.
    expect(standing.at(864_000)).toMatchObject([{ number: '001', sourceFrame: 10, source: '01:00:00:10', side: 'alone' }]);
    // At double speed the seventh frame after a dissolve of twelve stands at twice 18.
    expect(standing.at(864_042)).toMatchObject([{ number: '002', sourceFrame: 72 + 36, side: 'alone' }]);
  });
  it('knows nothing before it was told, and nothing where the cut has none', () => {
    expect(openStanding().at(864_000)).toEqual([]);
    standing.load(null);
    expect(standing.at(864_000)).toEqual([]);
  });
});
