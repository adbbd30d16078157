import { expect, test, type Page } from '@playwright/test';

/** Address of the application that the tests run against. */
export const base = () => process.env.LONGHERON_URL!;

/** No page may throw: what it throws fails the test. */
export function watchErrors(): void {
  const errors: string[] = [];
  test.beforeEach(async ({ page }) => {
    // what the test before looked at belongs to the project
    if (process.env.LONGHERON_URL && test.info().project.name === 'demo project') await setLook(page, {});
    page.on('pageerror', (e) => errors.push(e.message));
  });
  test.afterEach(() => {
    expect(errors.splice(0)).toEqual([]);
  });
}

const lookAt = () => `${base()}/api/projects/1/look`;

/** What is seen of the demo project, as the server keeps it. */
export async function lookOf<T>(page: Page, name: string): Promise<T> {
  return ((await (await page.request.get(lookAt())).json()) as { [name: string]: T })[name];
}

export async function setLook(page: Page, look: { [name: string]: unknown }): Promise<void> {
  // as the page itself would send it: the server refuses what comes from elsewhere
  const answer = await page.request.put(lookAt(), { data: { look }, headers: { Origin: base() } });
  expect(answer.status()).toBe(204);
}

/** Opens a stage of the demo project. */
export async function open(page: Page, stage: string): Promise<void> {
  await page.goto(`${base()}/project/1/${stage}`);
  await expect(page.getByText('Brannholm Reach')).toBeVisible();
}
