import { expect, test, type Page } from '@playwright/test';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { isOf, type DatasetDto } from '@longheron/contract/api';
import { drawRoom, drawRoomPicture } from '@longheron/site/blocks';
import { base, watchErrors } from './shared';

watchErrors();
const LONG = { timeout: 180_000 };
const room = drawRoom(8);
const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
const files = [
  file(
    'picks.csv',
    `image,point,x_px,y_px,sd_px\n${room.seen.map((s) => `${room.pictures[s.image].name},${room.points[s.point].name},${s.u.toFixed(3)},${s.v.toFixed(3)},0.3\n`).join('')}`,
  ),
  file(
    'cameras.json',
    JSON.stringify({ cameras: { hand: { width_px: 1200, height_px: 800, focal_px: room.nominal.f } } }),
  ),
  file(
    'taped.csv',
    `from,to,value_m,value_ft,sd_m,use\nbar a,bar b,2.4,,0.0005,scale\ndoor a,door b,,${(0.914 / 0.3048).toFixed(4)},0.002,check\n`,
  ),
];

test('set-ups that nobody knows the place of are oriented from picks, and a door proves them in feet', async ({
  page,
}) => {
  await page.goto(base());
  await page.getByPlaceholder('Name').fill('Chamber');
  await page.getByRole('button', { name: 'Create project' }).click();
  await expect(page.getByRole('heading', { name: 'Bring the files of one survey' })).toBeVisible();
  const project = Number(/project\/(\d+)/.exec(page.url())![1]);
  const datasets = async (): Promise<DatasetDto[]> =>
    (await page.request.get(`${base()}/api/projects/${project}/datasets`)).json();
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', files);
  await expect
    .poll(async () => (await datasets()).map((d) => d.kind).sort(), LONG)
    .toEqual(['cameras', 'distances', 'picks']);
  await page.keyboard.press('Escape');
  // a frame of its own needs no system
  await page.goto(`${base()}/project/${project}/place/photographs`);
  await expect(page.getByText('Nothing is oriented yet.')).toBeVisible();
  const choose = async (label: string, option: string) => {
    const item = page.locator('.el-form-item', { has: page.getByText(label, { exact: true }) });
    await item.locator('.el-select').first().click();
    await page.locator('.el-select-dropdown__item:visible', { hasText: option }).click();
    await page.keyboard.press('Escape');
  };
  await choose('Picks', 'picks.csv');
  await choose('Known distances', 'taped.csv');
  await page.getByRole('button', { name: 'Adjust the photographs' }).click();
  await expect.poll(async () => (await datasets()).some((d) => d.kind === 'block'), LONG).toBe(true);
  await expect(page.getByText('This block has a frame of its own')).toBeVisible();
  const door = page.getByRole('row', { name: /door a to door b/ });
  await expect(door).toContainText('agrees');
  await expect(door).toContainText('ft');
  await page.locator('.el-radio-button', { hasText: 'Cameras' }).click();
  await expect(page.getByText(/against the list, the picture/)).toBeVisible();
  // what was looked at stays over a reload
  await page.reload();
  await expect(page.getByText(/against the list, the picture/)).toBeVisible();
  await expect(page.getByText('setup_5.jpg')).toBeVisible();
});

/** Clicks a place of the photograph that is open, pixels of the photograph. */
async function clickIn(page: Page, xPx: number, yPx: number): Promise<void> {
  const view = page.getByRole('group', { name: 'Photograph; click where the point is' });
  await expect(view).toHaveAttribute('aria-busy', 'false');
  const box = (await view.boundingBox())!;
  const scale = Math.min(box.width / room.widthPx, box.height / room.heightPx);
  await page.mouse.click(
    box.x + box.width / 2 + (xPx + 0.5 - room.widthPx / 2) * scale,
    box.y + box.height / 2 + (yPx + 0.5 - room.heightPx / 2) * scale,
  );
}
const seenAt = (point: string, image: string) => {
  const at = room.points.findIndex((p) => p.name === point);
  return room.seen.find((r) => r.point === at && room.pictures[r.image].name === image);
};

test('in its photographs a target is picked to its centre, and the door is measured as wide as it is', async ({
  page,
}) => {
  const pictures = await Promise.all(
    room.pictures.map(async ({ name }, k) => {
      const raw = { width: room.widthPx, height: room.heightPx, channels: 3 as const };
      return [name, await sharp(drawRoomPicture(room, k), { raw }).jpeg({ quality: 90 }).toBuffer()] as const;
    }),
  );
  const projects = (await (await page.request.get(`${base()}/api/projects`)).json()) as Array<{
    id: number;
    name: string;
  }>;
  const project = projects.find((p) => p.name === 'Chamber')!.id;
  const datasets = async (): Promise<DatasetDto[]> =>
    (await page.request.get(`${base()}/api/projects/${project}/datasets`)).json();
  await page.goto(`${base()}/project/${project}/gather/files`);
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', {
    name: 'chamber.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from(zipSync(Object.fromEntries(pictures), { level: 0 })),
  });
  await expect.poll(async () => (await datasets()).some((d) => d.kind === 'photo-set'), LONG).toBe(true);
  await page.goto(`${base()}/project/${project}/place/points`);
  // the block was made of picks alone: its photographs are found by their names
  const frames = page.getByRole('group', { name: 'Photographs that show the point' }).getByRole('button');
  await page.getByRole('button', { name: /^door a/ }).click();
  await expect(frames.first()).toBeVisible();
  const rays = page.getByRole('table', { name: 'Picks of door a' }).locator('tbody tr');
  const count = await rays.count();
  expect(count).toBe(room.seen.filter((r) => room.points[r.point].name === 'door a').length);

  // a pick is taken out and made again beside the target: it moves to its centre
  const image = 'setup_5.jpg';
  const truth = seenAt('door a', image)!;
  await page.getByTitle(`Take the pick in ${image} out`).click();
  await expect(rays).toHaveCount(count - 1);
  await frames.filter({ hasText: 'setup_5' }).click();
  await page.keyboard.press('0');
  await clickIn(page, truth.u + 1.5, truth.v - 1.2);
  await expect(page.getByRole('status').filter({ hasText: 'Centre of the target found' })).toBeVisible();
  await expect(rays).toHaveCount(count);
  const list = (await datasets()).find((d) => d.name === 'picks.csv')!;
  const picks = (await (
    await page.request.get(`${base()}/api/projects/${project}/datasets/${list.id}/picks`)
  ).json()) as Array<{ image: string; point: string; xPx: number; yPx: number }>;
  const found = picks.find((p) => p.point === 'door a' && p.image === image)!;
  // the drawn pick that it is held against is good to 0.3 px
  expect(Math.hypot(found.xPx - truth.u, found.yPx - truth.v)).toBeLessThan(1.2);

  // the door's width as a line of two corners, each in three photographs
  await page.locator('.el-radio-button', { hasText: 'Measure' }).click();
  await page.locator('.el-radio-button', { hasText: 'Line' }).click();
  await page.getByRole('button', { name: 'All photographs' }).click();
  for (const point of ['door a', 'door b']) {
    for (const { name } of room.pictures) {
      const at = seenAt(point, name);
      if (!at) continue;
      await frames.filter({ hasText: name.replace('.jpg', '') }).click();
      await expect(page.locator('strong', { hasText: name })).toBeVisible();
      await page.keyboard.press('0');
      await clickIn(page, at.u, at.v);
      await expect(page.getByRole('row', { name: new RegExp(`^${name}`) })).toBeVisible();
    }
    if (point === 'door a') {
      await expect(page.getByText('Corner 1: has a place.')).toBeVisible();
      await page.getByRole('button', { name: 'Next corner' }).click();
    }
  }
  // what is drawn and not kept is there after a reload
  await page.reload();
  await expect(page.getByText('Corner 2 of 2: has a place.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep the line' }).click();
  await expect(page.getByText('m1 is kept.')).toBeVisible();
  const kept = (await datasets()).find((d) => isOf(d, 'features'))!;
  if (!isOf(kept, 'features')) throw new Error('nothing was kept');
  const [{ lengthM, corners }] = kept.revision.content.features;
  const sdM = Math.hypot(...corners.map((c) => Math.max(...c.sd)));
  expect(sdM).toBeLessThan(0.02);
  expect(Math.abs(lengthM - room.door.lengthM)).toBeLessThan(2.5 * sdM);

  // a place that is handed over by its coordinates is looked at by itself, whatever point was open before
  await page.locator('.el-radio-button', { hasText: 'Pick' }).click();
  await page.getByRole('button', { name: /^bar a/ }).click();
  await expect(page.getByRole('table', { name: 'Picks of bar a' })).toBeVisible();
  await page.goto(`${page.url().split('?')[0]}?at=${corners[0].at.map((v) => v.toFixed(3)).join(',')}`);
  await expect(page.getByRole('heading', { name: 'A point of the cloud' })).toBeVisible();
  await expect(frames.first()).toBeVisible();
  await expect(page.getByRole('table', { name: /^Picks of/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Back to the points' }).click();
  await expect(page.getByRole('table', { name: 'Picks of bar a' })).toBeVisible();
});
