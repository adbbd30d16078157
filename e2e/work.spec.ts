import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import { lookOf, base, open, watchErrors } from './shared';

watchErrors();
const stage = (page: Page, name: string) =>
  page.getByLabel('Course').getByRole('link', { name: new RegExp(`^${name}`) });

test('a new project: files first, then the system they speak for, then a foreign table of marks', async ({ page }) => {
  await page.goto(base());
  await page.getByPlaceholder('Name').fill('Second reach');
  await page.getByRole('button', { name: 'Create project' }).click();
  await expect(page.getByText('Coordinate system undefined')).toBeVisible();
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.getByRole('button', { name: /demo$/ }).click();
  await page.getByLabel(/vehicle_20260616_traj.csv/).check();
  await page.getByRole('button', { name: 'Import 1 file' }).click();
  await expect(page.locator('.card', { hasText: 'vehicle_20260616_traj.csv' })).toBeVisible();
  await page.getByText('Coordinate system undefined').click();
  await page.getByRole('button', { name: 'ETRS89 / UTM zone 32N (25832)' }).click();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByText('ETRS89 / UTM zone 32N (25832)').first()).toBeVisible();
  // the same file by another door is not stored again; a table in another column order is mapped
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', {
    name: 'points.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('No;North;East;Level\nP1;6215310,20;467120,40;2,95\nP2;6215330,10;467118,00;2,91\n'),
  });
  await expect(page.locator('.row', { hasText: 'points.txt' })).toContainText('Recognised as');
  await expect(page.getByText(/^Recognised as .*Show$/).first()).toBeVisible();
  await page.keyboard.press('Escape');
  await page.locator('.card', { hasText: 'points.txt' }).click();
  await expect(page.getByText('What the columns hold')).toBeVisible();
  const choose = async (label: string, option: string) => {
    await page.locator('.choice', { hasText: label }).first().locator('.el-select__wrapper').click();
    await page
      .locator('.el-select-dropdown:visible')
      .last()
      .locator('.el-select-dropdown__item', { hasText: new RegExp(`^${option}$`) })
      .click();
    await expect(page.locator('.el-select-dropdown:visible')).toHaveCount(0);
  };
  await choose('Name', 'No');
  await choose('Easting', 'East');
  await choose('Northing', 'North');
  await choose('Height', 'Level');
  await page.getByRole('button', { name: 'Read it as marks' }).click();
  await expect(page.getByText('Say in which unit the coordinates are.')).toBeVisible();
  await choose('Unit of coordinates', 'metre');
  await page.getByRole('button', { name: 'Read it as marks' }).click();
  await expect(page.locator('.card', { hasText: 'points.txt' })).toContainText('2 marks');
});

test('notices: the exchanged mark is repaired by one action, another is accepted with a reason', async ({ page }) => {
  await open(page, 'gather');
  await page.keyboard.press('n');
  await page.getByRole('button', { name: 'Exchange easting and northing' }).click();
  await expect(page.getByRole('button', { name: 'Exchange easting and northing' })).toHaveCount(0);
  const feet = page.locator('.notice', { hasText: 'in feet' });
  await feet.getByRole('button', { name: 'Accept' }).click();
  await expect(feet.getByText('Say why it can be accepted')).toBeVisible();
  await feet.getByRole('textbox').fill('The second list is not used');
  await feet.getByRole('button', { name: 'Accept' }).click();
  await expect(page.getByText('Accepted because: The second list is not used')).toBeVisible();
});

test('a changed mounting puts everything after it out of date; one action brings it up to date', async ({ page }) => {
  await open(page, 'gather');
  await page.locator('.card', { hasText: 'vehicle_mount.json' }).click();
  const arm = page
    .getByLabel('head1 lever arm z')
    .locator('input')
    .or(page.locator('input[aria-label="head1 lever arm z"]'))
    .first();
  await arm.fill('-1.9');
  await arm.press('Enter');
  await page.getByRole('button', { name: 'Change the mounting' }).click();
  for (const name of ['Place', 'Clean', 'Prove', 'Deliver'])
    await expect(stage(page, name)).toContainText('out of date');
  await stage(page, 'Deliver').click();
  await page.getByRole('button', { name: 'Bring up to date' }).first().click();
  for (const name of ['Place', 'Clean', 'Prove', 'Deliver'])
    await expect(stage(page, name)).toContainText(/done|needs attention/);
  // undo takes the edit back, and the results made with it are out of date again
  await stage(page, 'Gather').click();
  await page.locator('.card', { hasText: 'vehicle_mount.json' }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Undone: "vehicle_mount.json"')).toBeVisible();
  await expect(stage(page, 'Place')).toContainText('out of date');
  await page.keyboard.press('Control+Shift+z');
  await expect(stage(page, 'Place')).not.toContainText('out of date');
});

test('a section is drawn in plan by two clicks, measured in width and stepped by keys', async ({ page }) => {
  await open(page, 'clean');
  await page.getByRole('tab', { name: 'Plan', exact: true }).click();
  await page.getByRole('button', { name: 'Draw a section' }).click();
  const map = page.locator('.ol-viewport');
  const box = (await map.boundingBox())!;
  await page.waitForTimeout(1500);
  await map.click({ position: { x: box.width * 0.4, y: box.height * 0.5 } });
  await page.waitForTimeout(400);
  await map.click({ position: { x: box.width * 0.6, y: box.height * 0.5 } });
  await expect(page.getByLabel('Section', { exact: true })).toBeVisible();
  const north = async () => (await lookOf<{ from: number[] } | undefined>(page, 'section'))?.from[1] ?? NaN;
  await expect.poll(north).not.toBeNaN();
  const before = await north();
  await page.getByLabel('Section', { exact: true }).getByRole('spinbutton').fill('4');
  await page.getByLabel('Section', { exact: true }).getByRole('spinbutton').press('Enter');
  await page.locator('body').click({ position: { x: 5, y: 5 } });
  await page.keyboard.press(']');
  await expect.poll(north).toBeCloseTo(before + 4, 1);
  await page.keyboard.press('[');
  await expect.poll(north).toBeCloseTo(before, 1);
  await expect(page.getByText(/\d+ points/).last()).toBeVisible();
});

test('a mark is left out only with a reason', async ({ page }) => {
  await open(page, 'prove');
  await page.locator('tr', { hasText: 'in statistics' }).first().click();
  await page.getByRole('button', { name: 'Leave the mark out' }).click();
  await expect(page.getByText('Say why; the reason is printed in the report.')).toBeVisible();
  await page.getByLabel('Reason to leave the mark out').fill('Under a parked car');
  await page.getByRole('button', { name: 'Leave the mark out' }).click();
  await expect(stage(page, 'Prove')).toContainText('out of date');
  await page.getByRole('button', { name: 'Bring up to date' }).first().click();
  await expect(page.locator('tr', { hasText: 'left out' })).toBeVisible();
});

test('products are downloaded under names people can use, and a view joins the report', async ({ page }) => {
  await open(page, 'deliver');
  const get = async (name: string) => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name, exact: true }).click(),
    ]);
    return { name: download.suggestedFilename(), bytes: await readFile(await download.path()) };
  };
  const tiff = await get('Terrain grid, GeoTIFF');
  expect(tiff.name).toMatch(/^Terrain_model_r\d+\.tif$/);
  expect(tiff.bytes.subarray(0, 2).toString()).toBe('II');
  const xml = await get('TIN, LandXML 1.2');
  expect(xml.bytes.toString('utf8', 0, 400)).toContain('<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"');
  await page.getByRole('tab', { name: 'Cloud', exact: true }).click();
  await expect(page.getByText(/points, enough for this view/)).toBeVisible();
  await page.getByRole('button', { name: 'Put in report' }).click();
  await expect(page.getByAltText(/revision \d+, by/)).toBeVisible();
  await page.getByRole('button', { name: /the report/ }).click();
  await expect(page.getByText(/Out of date: /)).toHaveCount(0);
});

test('the project’s unit changes the residuals and their headings', async ({ page }) => {
  await open(page, 'prove');
  await expect(page.getByRole('columnheader', { name: 'Given H, m', exact: true })).toBeVisible();
  await page.getByTitle('Change the reference line').click();
  await page.locator('.el-form-item', { hasText: 'Length unit' }).locator('.el-select').click();
  await page
    .locator('.el-select-dropdown:visible')
    .getByText(/^US survey foot/)
    .click();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByRole('columnheader', { name: 'Given H, ftUS', exact: true })).toBeVisible();
});

test('a trajectory is computed again, with another mask, and its trail keeps both', async ({ page }) => {
  await open(page, 'position');
  // the computed one is chosen by itself, before the one that was taken in
  await expect(page.getByRole('heading', { name: 'Inertial unit' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'How it was computed' })).toBeVisible();
  await page.getByText('Compute', { exact: true }).click();
  await expect(page.getByText(/is the nearest that covers the whole span/)).toBeVisible();
  // the form holds what it was computed with
  await expect(page.getByLabel('Latitude of the base')).toHaveValue(/^56\.081712/);
  await page.getByLabel('Latitude of the base').fill('');
  await expect(page.getByText('Type latitude, longitude and height of the base.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Compute it again' })).toBeDisabled();
  await page.getByLabel('Latitude of the base').fill('56 61 51.42 N');
  await expect(page.getByText('61 minutes are more than 59')).toBeVisible();
  await page.getByText('Base where its header says').click();
  const mask = page.locator('input[aria-label="Lowest elevation, °"]');
  await mask.fill('15');
  await mask.press('Enter');
  await page.getByRole('button', { name: 'Compute it again' }).click();
  await expect(page.getByText('Revision 2', { exact: true })).toBeVisible();
  await page.getByText('Quality', { exact: true }).click();
  await expect(page.getByText('motion, ').first()).toBeVisible();
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'This less that' })).toBeVisible();
  // the header's position is used, and that is said
  await page.getByRole('button', { name: /^\d+ notices$/ }).click();
  await expect(page.getByText('The position of the base is that of its header.').first()).toBeVisible();
});

test('an event is left out with a reason, and the photographs keep their events', async ({ page }) => {
  await open(page, 'position');
  await page.getByText('Events', { exact: true }).click();
  await expect(page.getByText(/photographs are paired with an event, by their times/)).toBeVisible();
  await expect(page.getByText('its lever arm is applied, once', { exact: false })).toBeVisible();
  const row = page.getByRole('row', { name: /road_0012\.jpg/ });
  await row.getByRole('button', { name: 'Leave out' }).click();
  await page.getByPlaceholder('Why it is left out').fill('Test of the shutter');
  await page.getByRole('button', { name: 'Leave it out' }).click();
  await expect(page.getByText('left out: Test of the shutter')).toBeVisible();
  // its photograph is left over, the next keeps its own event
  await expect(page.getByText(/Without an event: .*road_0012\.jpg/)).toBeVisible();
  await expect(page.getByRole('row', { name: /^14 .*road_0013\.jpg/ })).toBeVisible();
});

test('the sky of a computation: residuals and slips by satellite, and a satellite is left out by them', async ({
  page,
}) => {
  await open(page, 'position');
  await page.getByText('Sky above the receiver').click();
  await expect(page.getByRole('img', { name: 'Satellites above the receiver' })).toBeVisible();
  await page.getByText('Residuals and slips by satellite').click();
  await expect(page.getByRole('img', { name: 'Phase residuals and slips by satellite against time' })).toBeVisible();
  const worst = page.getByRole('row', { name: /^[GE]\d\d \d/ }).first();
  await worst.click();
  await expect(worst).toHaveClass(/chosen/);
});

test('stops are found by themselves, the one that nobody wrote down among them, and sessions show their base', async ({
  page,
}) => {
  await open(page, 'position');
  await page.getByText('Marks', { exact: true }).click();
  await expect(page.getByText(/^6 marks, all fixed/)).toBeVisible();
  await page.getByRole('combobox', { name: 'Occupations' }).click({ force: true });
  await page.getByRole('option', { name: 'found by themselves' }).click();
  await page.locator('input[aria-label="Antenna over the mark, m"]').fill('1.8');
  await page.getByRole('button', { name: 'Make them again' }).click();
  // C4 has no line in the field book
  await expect(page.getByRole('row', { name: /^P\d .*C4: / })).toBeVisible();
  await page.getByText('Sessions', { exact: true }).click();
  await expect(page.getByText(/POLE: 100\.0\s*% fixed/)).toBeVisible();
});

test('photographs on this computer become a list that events can be paired with; the pictures stay', async ({
  page,
}) => {
  await open(page, 'position');
  await page.getByText('Events', { exact: true }).click();
  const photo = (name: string) => ({ name, mimeType: 'image/jpeg', buffer: Buffer.from([0xff, 0xd8, 0xff, 0xd9]) });
  await page.locator('input[type=file][accept="image/jpeg"]').setInputFiles([photo('b.jpg'), photo('a.jpg')]);
  await expect(page.getByText('2 photographs read')).toBeVisible();
  await page.getByRole('combobox', { name: 'Photographs' }).click({ force: true });
  await expect(page.getByRole('option', { name: 'photographs_2.csv' })).toBeVisible();
});

test('a base is found from stations of the service, and stands among the marks', async ({ page }) => {
  await open(page, 'position');
  await page.getByText('Network', { exact: true }).click();
  await page.getByRole('button', { name: 'Ask for stations nearby' }).click();
  await page.getByTitle('Fetch the observations of FJR1').click();
  await expect(page.getByRole('checkbox', { name: /Use fjr1_/ })).toBeChecked();
  // one station carries the base, but nothing checks it
  await page.getByRole('combobox', { name: 'Taped and levelled' }).click({ force: true });
  await page.getByRole('option', { name: 'nothing' }).click();
  await page.getByRole('button', { name: 'Adjust', exact: true }).click();
  await expect(page.getByText('nothing checks BRN1', { exact: true })).toBeVisible();
  await page.getByTitle('Fetch the observations of HLM2').click();
  await expect(page.getByRole('checkbox', { name: /Use hlm2_/ })).toBeChecked();
  await page.getByRole('button', { name: 'Adjust again' }).click();
  await expect(page.getByRole('row', { name: /^HLM2–BRN1 12\.0 km fixed/ })).toBeVisible();
  await expect(page.getByText(/with 3 observations to spare/)).toBeVisible();
});

test('points are selected by a shape, rejected, kept over a reload, and given back', async ({ page }) => {
  await open(page, 'clean');
  await page.getByText('By hand', { exact: true }).click();
  await expect(page.getByText(/points, enough for this view/)).toBeVisible();
  const ground = page.getByRole('row', { name: /^ground \d/ }).first();
  const before = await ground.innerText();
  await page.keyboard.press('r');
  const box = (await page.getByRole('application', { name: /rectangle.*cloud/ }).boundingBox())!;
  const at = (x: number, y: number) => [box.x + x * box.width, box.y + y * box.height] as const;
  await page.mouse.move(...at(0.35, 0.35));
  await page.mouse.down();
  await page.mouse.move(...at(0.65, 0.65), { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText(/^One shape: [\d\s]+ points$/)).toBeVisible();
  const count = Number((await page.getByText(/^One shape:/).innerText()).replace(/\D/g, ''));
  expect(count).toBeGreaterThan(100);
  // taken away again inside, with Alt for one shape
  await page.keyboard.down('Alt');
  await page.mouse.move(...at(0.45, 0.45));
  await page.mouse.down();
  await page.mouse.move(...at(0.55, 0.55), { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await expect(page.getByText(/^2 shapes: [\d\s]+ points$/)).toBeVisible();
  const fewer = Number((await page.getByText(/^2 shapes:/).innerText()).replace(/^2 shapes|\D/g, ''));
  expect(fewer).toBeLessThan(count);
  expect(fewer).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Reject' }).click();
  const said = page.getByText(/^[\d\s]+ points are rejected\.$/);
  await expect(said).toBeVisible();
  expect(Number((await said.innerText()).replace(/\D/g, ''))).toBe(fewer);
  await page.reload();
  await expect(said).toBeVisible();
  await expect(page.getByText(/rejected points hidden/)).toBeVisible();
  // all that is shown becomes one class, and undo brings both back
  await page.getByRole('button', { name: 'Select all that is shown' }).click();
  await page.getByRole('combobox', { name: 'Class to set' }).click({ force: true });
  await page.getByRole('option', { name: '9 water' }).click();
  await page.getByRole('button', { name: 'Set class' }).click();
  await expect(page.getByRole('row', { name: /^water \d/ }).first()).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('row', { name: /^water \d/ })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Nothing was changed by hand in this revision.')).toBeVisible();
  expect(await ground.innerText()).toBe(before);
});

test('what is found by itself is selected first; nothing changes before an act', async ({ page }) => {
  await open(page, 'clean');
  await page.getByText('Find', { exact: true }).click();
  await page.getByRole('combobox', { name: 'What to find' }).click({ force: true });
  await page.getByRole('option', { name: 'By height above ground' }).click();
  await page.getByRole('button', { name: 'Find', exact: true }).click();
  await expect(page.getByText(/points found, and selected; nothing is changed yet/)).toBeVisible();
  await expect(page.getByText(/^One shape: [\d\s]+ points$/)).toBeVisible();
  await expect(page.getByRole('row', { name: /^water/ })).toHaveCount(0);
  await page.getByRole('combobox', { name: 'Class to set' }).click({ force: true });
  await page.getByRole('option', { name: '9 water' }).click();
  await page.getByRole('button', { name: 'Set class' }).click();
  await expect(page.getByRole('row', { name: /^water \d/ }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('row', { name: /^water \d/ })).toHaveCount(0);
});

test('strips are compared where they overlap', async ({ page }) => {
  await open(page, 'prove');
  await page.getByText('Strips', { exact: true }).click();
  await page.getByRole('button', { name: 'Compare again' }).click();
  await expect(page.getByRole('row', { name: /^2 less 1 / })).toBeVisible();
  await expect(page.getByText(/RMS of [\d\s]+ differences along the normal/)).toBeVisible();
  await page.getByText('Heights', { exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Residuals at check marks' })).toBeVisible();
});

test('a target that is not found is picked in its picture, and the pick taken back', async ({ page }) => {
  await open(page, 'prove');
  await page.getByText('Plan', { exact: true }).click();
  const row = page.getByRole('row', { name: /^K5 check/ });
  await row.click();
  await expect(row).not.toContainText('pick');
  await page.getByLabel('Brightness about the mark; click where the centre of the target is').click();
  await expect(row).toContainText('pick');
  await page.keyboard.press('Delete');
  await expect(row).not.toContainText('pick');
  await expect(page.getByRole('heading', { name: 'Taped and levelled on site' })).toBeVisible();
});

test('a text of points comes in as a cloud, and its columns can be read anew', async ({ page }) => {
  await open(page, 'gather');
  const lines = Array.from({ length: 300 }, (_, i) => `${6215000 + i * 0.1} ${467050 + (i % 7)} ${3 + i / 100} ${i}`);
  const name = `northing_first_${Date.now()}.xyz`;
  await page.getByRole('button', { name: 'Import files' }).click();
  await page.setInputFiles('input[type=file]', {
    name,
    mimeType: 'text/plain',
    buffer: Buffer.from(lines.join('\n')),
  });
  await expect(page.getByText(/^Recognised as .*Show$/).first()).toBeVisible();
  await page.keyboard.press('Escape');
  await page.locator('.card', { hasText: name }).click();
  await expect(page.getByRole('heading', { name: 'What the columns hold' })).toBeVisible();
  const choose = async (column: string, option: string) => {
    await page.getByRole('combobox', { name: `Column of ${column}` }).click({ force: true });
    await page.locator('.el-select-dropdown:visible').last().getByText(option, { exact: true }).click();
    await expect(page.locator('.el-select-dropdown:visible')).toHaveCount(0);
  };
  await choose('Easting', 'column 2');
  await choose('Northing', 'column 1');
  await page.getByRole('button', { name: 'Read the points anew' }).click();
  await expect(page.getByRole('button', { name: 'Read the points anew' })).toBeDisabled();
  await expect(page.getByRole('columnheader', { name: 'northing' })).toBeVisible();
});
