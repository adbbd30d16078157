import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { freePort } from './start';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const LEFT_OUT = ['node_modules', '.git', 'dist', 'data', 'test-results', 'playwright-report'];

/** A copy of the project with its own workspaces, the packages of others shared. */
function copyOfProject(): string {
  const folder = mkdtempSync(join(tmpdir(), 'longheron-adding-'));
  for (const name of readdirSync(root).filter((n) => !LEFT_OUT.includes(n)))
    cpSync(join(root, name), join(folder, name), {
      recursive: true,
      filter: (path) => !path.includes('/node_modules'),
    });
  const modules = join(folder, 'node_modules');
  mkdirSync(join(modules, '@longheron'), { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules')))
    if (name !== '@longheron') symlinkSync(join(root, 'node_modules', name), join(modules, name));
  for (const group of ['packages', 'apps'])
    for (const name of readdirSync(join(folder, group)))
      symlinkSync(join(folder, group, name), join(modules, '@longheron', name));
  return folder;
}

/** The files that docs/adding.md shows, under the paths that stand above them. */
function writeExamples(folder: string): string[] {
  const text = readFileSync(join(root, 'docs/adding.md'), 'utf8');
  return [...text.matchAll(/```\w+ (\S+)\n([\s\S]*?)```/g)].map(([, path, body]) => {
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), body);
    return path;
  });
}

test('what docs/adding.md adds goes through types, command, job and page, and edits no list', async ({ page }) => {
  test.setTimeout(600_000);
  const folder = copyOfProject();
  expect(writeExamples(folder)).toHaveLength(10);
  const env = { ...process.env, LONGHERON_ROOT: folder, LONGHERON_KEEP_MODULES: '1' };
  const run = (...args: string[]) => spawnSync(args[0], args.slice(1), { cwd: folder, env, encoding: 'utf8' });
  const types = run('npm', 'run', '--silent', 'types');
  expect(types.stdout).toBe('');

  // ten points, a metre above one another from 1 m on: seven lie above 3.5 m
  writeFileSync(
    join(folder, 'steps.xyz'),
    Array.from({ length: 10 }, (_, i) => `${467000 + i} 6215000 ${i + 1}\n`).join(''),
  );
  const cli = (...args: string[]) => run('node', 'apps/cli/bin/longheron.mjs', ...args);
  expect(cli('convert', '--in', 'steps.xyz', '--crs', 'EPSG:25832+5773', '--out', 'steps.las').status).toBe(0);
  const told = cli('tally', '--cloud', 'steps.las', '--above', '3.5', '--csv', 'tally.csv');
  expect([told.status, told.stdout]).toEqual([0, '7 of 10 points lie above 3.5 m.\n']);
  expect(readFileSync(join(folder, 'tally.csv'), 'utf8')).toBe('above_m,above,points\n3.5,7,10\n');
  expect(cli('tally', '--cloud', 'steps.las', '--above', '9999').status).toBe(2);
  expect(cli('--help').stdout).toContain('how many points lie above a height');

  // the format: read, written, told about; a file that was cut off is refused by the byte
  const dots = Buffer.alloc(8 + 2 * 24);
  dots.write('DOTS');
  dots.writeUInt32LE(2, 4);
  [467000.125, 6215000.25, 3.5, 467001.5, 6215001.75, 4.25].forEach((v, i) => dots.writeDoubleLE(v, 8 + 8 * i));
  writeFileSync(join(folder, 'two.dots'), dots);
  expect(cli('inspect', 'two.dots').stdout).toContain('two.dots: point-cloud, 2 points');
  const crs = ['--crs', 'EPSG:25832+5773'];
  expect(cli('convert', '--in', 'two.dots', ...crs, '--out', 'two.csv').status).toBe(0);
  expect(readFileSync(join(folder, 'two.csv'), 'utf8')).toMatch(/\n467000\.125\d*,6215000\.250*,3\.50*,/);
  expect(cli('convert', '--in', 'two.csv', '--out', 'again.dots').stdout).toContain('everything but coordinates');
  expect(readFileSync(join(folder, 'again.dots')).equals(dots)).toBe(true);
  writeFileSync(join(folder, 'cut.dots'), dots.subarray(0, 40));
  const cut = cli('convert', '--in', 'cut.dots', '--out', 'cut.las');
  expect([cut.status, cut.stderr]).toEqual([2, expect.stringMatching(/cut\.dots.*byte/s)]);
  expect(cli('help', 'formats').stdout).toMatch(/^ {2}dots +points of a cloud$/m);

  const data = join(folder, 'data');
  const port = await freePort();
  const child = spawn('./start', ['--without-demo', '--port', String(port), '--data', data], {
    cwd: folder,
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  try {
    const at = `http://localhost:${port}`;
    const datasets = async (): Promise<Made[]> =>
      fetch(`${at}/api/projects/1/datasets`)
        .then(async (r) => (r.ok ? ((await r.json()) as Made[]) : []))
        .catch(() => []);
    const answers = () =>
      fetch(at).then(
        (r) => r.ok,
        () => false,
      );
    await expect.poll(answers, { timeout: 300_000, intervals: [1000] }).toBe(true);
    await page.goto(at);
    await page.getByPlaceholder('Name').fill('Steps');
    await page.getByRole('button', { name: 'Create project' }).click();
    await page.getByRole('button', { name: 'Import files' }).click();
    await page.setInputFiles('input[type=file]', join(folder, 'steps.las'));
    await expect
      .poll(async () => (await datasets()).some((d) => d.kind === 'point-cloud' && d.revision.content.index))
      .toBe(true);
    await page.keyboard.press('Escape');
    await page.getByText('Coordinate system undefined').click();
    await page.getByRole('button', { name: 'ETRS89 / UTM zone 32N (25832)' }).click();
    await page.getByRole('button', { name: 'Set the reference line' }).click();
    await expect(page.getByText('Coordinate system undefined')).toHaveCount(0);
    await page.goto(`${at}/project/1/prove/tally`);
    await expect(page.getByRole('heading', { name: 'Count points above a height' })).toBeVisible();
    await page.getByRole('spinbutton', { name: 'Above, m' }).fill('5');
    await page.getByRole('spinbutton', { name: 'Above, m' }).press('Tab');
    await page.getByRole('button', { name: 'Count points above a height' }).click();
    await expect.poll(async () => (await datasets()).some((d) => d.kind === 'tally')).toBe(true);
    const made = (await datasets()).find((d) => d.kind === 'tally')!;
    await expect(page.getByText('5 of 10 above 5 m')).toBeVisible();
    await expect(page.getByText(/Revision 1\s+counted/)).toBeVisible();
    const csv = await (await fetch(`${at}/api/projects/1/datasets/${made.id}/export/tally`)).text();
    expect(csv).toBe('above_m,above,points\n5,5,10\n');
    // the format is a choice among the others, and the file that is written goes round
    await page.goto(`${at}/project/1/deliver/products`);
    await page.getByRole('combobox', { name: 'Format' }).click({ force: true });
    await page.getByRole('option', { name: 'Dots, binary' }).click();
    await page.getByRole('button', { name: 'Write the file' }).click();
    await expect.poll(async () => (await datasets()).some((d) => d.revision.content.format === 'dots')).toBe(true);
    const written = (await datasets()).find((d) => d.revision.content.format === 'dots')!;
    const file = await fetch(`${at}/api/projects/1/datasets/${written.id}/export/points`);
    expect(file.headers.get('content-disposition')).toContain('.dots');
    const bytes = Buffer.from(await file.arrayBuffer());
    expect([bytes.toString('latin1', 0, 4), bytes.length]).toEqual(['DOTS', 8 + 24 * 10]);
    await page.goto(`${at}/project/1/prove/tally`);
    // the panel is among the tabs, and in the finder
    await page.getByRole('link', { name: 'Remarks' }).click();
    await expect(page.getByText('Nothing was remarked.')).toBeVisible();
    expect(page.url()).toBe(`${at}/project/1/prove/remarks`);
    await page.goBack();
    await expect(page.getByText('5 of 10 above 5 m')).toBeVisible();
  } finally {
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGINT');
    await gone;
    rmSync(folder, { recursive: true, force: true });
  }
});

interface Made {
  id: number;
  kind: string;
  revision: { content: { index?: string; format?: string } };
}
