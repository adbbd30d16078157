import { expect, test, type Page } from '@playwright/test';
import { type DatasetDto, type ListedProject } from '@longheron/contract/api';
import { base, open, watchErrors } from './shared';

watchErrors();
const LONG = { timeout: 180_000 };
const datasetsOf = async (page: Page, project: number) =>
  (await (await page.request.get(`${base()}/api/projects/${project}/datasets`)).json()) as DatasetDto[];
const course = (page: Page, name: string) =>
  page.getByLabel('Course').getByRole('link', { name: new RegExp(`^${name}`) });

/** Chooses in a list of the drawer or the sheet, by the list's name. */
async function choose(page: Page, name: string, option: string): Promise<void> {
  await page.locator('.el-select', { has: page.locator(`input[aria-label="${name}"]`) }).click();
  await page.locator('.el-select-dropdown__item:visible', { hasText: option }).click();
  // a list of which several may be chosen stays open
  await page.keyboard.press('Escape');
  await expect(page.locator('.el-select-dropdown:visible')).toHaveCount(0);
}

test('a geoid grid is held against a known point', async ({ page }) => {
  await open(page, 'gather');
  await page.locator('.card', { hasText: 'site_geoid.gtx' }).click();
  await page.getByLabel('Latitude of the known point').fill('56 05 00 N');
  await page.getByLabel('Longitude of the known point').fill('8 28 00 E');
  // a levelled and an ellipsoidal height exchanged
  await page.getByLabel('Height above the ellipsoid').fill('3');
  await page.getByLabel('Levelled height').fill('43.73');
  await page.getByRole('button', { name: 'Check', exact: true }).click();
  await expect(page.getByText('The two heights are exchanged, or the grid has the other sign.')).toBeVisible();
  await page.getByLabel('Height above the ellipsoid').fill('43.73');
  await page.getByLabel('Levelled height').fill('3');
  await page.getByRole('button', { name: 'Check', exact: true }).click();
  await expect(page.getByText('The grid agrees with the point.')).toBeVisible();
});

test('heights of a project leave a geoid grid and come back to it; everything says what it follows', async ({
  page,
}) => {
  const all = (await (await page.request.get(`${base()}/api/projects`)).json()) as ListedProject[];
  const road = all.find((p) => p.name === 'Brannholm Road 2025')!.id;
  await expect.poll(async () => (await datasetsOf(page, road)).some((d) => d.kind === 'report'), LONG).toBe(true);
  await page.goto(`${base()}/project/${road}/prove`);
  const bar = page.getByTitle('Change the reference line');
  await expect(bar).toContainText('H above site_geoid.gtx');
  await bar.click();
  await choose(page, 'Heights refer to', 'EGM96 geoid');
  // the made-up geoid lies some 3 cm above EGM96
  await expect(page.getByLabel('What it does to coordinates').getByRole('row', { name: /^Height/ })).toContainText(
    '+0.03',
  );
  await expect(page.getByText('Carried along, and can be taken back: marks_network.csv (21)')).toBeVisible();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(bar).toContainText('H EGM96');
  for (const name of ['Clean', 'Prove', 'Deliver']) await expect(course(page, name)).toContainText('out of date', LONG);
  await bar.click();
  await choose(page, 'Heights refer to', 'the geoid site_geoid.gtx');
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(bar).toContainText('H above site_geoid.gtx');
  // the marks have their first digits again, and with them what was made of them
  await expect(course(page, 'Prove')).not.toContainText('out of date', LONG);
  await expect(course(page, 'Deliver')).not.toContainText('out of date');
});

test('a local system is found from marks, names the one that is wrong, and is worked in', async ({ page }) => {
  await page.goto(base());
  await page.getByPlaceholder('Name').fill('Quay');
  await page.getByRole('button', { name: 'Create project' }).click();
  await expect(page.getByText('Coordinate system undefined')).toBeVisible();
  const project = Number(/project\/(\d+)/.exec(page.url())![1]);
  const known: Array<[string, number, number, number]> = [
    ['Q1', 467010.2, 6215020.4, 3.214],
    ['Q2', 467310.8, 6215480.1, 5.871],
    ['Q3', 466820.5, 6215710.9, 2.99],
    ['Q4', 467120, 6214650.3, 7.443],
    ['Q5', 466700.7, 6214900.6, 4.12],
  ];
  // a quarter turn clockwise about 467000, 6215000; the third is typed 30 cm off
  const onSite = known.map(([name, e, n, h], i): (typeof known)[number] => [
    name,
    1000 + (n - 6215000) + (i === 2 ? 0.3 : 0),
    2000 - (e - 467000),
    h - 2,
  ]);
  const list = (rows: typeof known, crs: string) =>
    Buffer.from(
      `${crs}name,role,easting_m,northing_m,height_m\n${rows.map(([name, ...v]) => `${name},control,${v.map((x) => x.toFixed(4)).join(',')}`).join('\n')}\n`,
    );
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', [
    { name: 'control.csv', mimeType: 'text/csv', buffer: list(known, '# crs: EPSG:25832+5773\n') },
    { name: 'onsite.csv', mimeType: 'text/csv', buffer: list(onSite, '') },
  ]);
  await page.keyboard.press('Escape');
  for (const name of ['control.csv', 'onsite.csv'])
    await expect(page.locator('.card', { hasText: name })).toBeVisible(LONG);
  await page.keyboard.press('Escape');
  await page.getByText('Coordinate system undefined').click();
  await page.getByRole('button', { name: 'ETRS89 / UTM zone 32N (25832)' }).click();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByText('The reference line is set.')).toBeVisible();
  await page.goto(`${base()}/project/${project}/gather/systems`);
  await choose(page, 'Marks in the local system', 'onsite.csv');
  await choose(page, 'The same marks in the project’s system', 'control.csv');
  await page.getByRole('button', { name: 'Fit a local system to marks' }).click();
  const row = page.getByRole('row', { name: /^Q3/ });
  await expect(row).toContainText('stands out in plan', LONG);
  await page.locator('.el-select', { has: page.locator('input[aria-label="Marks left out"]') }).click();
  await page.keyboard.type('Q3');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Again, with these settings' }).click();
  await expect(row).toContainText('left out', LONG);
  await expect(row).toContainText(/30\.00/);
  await page.getByRole('button', { name: 'Work in this system' }).click();
  await expect(page.getByText('Carried along, and can be taken back: control.csv (5)')).toBeVisible(LONG);
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByTitle('Change the reference line')).toContainText('Local system (Local_system.wkt)');
  const control = (await datasetsOf(page, project)).find((d) => d.name === 'control.csv')!;
  const { marks } = control.revision.content as { marks: Array<{ eastingM: number; northingM: number }> };
  expect(Math.abs(marks[0].eastingM - 1020.4)).toBeLessThan(0.002);
  expect(Math.abs(marks[0].northingM - 1989.8)).toBeLessThan(0.002);
});
