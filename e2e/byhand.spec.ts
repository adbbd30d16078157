import { expect, test, type Locator, type Page } from '@playwright/test';
import sharp from 'sharp';
import { type DatasetDto } from '@longheron/contract/api';
import { base, watchErrors } from './shared';

watchErrors();
test.describe.configure({ mode: 'serial' });
const LONG = { timeout: 180_000 };
const FILES = [
  'vehicle_20260616_traj.csv',
  'vehicle_mount.json',
  'marks_network.csv',
  'vehicle_20260616_head1.laser.h5',
  'vehicle_20260616_head2.laser.h5',
];
let project = 0;

const datasets = async (page: Page): Promise<DatasetDto[]> =>
  (await page.request.get(`${base()}/api/projects/${project}/datasets`)).json();
const made = async (page: Page, kind: string, stage: string) =>
  (await datasets(page)).filter((d) => d.kind === kind && d.stage === stage);
const stage = (page: Page, name: string) => page.goto(`${base()}/project/${project}/${name}`);
async function choose(page: Page, label: string, options: string[]): Promise<void> {
  await page.getByRole('combobox', { name: label, exact: true }).click({ force: true });
  for (const option of options) await page.getByRole('option', { name: option, exact: true }).click();
  await page.keyboard.press('Escape');
}
/** Share of a picture's pixels that pass. */
async function share(of: Locator, passes: (r: number, g: number, b: number) => boolean): Promise<number> {
  const { data } = await sharp(await of.screenshot())
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  let n = 0;
  for (let i = 0; i < data.length; i += 3) if (passes(data[i], data[i + 1], data[i + 2])) n++;
  return (3 * n) / data.length;
}

test('an empty project says what to bring; its files are imported, and they name the system', async ({ page }) => {
  await page.goto(base());
  await page.getByPlaceholder('Name').fill('By hand');
  await page.getByRole('button', { name: 'Create project' }).click();
  await expect(page.getByRole('heading', { name: 'Bring the files of one survey' })).toBeVisible();
  project = Number(/project\/(\d+)/.exec(page.url())![1]);
  // a stage that waits leads to where its needs are met
  await page.getByRole('link', { name: /^Place/ }).click();
  await page.getByLabel('What this stage needs').getByRole('link', { name: 'to Gather' }).first().click();
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.getByRole('button', { name: /demo$/ }).click();
  for (const name of FILES) await page.getByLabel(new RegExp(name)).check();
  await page.getByRole('button', { name: `Import ${FILES.length} files` }).click();
  await page.keyboard.press('Escape');
  for (const name of FILES) await expect(page.locator('.card', { hasText: name })).toBeVisible(LONG);
  await page.getByText('Coordinate system undefined').click();
  await page.getByRole('button', { name: 'ETRS89 / UTM zone 32N (25832)' }).click();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByLabel('What this stage needs')).toHaveCount(0);
});

test('the cloud is made, classified, checked and turned into terrain and report', async ({ page }) => {
  await stage(page, 'place');
  await page.getByRole('button', { name: 'Make the cloud', exact: true }).click();
  await expect.poll(async () => (await made(page, 'point-cloud', 'place')).length, LONG).toBe(1);
  await expect(page.getByRole('button', { name: 'Make the cloud again' })).toBeVisible(LONG);
  const placed = Number((await page.locator('.fact', { hasText: 'Placed' }).innerText()).replace(/\D/g, ''));
  const [cloud] = await made(page, 'point-cloud', 'place');
  expect(cloud.revision.content).toMatchObject({ figures: { points_out: placed } });
  expect(placed).toBeGreaterThan(10_000);

  await stage(page, 'clean/ground');
  await page.getByRole('button', { name: 'Find noise and ground', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Find them again' })).toBeVisible(LONG);
  await expect(page.locator('.fact', { hasText: /^Ground/ })).toContainText('%');

  await stage(page, 'prove/heights');
  await page.getByRole('button', { name: 'Check heights', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Residuals at check marks' })).toBeVisible(LONG);
  await expect(page.getByRole('img', { name: /^Histogram of \d+ residuals/ })).toBeVisible();

  await stage(page, 'deliver');
  await page.getByRole('button', { name: 'Make the terrain model', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Terrain grid, GeoTIFF' })).toBeVisible(LONG);
  await page.getByRole('button', { name: 'Write the report', exact: true }).click();
  const report = page.getByRole('link', { name: 'Report, PDF' });
  await expect(report).toBeVisible(LONG);
  const [download] = await Promise.all([page.waitForEvent('download'), report.click()]);
  expect(download.suggestedFilename()).toMatch(/\.pdf$/);
});

test('clouds are merged and smoothed, and their points add up', async ({ page }) => {
  const [placed] = await made(page, 'point-cloud', 'place');
  const [classified] = await made(page, 'point-cloud', 'clean');
  const count = (d: DatasetDto) =>
    Object.values((d.revision.content as { countsByClass: Record<string, number> }).countsByClass).reduce(
      (a, b) => a + b,
    );
  await stage(page, 'clean/clouds');
  await choose(page, 'Clouds', [placed.name, classified.name]);
  await page.getByRole('button', { name: 'Merge them' }).click();
  await expect.poll(async () => (await made(page, 'point-cloud', 'clean')).length, LONG).toBe(2);
  const merged = (await made(page, 'point-cloud', 'clean')).at(-1)!;
  expect(count(merged)).toBe(count(placed) + count(classified));
  await page.getByRole('button', { name: 'Smooth surfaces' }).click();
  await page.getByRole('button', { name: `Smooth ${merged.name}` }).click();
  await expect.poll(async () => (await made(page, 'point-cloud', 'clean')).length, LONG).toBe(3);
  const smoothed = (await made(page, 'point-cloud', 'clean')).at(-1)!;
  expect((smoothed.revision.content as { smoothed?: object }).smoothed).toBeDefined();
});

test('a cloud that carries colours is shown in them, in space and in section', async ({ page }) => {
  await stage(page, 'gather');
  // a plate of 20 m, red on its western half and green on its eastern
  const lines = Array.from({ length: 40_000 }, (_, i) => {
    const [x, y] = [(i % 200) / 10, Math.floor(i / 200) / 10];
    return `${467_000 + x},${6_215_000 + y},3,${x < 10 ? '255,0,0' : '0,255,0'}`;
  });
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', {
    name: 'plate.csv',
    mimeType: 'text/plain',
    buffer: Buffer.from(`x,y,z,red,green,blue\n${lines.join('\n')}\n`),
  });
  await expect(page.getByText(/^Recognised as .*Show$/).first()).toBeVisible(LONG);
  await expect
    .poll(
      async () =>
        (await made(page, 'point-cloud', 'gather')).some(
          (d) => 'index' in d.revision.content && d.revision.content.index,
        ),
      LONG,
    )
    .toBe(true);
  const [plate] = await made(page, 'point-cloud', 'gather');
  await stage(page, `clean/hand/${plate.id}`);
  await page.getByRole('tab', { name: 'Cloud', exact: true }).click();
  await choose(page, 'Colour by', ['true colour']);
  await expect(page.getByText(/points, enough for this view/)).toBeVisible(LONG);
  const view = page.getByLabel(/^3D view of/);
  const red = (r: number, g: number, b: number) => r > 150 && g < 90 && b < 90;
  const green = (r: number, g: number, b: number) => g > 150 && r < 90 && b < 90;
  await expect.poll(() => share(view, red)).toBeGreaterThan(0.02);
  const [west, east] = [await share(view, red), await share(view, green)];
  expect(east).toBeGreaterThan(0.02);
  expect(Math.abs(west - east)).toBeLessThan(0.5 * Math.max(west, east));
  // a cloud without colours is not offered them
  const [placed] = await made(page, 'point-cloud', 'place');
  await stage(page, `clean/hand/${placed.id}`);
  await expect(page.getByText(/points, enough for this view/)).toBeVisible(LONG);
  await page.getByRole('combobox', { name: 'Colour by' }).click({ force: true });
  await expect(page.getByRole('option', { name: 'intensity' })).toBeVisible();
  await expect(page.getByRole('option', { name: 'true colour' })).toHaveCount(0);
});

test('a project is put away, and taken back', async ({ page }) => {
  await page.goto(base());
  const card = page.getByRole('link', { name: /^By hand/ });
  await expect(card).toContainText(/Gather\s*(done|needs attention)/);
  const menu = page.getByRole('button', { name: 'What to do with By hand' });
  await menu.click();
  await page.getByRole('menuitem', { name: 'Put away' }).click();
  await expect(card).toHaveCount(0);
  await page.getByRole('button', { name: 'Show 1 project put away' }).click();
  await menu.click();
  await page.getByRole('menuitem', { name: 'Take back' }).click();
  await expect(page.getByRole('button', { name: /projects? put away$/ })).toHaveCount(0);
  await expect(card).toBeVisible();
});
