import Papa from 'papaparse';
import { expect, it } from 'vitest';
import { event, list, original } from '../../test/make';
import { compile } from '../conform';
import { applyDecisions, type Decision } from '../decisions';
import { planReturn, returnCsv, returnHtml, returnSheet, USUAL_RETURN } from '.';

const clip = original('/v/A001C001.mov');
const title = event('V2/3', 5, 10, 0, { kind: 'title', reel: 'AX', clipName: 'Title <SALT>', fileName: '' });
const decisions: Decision[] = [
  { kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 5 },
  {
    kind: 'grade',
    scope: { of: 'event', event: 'V1/1' },
    cdl: { slope: [1.1, 1, 0.9], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.8 },
  },
];
const cut = applyDecisions(
  list([event('V1/1', 0, 20, 1005), event('V1/2', 20, 20, 1050, { clipName: 'B001C009 & more' })], [title]),
  decisions,
).list;
const plan = planReturn(cut, compile(cut, [clip]), { ...USUAL_RETURN, title: 'BACK' });
const of = {
  title: 'BACK',
  made: '2026-04-12 10:00',
  cut,
  asked: USUAL_RETURN,
  plan,
  files: ['BACK.edl'],
  problems: [{ fileName: 'A001C001.mov', message: 'has 3 frames, not 37' }],
  decisions: ['Event 001: graded'],
};

it('a report for machines has a row for each event, with what was returned and what was not', () => {
  const [header = [], ...rows] = Papa.parse<string[]>(returnCsv(of).trim()).data;
  expect(header).toHaveLength(14);
  expect(rows.map((r) => [r[0], r[4], r[8], r[9], r[11]])).toEqual([
    ['001', 'A001C001.mov', '5', '12', '(1.1000 1.0000 0.9000)(0.0000 0.0000 0.0000)(1.0000 1.0000 1.0000) saturation 0.8000'],
    ['002', '', '', '', ''],
    ['003', '', '', '', ''],
  ]);
  expect(rows[0]?.[13]).toContain('has 3 frames, not 37');
});

it('a report for people says first what is missing and why, and what is not as planned; names are text, not markup', () => {
  const page = returnHtml(returnSheet(of));
  expect(page).toContain('1 clip for 1 of 3 events');
  expect(page).toContain('<li>Event 002 (B001C009 &amp; more) has no accepted original');
  // A title needs no clip.
  expect(page).not.toContain('Event 003');
  expect(page).toContain('1 thing is not as planned');
  expect(page).toContain('with handles of 12 frames');
  expect(page).toContain('<h2>Decided since the turnover</h2><ul><li>Event 001: graded</li></ul>');
  expect(page).toContain('5 12');
});
