import { readFile } from 'node:fs/promises';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { base, open, watchErrors } from './shared';

watchErrors();
const scene = (page: Page) => page.locator('.cloud .scene');
/** Share of the page that the 3D view takes. */
async function share(page: Page): Promise<number> {
  const box = (await scene(page).boundingBox())!;
  return (box.width * box.height) / (1280 * 800);
}

test('the cloud has the room: 45 % of the page, 60 % with both columns folded, and they stay folded', async ({
  page,
}) => {
  await open(page, 'clean');
  await page.getByRole('tab', { name: 'Cloud', exact: true }).click();
  await expect(scene(page)).toBeVisible();
  expect(await share(page)).toBeGreaterThanOrEqual(0.45);
  await page.keyboard.press(',');
  await page.keyboard.press('.');
  await expect(page.getByRole('complementary', { name: 'Sheet' })).toBeHidden();
  expect(await share(page)).toBeGreaterThanOrEqual(0.6);
  await page.reload();
  await expect(scene(page)).toBeVisible();
  expect(await share(page)).toBeGreaterThanOrEqual(0.6);
  await page.getByRole('button', { name: 'Show the sheet' }).click();
  await page.getByRole('button', { name: /^Show Clouds/ }).click();
  await expect(page.getByRole('complementary', { name: 'Sheet' })).toBeVisible();
  await page.getByRole('tab', { name: 'Plan and cloud' }).click();
});

test('map and table share the height by a bar that is drawn and stays', async ({ page }) => {
  await open(page, 'prove');
  await page.getByText('Coverage', { exact: true }).first().click();
  const map = page.locator('.plan').first();
  await expect(page.getByRole('heading', { name: 'How the area is covered' })).toBeVisible();
  const height = async () => (await map.boundingBox())?.height ?? 0;
  await expect.poll(height).toBeGreaterThan(200);
  const before = await height();
  const bar = page.locator('.el-splitter-bar__dragger').first();
  const at = (await bar.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2, at.y - 120, { steps: 6 });
  await page.mouse.up();
  await expect.poll(height).toBeLessThan(before - 80);
  const after = await height();
  await page.reload();
  await expect.poll(async () => Math.abs((await height()) - after)).toBeLessThan(12);
});

test('a table is sorted by a heading and saved with all its digits', async ({ page }) => {
  await open(page, 'prove');
  await page.getByText('Heights', { exact: true }).click();
  const table = page.getByLabel(/^Residuals, worst first/);
  await table.getByRole('button', { name: 'Given H, m' }).click();
  const heights = async () =>
    (await table.locator('tbody tr td:nth-child(6)').allInnerTexts()).map(Number).filter(Number.isFinite);
  const shown = await heights();
  expect(shown.length).toBeGreaterThan(10);
  expect(shown).toEqual([...shown].sort((a, b) => a - b));
  await table.locator('thead').hover();
  await table.getByRole('button', { name: 'This table' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Save as CSV' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('height_residuals.csv');
  const lines = (await readFile(await download.path(), 'utf8')).trim().split('\n');
  expect(lines[0]).toContain('Mark,Role,Cover,');
  expect(lines).toHaveLength(shown.length + 1);
  expect(lines[1].split(',')[4]).toMatch(/^\d+\.\d+$/);
});

for (const path of [
  '/',
  ...[
    'gather/files',
    'gather/photographs',
    'position/quality',
    'position/compute',
    'position/sessions',
    'position/marks',
    'position/events',
    'position/network',
    'position/totalStation',
    'place/cloud',
    'place/photographs',
    'place/points',
    'place/match',
    'place/register',
    'place/soundings',
    'place/mountingTest',
    'clean/ground',
    'clean/find',
    'clean/hand',
    'clean/recipes',
    'clean/clouds',
    'prove/heights',
    'prove/plan',
    'prove/strips',
    'prove/coverage',
    'prove/classes',
    'deliver/products',
    'deliver/orthophoto',
    'deliver/depths',
    'deliver/sidescan',
  ].map((p) => `/project/1/${p}`),
])
  test(`${path} can be read aloud and used by keyboard`, async ({ page }) => {
    await page.goto(`${base()}${path}`);
    await expect(page.locator('h1').first()).toBeVisible();
    await page.waitForTimeout(1500);
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.flatMap((v) => v.nodes.map((n) => `${v.id}, ${n.target.join(' ')}`))).toEqual([]);
  });
