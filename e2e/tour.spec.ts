import { expect, test } from '@playwright/test';
import { base, open, watchErrors } from './shared';

watchErrors();

test('from the list of projects through the six stages by keys', async ({ page }) => {
  await page.goto(base());
  await page.getByText('Brannholm Reach').click();
  await expect(page.getByText('vehicle_20260616_traj.csv').first()).toBeVisible();
  await expect(page.getByText('ETRS89 / UTM zone 32N (25832)')).toBeVisible();
  for (const [key, heading] of [
    ['2', 'Quality of the trajectory'],
    ['3', 'Make the cloud'],
    ['4', 'Find noise and ground'],
    ['5', 'Accuracy of heights'],
    ['6', 'Terrain model'],
  ]) {
    await page.keyboard.press(key);
    await expect(page.getByRole('heading', { name: heading, exact: true })).toBeVisible();
  }
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'Accuracy of heights' })).toBeVisible();
});

test('the cloud is drawn to enough for this view and a point is picked with all it holds', async ({ page }) => {
  await open(page, 'clean');
  await page.getByRole('tab', { name: 'Cloud', exact: true }).click();
  await expect(page.getByText(/points, enough for this view/)).toBeVisible();
  const canvas = page.locator('.cloud canvas');
  const box = (await canvas.boundingBox())!;
  let found = false;
  for (let i = 0; i < 40 && !found; i++) {
    await canvas.click({ position: { x: box.width * (0.35 + 0.01 * i), y: box.height * 0.55 } });
    found = await page.getByText('SD H (1 SD)').isVisible();
  }
  expect(found).toBe(true);
  await page.getByText('Every attribute and trail').click();
  await expect(page.getByText('Scanner channel')).toBeVisible();
  await expect(page.getByText('from vehicle_mount.json, revision 1')).toBeVisible();
});

test('a slash finds a mark and leads to its residual', async ({ page }) => {
  await open(page, 'gather');
  await page.keyboard.press('/');
  await page.getByRole('textbox', { name: 'Find' }).fill('control C5');
  await expect(page.getByRole('option', { name: /C5 in marks_network.csv/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Mark C5' })).toBeVisible();
});

test('a residual is marked by hovering, and the chosen mark survives a reload', async ({ page }) => {
  await open(page, 'prove');
  const row = page.locator('tr', { hasText: 'K4' }).first();
  await row.hover();
  await expect(row).toHaveClass(/hover/);
  await row.click();
  await expect(page.getByRole('heading', { name: 'Mark K4' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Mark K4' })).toBeVisible();
});
