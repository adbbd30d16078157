import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { type DatasetDto } from '@longheron/contract/api';
import { type Content } from '@longheron/contract/kinds/adjustment';
import { mountingToJson } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { writeLaserFile } from '@longheron/formats/laser';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { drawFlightPlan, flyPlan, type Flight } from '@longheron/site/flights';
import { base, watchErrors } from './shared';

watchErrors();
test.describe.configure({ mode: 'serial' });
const LONG = { timeout: 180_000 };
let project = 0;
let flight: Flight;
const files: Array<{ name: string; mimeType: string; buffer: Buffer }> = [];

test.beforeAll(async () => {
  const folder = mkdtempSync(join(tmpdir(), 'longheron-flight-'));
  flight = flyPlan(drawFlightPlan(12, 'crossing', 0.15), parseSystem('EPSG:25832+5773'), [467_200, 6_215_300]);
  const laser = join(folder, 'flight.laser.h5');
  const { week } = flight.returns;
  await writeLaserFile(
    laser,
    { week, sensor: 'scanner', serial: '', rangeSdM: 0.015, angleSdDeg: 0.004 },
    flight.returns,
  );
  const add = (name: string, buffer: Buffer) => files.push({ name, mimeType: 'application/octet-stream', buffer });
  add('flight.laser.h5', readFileSync(laser));
  add('flight.csv', Buffer.from([...trajectoryCsv(flight.trajectory)].join('')));
  add('mount.json', Buffer.from(JSON.stringify(mountingToJson({ sensors: { scanner: flight.mounting } }))));
  rmSync(folder, { recursive: true });
});

const datasets = async (page: Page): Promise<DatasetDto[]> =>
  (await page.request.get(`${base()}/api/projects/${project}/datasets`)).json();
const ofKind = async (page: Page, kind: string) => (await datasets(page)).filter((d) => d.kind === kind);

test('a flight is taken in', async ({ page }) => {
  await page.goto(base());
  await page.getByPlaceholder('Name').fill('Flight');
  await page.getByRole('button', { name: 'Create project' }).click();
  await expect(page.getByRole('heading', { name: 'Bring the files of one survey' })).toBeVisible();
  project = Number(/project\/(\d+)/.exec(page.url())![1]);
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', files);
  await expect.poll(async () => (await datasets(page)).length, LONG).toBe(3);
  await page.keyboard.press('Escape');
  await page.getByText('Coordinate system undefined').click();
  await page.getByRole('button', { name: 'ETRS89 / UTM zone 32N (25832)' }).click();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
});

test('its strips are found, their shortest length is seen to act, and they are adjusted', async ({ page }) => {
  await page.goto(`${base()}/project/${project}/place/strips`);
  await expect(page.locator('.ready', { hasText: 'flight.laser.h5' })).toContainText('ready');
  const said = page.locator('.length');
  await expect(said).toContainText('7 strips');
  await said.getByRole('spinbutton').fill('2000');
  await said.getByRole('spinbutton').press('Enter');
  await expect(said).toContainText('0 strips');
  await expect(said).toContainText(/\b0\s*% of the recorded time/);
  await said.getByRole('button', { name: 'Usual length' }).click();
  await expect(said).toContainText('7 strips');
  await said.getByRole('spinbutton').fill('50');
  await said.getByRole('spinbutton').press('Enter');
  await page.getByRole('button', { name: 'Adjust the strips', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'How the strips agree' })).toBeVisible(LONG);
  const [adjustment] = await ofKind(page, 'adjustment');
  const { figures } = adjustment.revision.content as Content;
  expect(figures.after_m).toBeLessThan(1.25 * figures.noise_m);
  const roll = figures.parameters.find((p) => p.name === 'roll')!;
  expect(Math.abs(roll.after - flight.trueMounting.boresightDeg.roll)).toBeLessThan(4 * roll.sd!);
  // the same figures on the page
  await expect(page.getByRole('row', { name: /^roll/ })).toContainText(roll.after.toFixed(4).replace('-', '−'));
  await expect(page.getByText('Held: common plan shift')).toBeVisible();
});

test('overlaps are stepped through by keyboard, and stay where one was over a reload', async ({ page }) => {
  await page.goto(`${base()}/project/${project}/place/strips`);
  const profile = page.getByRole('group', { name: 'Cross-profile' });
  await expect(profile.locator('.mono').first()).toHaveText(/^1 of \d+$/);
  await profile.focus();
  await profile.press('ArrowRight');
  await expect(profile.locator('.mono').first()).toHaveText(/^2 of \d+$/);
  await expect(profile.locator('svg path.first')).toHaveAttribute('d', /M/);
  await page.locator('.el-radio-button', { hasText: 'After' }).click();
  await page.locator('.el-radio-button', { hasText: 'Pairs of strips' }).click();
  await page.reload();
  await expect(page.getByRole('columnheader', { name: 'patches' })).toBeVisible();
  await expect(page.locator('.el-radio-button.is-active', { hasText: 'After' })).toBeVisible();
  // a pair leads to its worst place
  await page.locator('table[class*=figures] tbody tr', { hasText: 'less' }).first().click();
  await expect(profile).toBeVisible();
});

test('mounting and trajectory become datasets, and the cloud is made from both', async ({ page }) => {
  await page.goto(`${base()}/project/${project}/place/strips`);
  await page.getByRole('button', { name: 'Take the calibrated mounting' }).click();
  await expect.poll(async () => (await ofKind(page, 'mounting')).length, LONG).toBe(2);
  await page.getByRole('button', { name: 'Take the corrected trajectory' }).click();
  await expect.poll(async () => (await ofKind(page, 'trajectory')).length, LONG).toBe(2);
  await page.getByRole('button', { name: 'Make the cloud from both' }).click();
  await expect.poll(async () => (await ofKind(page, 'point-cloud')).length, LONG).toBe(1);
  await page.getByRole('listitem').getByRole('link', { name: 'Cloud' }).click();
  await expect(page.getByRole('heading', { name: 'Make the cloud' })).toBeVisible();
  const [cloud] = await ofKind(page, 'point-cloud');
  const made = (await datasets(page)).filter((d) =>
    ['adjusted-mounting', 'adjusted-trajectory'].includes(d.revision.madeBy),
  );
  for (const d of made) expect(cloud.revision.inputs.map((i) => i.datasetId)).toContain(d.id);
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'How the strips agree' })).toBeVisible();
});
