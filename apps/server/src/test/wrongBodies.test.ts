import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testServer, type TestServer } from './server';

/** What Express keeps of a route. */
interface Layer {
  route?: { path: string | string[]; methods: Record<string, boolean> };
  handle: { stack?: Layer[] };
}
interface Wrong {
  what: string;
  body?: string | Buffer;
  headers?: Record<string, string>;
}

let s: TestServer;
let routes: Array<{ method: string; path: string }>;
beforeAll(async () => {
  s = await testServer('none');
  await s.send('POST', '/projects', { name: 'Wrong' });
  const mark = { name: 'M1', role: 'check', eastingM: 467_000, northingM: 6_215_000, heightM: 3 };
  await s.send('POST', '/projects/1/marks', mark);
  const app = s.running.http.listeners('request')[0] as unknown as { router: { stack: Layer[] } };
  const found: typeof routes = [];
  const walk = (stack: Layer[]) => {
    for (const { route, handle } of stack) {
      if (handle.stack && !route) walk(handle.stack);
      for (const path of ([] as string[]).concat(route?.path ?? []))
        for (const method of Object.keys(route!.methods)) found.push({ method: method.toUpperCase(), path });
    }
  };
  walk(app.router.stack);
  // a stream of events does not end, uploads speak a language of their own
  routes = found.filter((r) => !/events$|uploads|\{\*/.test(r.path) && r.method !== '_ALL');
});
afterAll(() => s.stop());

/** Sends bytes as they are, which `fetch` would put right. */
function raw(method: string, path: string, { body, headers }: Wrong): Promise<number> {
  return new Promise((resolve, reject) => {
    const r = request(
      `${s.base}/api${path}`,
      { method, headers: { Origin: s.base, 'Content-Type': 'application/json', ...headers } },
      (answer) => {
        answer.resume();
        answer.on('end', () => resolve(answer.statusCode!));
      },
    );
    r.on('error', reject);
    r.setTimeout(20_000, () => r.destroy(new Error(`${method} ${path} does not answer`)));
    r.end(body);
  });
}
/** A path with something in the place of each of its names. */
const filled = (path: string, value: string) =>
  path.replace(/\{?\/?:(\w+)\}?/g, (all) => (all.startsWith(':') ? value : `/${value}`));

const json = (what: string, value: unknown): Wrong => ({ what, body: JSON.stringify(value) });
const deep = () => '['.repeat(20_000) + ']'.repeat(20_000);
const WRONG: Wrong[] = [
  json('a list', []),
  json('nothing', null),
  json('a text', 'x'),
  json('a number', 5),
  json('an empty object', {}),
  json('other names', { a: 1, __proto__: { b: 2 }, constructor: 3 }),
  json('texts for numbers', {
    name: 5,
    toleranceM: 'x',
    paths: 'x',
    inputs: { cloud: 'x' },
    operation: 'classify',
    code: 'x',
  }),
  json('numbers beyond all', {
    name: 'x',
    toleranceM: 1e308,
    eastingM: 1e308,
    northingM: -1e308,
    heightM: 1e308,
    role: 'check',
    revision: 1e308,
    operation: 'classify',
    inputs: { cloud: 1e308 },
    settings: { radiusM: 1e308 },
    code: 1e308,
    widthM: 1e308,
  }),
  json('lists of nothing', {
    paths: [null],
    roles: [null],
    marks: [null],
    steps: [null],
    regions: [null],
    picks: [null],
  }),
  json('an operation with nothing', { operation: 'classify', inputs: null, settings: null }),
  json('an operation of another name', { operation: '../../x', inputs: {}, settings: {} }),
  { what: 'no JSON', body: '{"a":' },
  { what: 'a deep one', body: deep() },
  { what: 'an unknown charset', body: '{}', headers: { 'Content-Type': 'application/json; charset=martian' } },
  { what: 'an unknown encoding', body: '{}', headers: { 'Content-Encoding': 'snail' } },
  { what: 'gzip that is none', body: '{}', headers: { 'Content-Encoding': 'gzip' } },
  { what: 'another type', body: 'a=1', headers: { 'Content-Type': 'application/x-www-form-urlencoded' } },
  { what: 'three megabytes', body: JSON.stringify({ name: 'x'.repeat(3e6) }) },
];
const NAMES = ['1', '2', '0', '-1', '99999999', '1e308', 'x', '%00', '%E0%A4%A', '%2e%2e%2f', '1;drop', 'NaN'];

describe('every address of the API', () => {
  it('is known', () => {
    expect(routes.length).toBeGreaterThan(60);
  });

  it('answers names that are none with a refusal, never with a fault', async () => {
    const faults: string[] = [];
    for (const { method, path } of routes)
      for (const name of path.includes(':') ? NAMES : ['']) {
        // what is there is not removed: the other names would find nothing
        if (method === 'DELETE' && name === '1') continue;
        const status = await raw(method, filled(path, name), { what: name, body: method === 'GET' ? undefined : '{}' });
        if (status >= 500) faults.push(`${method} ${path} with ${name}: ${status}`);
      }
    expect(faults).toEqual([]);
  }, 900_000);

  it('answers wrong bodies with a refusal, never with a fault', async () => {
    const faults: string[] = [];
    for (const { method, path } of routes.filter((r) => ['POST', 'PUT', 'PATCH'].includes(r.method)))
      for (const wrong of WRONG) {
        const status = await raw(method, filled(path, '1'), wrong);
        if (status >= 500) faults.push(`${method} ${path} with ${wrong.what}: ${status}`);
      }
    expect(faults).toEqual([]);
    expect((await s.get<object[]>('/projects')).length).toBeGreaterThan(0);
  }, 900_000);

  it('answers ranges that cannot be, and queries that say nothing', async () => {
    const marks = await s.get<Array<{ id: number }>>('/projects/1/datasets');
    const paths = [
      '/systems?q=%E0%A4%A',
      '/systems?q=',
      '/files?path=%00',
      '/files?path=/etc/passwd',
      '/objects/xyz',
      '/objects/..%2f',
      `/objects/${'0'.repeat(64)}`,
      `/projects/1/datasets/${marks[0].id}/export/nothing`,
      '/projects/1/runs?limit=-5',
    ];
    for (const path of paths)
      for (const range of ['bytes=0-', 'bytes=5-2', 'bytes=999999999-', 'lines=1-2'])
        expect(await raw('GET', path, { what: path, headers: { Range: range } })).toBeLessThan(500);
  });
});
