import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { numberIn } from '../media/test/footage';
import { eventsOf, jobOf, START, shown, withNumberedFiles } from './numbered';

/** Lanes and values, on pictures that carry their own number: what is moved is read back from the viewer before and after it is decided. */
withNumberedFiles();

/** The numbers that both sides of the viewer show now. */
async function numbersSeen(page: Page): Promise<[number, number]> {
  const both = await page.evaluate(async () => {
    type Read = { width: number; height: number; pixels: Uint8Array };
    const canvas = document.querySelector('[data-testid=compared] canvas') as HTMLCanvasElement & {
      viewer: { read(side: string): Promise<Read> };
    };
    return Promise.all(
      ['a', 'b'].map(async (side) => {
        const { width, height, pixels } = await canvas.viewer.read(side);
        const y = Math.floor(height / 4);
        return { width, row: Array.from(pixels.subarray(y * width * 4, (y + 1) * width * 4)) };
      }),
    );
  });
  const [a, b] = both.map(({ width, row }) => {
    const rgb = new Uint8Array(width * 3);
    for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) rgb[x * 3 + c] = row[x * 4 + c] ?? 0;
    // One row, as the picture has it at a quarter of its height.
    return numberIn(rgb, width, 1);
  });
  return [a ?? -1, b ?? -1];
}

const lanes = (page: Page) => page.getByRole('region', { name: 'Lanes' });
const canvasOf = (page: Page) => lanes(page).getByRole('img', { name: /^Lanes: / });
/** Opens the proof at a frame of the cut, with an event chosen. */
async function open(page: Page, job: string, event: string, frame: number): Promise<void> {
  await page.goto(`/job/${job}/proof?event=${event}&frame=${START + frame}`);
  await shown(page, START + frame);
  await canvasOf(page).focus();
}

test('arrows move what is chosen, both sides of it are seen as they would be, Esc drops it and Enter keeps it', async ({
  request,
  page,
}) => {
  const job = await jobOf(request);
  const key = (await eventsOf(request, job)).get('005')?.key ?? '';
  await open(page, job, key, 100);
  await lanes(page).getByLabel('Arrows move').selectOption('cut');
  await canvasOf(page).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  const moved = page.getByTestId('moved');
  await expect(moved).toContainText('its cut rolled by +2');
  // 004 at half speed shows 72 + 12 at its new last frame; 005 at double speed begins 4 frames later.
  await expect.poll(() => numbersSeen(page)).toEqual([72 + 12, 1000 + 24 + 4]);
  await page.keyboard.press('Escape');
  await expect(moved).toHaveCount(0);
  expect((await eventsOf(request, job)).get('005')?.record).toEqual({ in: START + 96, out: START + 120 });
  await page.keyboard.press('ArrowLeft');
  await expect(moved).toContainText('rolled by -1');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await eventsOf(request, job)).get('005')?.record.in).toBe(START + 95);
  await page.keyboard.press('z');
  await expect.poll(async () => (await eventsOf(request, job)).get('005')?.record.in).toBe(START + 96);
});

test('what cannot be moved so far goes as far as it can, and says why', async ({ request, page }) => {
  const job = await jobOf(request);
  const key = (await eventsOf(request, job)).get('012')?.key ?? '';
  await open(page, job, key, 270);
  await lanes(page).getByLabel('Arrows move').selectOption('source');
  await canvasOf(page).focus();
  // 48 + 24 frames of 150 are used: 78 are left.
  for (let i = 0; i < 9; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('moved')).toContainText('slipped by +78');
  await expect(page.getByTestId('moved')).toContainText('no further: the original has not enough frames');
  await page.keyboard.press('Escape');
});

test('a handle is dragged, and the event is slipped under the pointer', async ({ request, page }) => {
  const job = await jobOf(request);
  const key = (await eventsOf(request, job)).get('001')?.key ?? '';
  await open(page, job, key, 5);
  await lanes(page).getByRole('button', { name: 'Fit event' }).click();
  const box = await canvasOf(page).boundingBox();
  if (!box) throw new Error('no lanes');
  // The event and as much again on both sides: 72 frames, with 12 pixels of room.
  const perFrame = (box.width - 24) / 72;
  const x = box.x + 12 + 36 * perFrame;
  // V1 is the lower of two lanes; its lower half slips.
  const y = box.y + box.height - 32;
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 2 * perFrame, y, { steps: 4 });
  await page.mouse.move(x - 4 * perFrame, y, { steps: 4 });
  await expect(page.getByTestId('moved')).toContainText('slipped by +4');
  await expect.poll(() => numbersSeen(page)).toEqual([14, 37]);
  await page.mouse.up();
  await expect.poll(async () => (await eventsOf(request, job)).get('001')?.pair?.sourceStartFrame).toBe(14);
  await page.keyboard.press('z');
  await expect.poll(async () => (await eventsOf(request, job)).get('001')?.pair?.sourceStartFrame).toBe(10);
});

test('an event is dragged to another layer, or put there by keys, as far as there is room', async ({ request, page }) => {
  const job = await jobOf(request);
  const key = (await eventsOf(request, job)).get('001')?.key ?? '';
  const layerOf = async () => {
    const { conform } = await (await request.get(`/api/jobs/${job}/ledger?of=conform`)).json();
    return conform.list.tracks.find((t: { events: { key: string }[] }) => t.events.some((e) => e.key === key))?.name;
  };
  await open(page, job, key, 5);
  await lanes(page).getByRole('button', { name: 'Fit event' }).click();
  const box = await canvasOf(page).boundingBox();
  if (!box) throw new Error('no lanes');
  // Its upper half moves all of it; the lane above is V2.
  const x = box.x + 12 + 36 * ((box.width - 24) / 72);
  const top = box.y + box.height - 84;
  await page.mouse.move(x, top + 6);
  await page.mouse.down();
  await page.mouse.move(x, top - 20, { steps: 4 });
  const moved = page.getByTestId('moved');
  await expect(moved).toContainText('moved to V2');
  await page.mouse.up();
  await expect.poll(layerOf).toBe('V2');
  await expect(moved).toHaveCount(0);
  await page.keyboard.press('Alt+ArrowDown');
  await expect(moved).toContainText('moved to V1');
  await page.keyboard.press('Enter');
  await expect.poll(layerOf).toBe('V1');
});

test('values are typed, say what the list said and who decided, and go back', async ({ request, page }) => {
  const job = await jobOf(request);
  const key = (await eventsOf(request, job)).get('005')?.key ?? '';
  await open(page, job, key, 100);
  await page.getByRole('tab', { name: 'Values' }).click();
  const values = page.getByTestId('values');
  const speed = values.getByLabel('Speed (%, minus is reverse)');
  await expect(speed).toHaveValue('200');
  await speed.fill('100');
  await speed.press('Enter');
  await expect.poll(async () => (await eventsOf(request, job)).get('005')?.retime).toEqual({ kind: 'natural' });
  await expect(values).toContainText('list: 200;');
  await values.getByRole('button', { name: 'Speed: as the list has it' }).click();
  await expect(speed).toHaveValue('200');
  await values.getByLabel('Slip (frames)').fill('half');
  await values.getByLabel('Slip (frames)').press('Enter');
  await expect(page.getByText('Slip: A whole number of frames.')).toBeVisible();
});

test('attributes are copied from one event to several at once', async ({ request, page }) => {
  const job = await jobOf(request);
  const before = await eventsOf(request, job);
  await open(page, job, before.get('009')?.key ?? '', 195);
  await page.getByRole('tab', { name: 'Values' }).click();
  const values = page.getByTestId('values');
  await values.getByRole('button', { name: 'Copy from 009' }).click();
  await canvasOf(page).focus();
  await page.keyboard.press('ControlOrMeta+a');
  await expect(values.getByRole('heading')).toContainText('12 events');
  await values.getByLabel('Grade', { exact: true }).uncheck();
  await values.getByRole('button', { name: 'Paste from 009 onto 11 events' }).click();
  await expect.poll(async () => (await eventsOf(request, job)).get('002')?.placement?.scaleX).toBe(0.6);
  expect((await eventsOf(request, job)).get('004')?.retime).toEqual(before.get('004')?.retime);
  await page.keyboard.press('z');
  await expect.poll(async () => (await eventsOf(request, job)).get('002')?.placement ?? null).toBeNull();
});

test('a layer is hidden in the viewer, held fast, and put below another', async ({ request, page }) => {
  const job = await jobOf(request);
  const events = await eventsOf(request, job);
  await open(page, job, events.get('012')?.key ?? '', 270);
  const layers = page.getByRole('list', { name: 'Layers' });
  await layers.getByRole('button', { name: 'Layer V2: hide in the viewer' }).click();
  await expect(page.getByTestId('compared')).toContainText('Conform without V2');
  await layers.getByRole('button', { name: 'Layer V2: show in the viewer' }).click();
  const order = async () => {
    const { conform } = await (await request.get(`/api/jobs/${job}/ledger?of=conform`)).json();
    return conform.list.tracks.map((t: { name: string }) => t.name);
  };
  await layers.getByRole('button', { name: 'Layer V2: one lower' }).click();
  await expect.poll(order).toEqual(['V2', 'V1']);
  await page.keyboard.press('z');
  await expect.poll(order).toEqual(['V1', 'V2']);
});

test('the playhead goes where a timecode is typed, to cuts, and a still is saved with names', async ({ request, page }) => {
  const job = await jobOf(request);
  await open(page, job, (await eventsOf(request, job)).get('001')?.key ?? '', 5);
  const box = page.getByLabel('Record timecode; type another to go there');
  await box.fill('4.05');
  await box.press('Enter');
  await shown(page, START + 101);
  await page.keyboard.press('PageDown');
  await shown(page, START + 120);
  await page.keyboard.press('PageUp');
  await shown(page, START + 96);
  await box.fill('someday');
  await box.press('Enter');
  await expect(page.getByText('“someday” is no timecode.')).toBeVisible();
  const [still] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save still' }).click()]);
  expect(still.suggestedFilename()).toBe('01-00-04-00.png');
});

test('everything on it can be read by a screen reader and has a name', async ({ request, page }) => {
  const job = await jobOf(request);
  await open(page, job, (await eventsOf(request, job)).get('002')?.key ?? '', 30);
  const words = page.getByRole('list', { name: 'Events on the lanes' });
  await expect(words).toContainText(
    'Event 002 B001C001, layer V1, paired, from 01:00:01:00, 24 frames, begins with a dissolve of 12 frames',
  );
  await page.getByRole('button', { name: 'View', exact: true }).click();
  await page.getByLabel('Scopes').check();
  await page.getByLabel('Safe areas').check();
  for (const tab of ['Values', 'Findings']) {
    await page.getByRole('tab', { name: tab }).click();
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => [v.id, v.nodes[0]?.html])).toEqual([]);
  }
});
