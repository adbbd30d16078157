import { expect, test, type Page } from '@playwright/test';
import { open, watchErrors } from './shared';

watchErrors();
const stage = (page: Page, name: string) =>
  page.getByLabel('Course').getByRole('link', { name: new RegExp(`^${name}`) });

test('heights of the project follow a grid that was imported, and every stage says so', async ({ page }) => {
  await open(page, 'gather');
  await page.getByTitle('Change the reference line').click();
  await page.getByRole('combobox', { name: 'Heights refer to' }).click({ force: true });
  await page.getByRole('option', { name: 'the geoid site_geoid.gtx' }).click();
  // what would change stands beside what is set before it is
  await expect(page.getByRole('row', { name: /^Heights .* the geoid site_geoid\.gtx$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByTitle('Change the reference line')).toContainText('above site_geoid.gtx');
  for (const name of ['Place', 'Clean', 'Prove', 'Deliver'])
    await expect(stage(page, name)).toContainText('out of date');
  await page.getByTitle('Change the reference line').click();
  await page.getByRole('combobox', { name: 'Heights refer to' }).click({ force: true });
  await page.getByRole('option', { name: /^EGM96 geoid/ }).click();
  await page.getByRole('button', { name: 'Set the reference line' }).click();
  await expect(page.getByTitle('Change the reference line')).toContainText('H EGM96');
  await expect(stage(page, 'Place')).not.toContainText('out of date');
});

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
