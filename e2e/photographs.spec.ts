import { expect, test } from '@playwright/test';
import { type DatasetDto } from '@longheron/contract/api';
import { drawRoom } from '@longheron/site/blocks';
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
