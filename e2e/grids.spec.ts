import { expect, test } from '@playwright/test';
import { open, watchErrors } from './shared';

watchErrors();

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
