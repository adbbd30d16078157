import { expect, test, type Page } from '@playwright/test';

/** Address of the application that the tests run against. */
export const base = () => process.env.LONGHERON_URL!;

/** No page may throw: what it throws fails the test. */
export function watchErrors(): void {
  const errors: string[] = [];
  test.beforeEach(({ page }) => {
    page.on('pageerror', (e) => errors.push(e.message));
  });
  test.afterEach(() => {
    expect(errors.splice(0)).toEqual([]);
  });
}

/** Opens a stage of the demo project. */
export async function open(page: Page, stage: string): Promise<void> {
  await page.goto(`${base()}/project/1/${stage}`);
  await expect(page.getByText('Brannholm Reach')).toBeVisible();
}
