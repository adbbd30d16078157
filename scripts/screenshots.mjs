// Makes docs/screenshots from the demo project: starts the application on a folder of its own, waits until the demo
// chain has ended and takes a picture of each main view. `--url ADDRESS` takes pictures of one
// that is running, `--only NAME,NAME` some of them.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';
import { buildWhenNeeded } from './prepare.mjs';
import { CHROMIUM_ARGUMENTS } from './chromium.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const out = join(root, 'docs/screenshots');
mkdirSync(out, { recursive: true });
const given = process.argv.indexOf('--url');
let base = given > 0 ? process.argv[given + 1] : 'http://localhost:4679';
let server;
let folder;
if (given < 0) {
  buildWhenNeeded();
  folder = mkdtempSync(join(tmpdir(), 'longheron-pictures-'));
  server = spawn(join(root, 'start'), ['--port', '4679', '--data', folder], { stdio: 'inherit' });
}
const fetched = (path) =>
  fetch(`${base}/api${path}`)
    .then((r) => (r.ok ? r.json() : []))
    .catch(() => []);
/** The second demo project is filled last, and ends in its report. */
let road;
for (;;) {
  road = (await fetched('/projects')).find((p) => p.name === 'Brannholm Road 2025');
  if (road && (await fetched(`/projects/${road.id}/datasets`)).some((d) => d.kind === 'report')) break;
  await new Promise((r) => setTimeout(r, 1000));
}

const SECTION = { from: [467092, 6215322], to: [467158, 6215308], widthM: 2 };
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_ARGUMENTS });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const full = () => page.getByText('enough for this view').first().waitFor({ timeout: 60000 });
const onlyAt = process.argv.indexOf('--only');
const only = onlyAt > 0 ? process.argv[onlyAt + 1].split(',') : undefined;
async function shot(name, path, act) {
  if (only && !only.includes(name)) return;
  await page.goto(`${base}${path}`);
  await page.waitForTimeout(2500);
  await act?.();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(out, `${name}.png`) });
  console.log(`docs/screenshots/${name}.png`);
}

const datasets = await fetched('/projects/1/datasets');
/** A panel of Clean with a cloud: the drive's, unless another is named. */
const clean = (panel, cloud = 'Classified cloud') =>
  `/project/1/clean/${panel}/${datasets.find((d) => d.name === cloud)?.id}`;

/** Changes what is seen of the project. The page is left first, so that it keeps nothing of its own afterwards. */
async function look(more) {
  await page.goto(base);
  await page.waitForTimeout(600);
  const at = `${base}/api/projects/1/look`;
  const now = await (await page.request.get(at)).json();
  const data = { look: { ...now, ...more } };
  const answer = await page.request.put(at, { data, headers: { Origin: base } });
  if (!answer.ok()) throw new Error(`What is seen could not be set: ${answer.status()}`);
}

await page.goto(base);
await shot('projects', '/');
await shot('gather', '/project/1/gather');
await page.evaluate(() => localStorage.setItem('longheron.skyViews', '["sky","solution"]'));
await shot('position', '/project/1/position/quality');
await shot('total-station', '/project/1/position/totalStation', () =>
  page.getByText('Sigma nought').waitFor({ timeout: 60000 }),
);
await shot('place', '/project/1/place', full);
await shot('scans', '/project/1/place/register', async () => {
  await page.getByRole('tab', { name: /^Pairs/ }).click();
  await page.getByText('stand_4').first().waitFor();
});
const named = (name) => datasets.find((d) => d.name === name)?.id;
await page.evaluate(() => localStorage.setItem('longheron.photographs.ground', 'height'));
await shot('photographs', `/project/1/place/photographs/${named('Block of the flight')}`);
await shot('points', `/project/1/place/points/${named('Set-ups in the abutment chamber')}`, async () => {
  await page.getByRole('button', { name: /^door a/ }).click();
  await page.getByText('Rays meet at').waitFor({ timeout: 60000 });
  await page.waitForTimeout(3000);
});
await shot('adjust', '/project/1/place/strips', () => page.getByText('How the strips agree').waitFor());
await look({ section: SECTION, colouring: 'class' });
await shot('clean', clean('ground'), full);
await shot('cutting', clean('find'), async () => {
  await full();
  await page.getByRole('combobox', { name: 'What to find' }).click({ force: true });
  await page.getByRole('option', { name: 'By height above ground' }).click();
  await page.getByRole('button', { name: 'Find', exact: true }).click();
  await page.getByText('One shape:').waitFor({ timeout: 60000 });
  await page.waitForTimeout(4000);
  await full();
});
await look({ section: null, colouring: 'true' });
await page.evaluate(() => {
  localStorage.setItem('longheron.layout.clean', 'cloud');
});
await shot('cloud', clean('colour', 'Cloud of the flight, coloured'), full);
await look({ section: null, rail: null, colouring: 'height' });
await shot('prove', '/project/1/prove/heights', () => page.locator('tr', { hasText: 'C5' }).first().click());
await shot('plan', '/project/1/prove/plan', () => page.locator('tr', { hasText: 'K5' }).first().click());
await shot('coverage', '/project/1/prove/coverage', () => page.getByText('How the area is covered').waitFor());
await look({ showTerrain: true, showContours: true, showPoints: false });
await shot('deliver', '/project/1/deliver', full);
await look({ showPoints: true, showTerrain: false });
await shot('orthophoto', `/project/1/deliver/orthophoto/${named('Orthophoto of the flight')}`, () =>
  page.waitForTimeout(3000),
);
await shot('notices', '/project/1/gather', () => page.keyboard.press('n'));
// another height reference in the second demo project, before it is set
await shot('reference', `/project/${road.id}/prove`, async () => {
  await page.getByTitle('Change the reference line').click();
  await page.locator('.el-select', { has: page.locator('input[aria-label="Heights refer to"]') }).click();
  await page.locator('.el-select-dropdown__item:visible', { hasText: 'EGM96 geoid' }).click();
  await page.getByText('What becomes of what is here').scrollIntoViewIfNeeded();
});
await browser.close();
if (server) {
  server.kill('SIGINT');
  await new Promise((r) => server.once('exit', r));
  rmSync(folder, { recursive: true, force: true });
}
