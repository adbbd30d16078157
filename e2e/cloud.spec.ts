import { expect, test, type Locator, type Page } from '@playwright/test';
import { lookOf, open, watchErrors } from './shared';

watchErrors();
const drawn = (page: Page) => expect(page.getByText(/points, enough for this view/).first()).toBeVisible();

/** A click on whatever lies there: nothing, or a point, after which the next step of the measuring is to be seen. */
async function pickAt(page: Page, x: number, y: number, next: Locator): Promise<void> {
  await page.mouse.click(x, y);
  await next.waitFor({ timeout: 4000 }).catch(() => undefined);
}

test('a section is led along a line of the project, stepped, turned and painted in', async ({ page }) => {
  await open(page, 'clean');
  await page.getByText('By hand', { exact: true }).click();
  await page.getByRole('button', { name: 'Section across' }).click();
  await page.getByRole('menuitem', { name: 'Section across centre of the Lines road' }).click();
  await expect(page.getByText(/^\d+ points(;|$)/)).toBeVisible();
  const station = async () => (await lookOf<{ stationM: number } | undefined>(page, 'rail'))?.stationM ?? NaN;
  await expect.poll(station).not.toBeNaN();
  const before = await station();
  await page.keyboard.press(']');
  await expect.poll(station).toBeCloseTo(before + 2, 6);
  await page.keyboard.press('}');
  await expect.poll(async () => (await lookOf<{ turnDeg: number }>(page, 'rail')).turnDeg).toBe(5);
  await expect(page.getByText(/^\d+ points(;|$)/)).toBeVisible();
  // a distance is measured in the section: whatever lies at these places, points are picked until two are had
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  const cut = (await page.getByLabel(/^Section with/).boundingBox())!;
  const slope = page.getByLabel('Measure', { exact: true }).getByRole('row', { name: /^slope/ });
  const second = page.getByText('Choose the second point');
  for (const [x, had] of [
    [0.4, second],
    [0.55, slope],
    [0.65, slope],
  ] as const)
    for (let y = 0.95; y > 0.2 && !(await had.isVisible()); y -= 0.04)
      await pickAt(page, cut.x + x * cut.width, cut.y + y * cut.height, had);
  await expect(slope).toContainText(/\d+\.\d{3} m/);
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  // a stroke of the brush sets a class at once; undo takes it back
  await page.getByRole('radio', { name: 'Brush' }).click();
  await page.getByRole('combobox', { name: 'What a stroke of the brush does' }).click({ force: true });
  await page.getByRole('option', { name: /^paints 11 / }).click();
  const box = (await page.getByLabel(/^Section with/).boundingBox())!;
  await page.mouse.move(box.x + 0.5 * box.width, box.y + 0.1 * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.5 * box.width, box.y + 0.95 * box.height, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('row', { name: /^road surface \d/ }).first()).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('row', { name: /^road surface \d/ })).toHaveCount(0);
  await page.getByTitle('Close the section').click();
});

test('points are filtered by height above ground, and what is hidden is not selected', async ({ page }) => {
  await open(page, 'clean');
  await page.getByText('By hand', { exact: true }).click();
  await drawn(page);
  await page.getByRole('button', { name: 'Filter' }).click();
  await page.getByLabel('Lowest above ground, m').fill('1');
  await page.getByLabel('Lowest above ground, m').blur();
  await expect(page.getByText(/only from 1 m above ground/)).toBeVisible();
  await page.getByRole('button', { name: 'Select all that is shown' }).click();
  await expect(page.getByText(/^All that is shown: [\d\s]+ points$/)).toBeVisible();
  // ground lies at nothing above itself
  await expect(page.locator('.chosen').getByRole('row', { name: /^ground/ })).toHaveCount(0);
  await expect(page.locator('.chosen').getByRole('row', { name: /^building/ })).toHaveCount(1);
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.locator('.chosen').getByRole('row', { name: /^ground/ })).toHaveCount(1);
});

test('a distance is measured with its deviation, kept under a name, and deleted', async ({ page }) => {
  await open(page, 'clean');
  await drawn(page);
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  await expect(page.getByText('Choose the first point')).toBeVisible();
  const box = (await page.getByLabel(/^3D view of/).boundingBox())!;
  const value = page.getByLabel('Measure', { exact: true }).getByRole('row', { name: /^slope/ });
  const second = page.getByText('Choose the second point');
  for (const [places, had] of [
    [[0.5, 0.55, 0.45], second],
    [[0.58, 0.6, 0.42], value],
  ] as const)
    for (const p of places)
      if (!(await had.isVisible())) await pickAt(page, box.x + p * box.width, box.y + p * box.height, had);
  await expect(value).toContainText(/\d+\.\d{3} m.*± 0\.\d{4} m/);
  const name = `span ${Date.now()}`;
  await page.getByLabel('Name to keep it under').fill(name);
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByTitle(`Delete ${name}`)).toBeVisible();
  await page.reload();
  await drawn(page);
  await page.keyboard.press('d');
  await page.getByTitle(`Delete ${name}`).click();
  await expect(page.getByTitle(`Delete ${name}`)).toHaveCount(0);
});

test('two views have one camera, and the looked-at map says where nobody has looked', async ({ page }) => {
  await open(page, 'clean');
  await page.getByRole('tab', { name: 'Side by side' }).click();
  await expect(page.getByLabel(/^Second view, /)).toBeVisible();
  await expect(page.getByText(/points, enough for this view/)).toHaveCount(2);
  await page.getByRole('combobox', { name: 'Colours of the second view' }).click({ force: true });
  await page.getByRole('option', { name: 'strip', exact: true }).click();
  await expect(page.getByText('in no strip')).toBeVisible();
  await page.getByRole('tab', { name: 'Plan and cloud' }).click();
  await page.getByRole('button', { name: 'Looked at' }).click();
  await expect(page.getByText(/^never/)).toBeVisible();
  await page.getByRole('button', { name: 'Looked at' }).click();
});

test('the ordered area is measured again with another density, and its voids are walked through', async ({ page }) => {
  await open(page, 'prove');
  await page.getByText('Coverage', { exact: true }).first().click();
  await expect(page.getByRole('heading', { name: 'How the area is covered' })).toBeVisible();
  await expect(page.getByText(/of the ordered area has points/)).toBeVisible();
  const wanted = page.getByRole('spinbutton', { name: 'Wanted density, points/m²' });
  await wanted.fill('1');
  await wanted.blur();
  await page.getByRole('button', { name: 'Measure again' }).click();
  await expect(page.getByText('1.0 points/m²', { exact: true })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('tr.hover td').first()).toHaveText('2');
  await page.getByText('Classes', { exact: true }).first().click();
  await expect(page.getByText('Nothing is compared yet.')).toBeVisible();
  await page.getByText('Heights', { exact: true }).click();
});

test('a box is shown alone, a face of it drawn and moved by keys, and what lies in it selected', async ({ page }) => {
  await open(page, 'clean');
  await page.getByText('By hand', { exact: true }).click();
  await page.getByRole('tab', { name: 'Cloud', exact: true }).click();
  await drawn(page);
  await page.getByRole('button', { name: 'Clip to box' }).click();
  await drawn(page);
  const selected = async () => {
    await page.getByRole('button', { name: 'Select the box' }).click();
    const count = page.getByText(/^One shape: [\d\s]+ points$/);
    await expect(count).toBeVisible();
    return Number((await count.textContent())!.replace(/\D/g, ''));
  };
  const all = await selected();
  expect(all).toBeGreaterThan(0);
  const width = async () => (await lookOf<{ widthM: number }>(page, 'section')).widthM;
  const before = await width();
  const side = page.getByRole('slider', { name: 'Left side of the box' });
  await side.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(width).toBeCloseTo(before + 1, 6);
  const end = (await page.getByRole('slider', { name: 'Left side of the box' }).boundingBox())!;
  await page.mouse.move(end.x + 6, end.y + 6);
  await page.mouse.down();
  await page.mouse.move(end.x + 40, end.y - 30, { steps: 4 });
  await page.mouse.up();
  expect(Math.abs((await width()) - before - 1)).toBeGreaterThan(0.1);
  // points over the lowered top are neither shown nor selected
  const top = page.getByRole('slider', { name: 'Top of the box' });
  await top.focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText(/only the box; only heights to [\d.]+ m/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByTitle('Close the section').click();
  await page.getByRole('button', { name: 'Filter' }).click();
  await page.getByRole('button', { name: 'Show all' }).click();
  await page.getByRole('tab', { name: 'Plan and cloud' }).click();
});

test('what was done to a cloud is kept as a recipe and done to another', async ({ page }) => {
  await open(page, 'clean');
  await page.getByText('Recipes', { exact: true }).click();
  await expect(page.getByText(/^Find noise, ground by triangles/).first()).toBeVisible();
  await page.getByLabel('Name of the recipe').fill('Ground as before');
  await page.getByRole('button', { name: 'Keep as a recipe' }).click();
  await expect(page.getByRole('button', { name: 'Forget the recipe' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Clouds' }).click({ force: true });
  await page.getByRole('option', { name: 'old_cloud.las' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Do it', exact: true }).click();
  await expect(page.getByText('Ground as before: 1 of 1 done')).toBeVisible({ timeout: 180_000 });
  await expect(page.getByText(/^Find noise, .*: [1-9]\d* points\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Forget the recipe' }).click();
  await expect(page.getByText('No recipe is kept yet.')).toBeVisible();
});

test('limits of returns are opened without starting anything, and a picture lies under no map before one is taken in', async ({
  page,
}) => {
  await open(page, 'place');
  await page.getByRole('button', { name: 'Limits of returns' }).click();
  await expect(page.getByRole('spinbutton', { name: 'Range to, m' })).toBeVisible();
  await page.waitForTimeout(1000);
  await expect(page.locator('button', { hasText: 'running' })).toHaveText(/^\s*0/);
  await expect(page.getByLabel('Picture under the map')).toHaveCount(0);
  await page.getByRole('button', { name: 'Limits of returns' }).click();
});
