import { createHash } from 'node:crypto';
import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { get, request } from 'node:http';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type DatasetDto, type ListedProject, type NoticeDto, type RunDto } from '@longheron/contract/api';
import { Run } from '../database/models';
import { contentOf, type TestServer, testServer } from './server';

let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-root-'));
const put = (name: string, content: string | Uint8Array) => {
  writeFileSync(join(root, name), content);
  return join(root, name);
};
beforeAll(async () => {
  mkdirSync(join(root, 'inside'));
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Guarded' });
});
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

function raw(headers: Record<string, string>, method = 'GET', path = '/api/projects'): Promise<number> {
  return new Promise((resolve, reject) => {
    const r = request({ host: '127.0.0.1', port: s.running.port, path, method, headers }, (res) => {
      res.resume();
      resolve(res.statusCode!);
    });
    r.on('error', reject);
    r.end();
  });
}

/** Takes a file in and gives the run that did so, ended. */
async function take(path: string): Promise<RunDto> {
  const before = (await s.get<RunDto[]>('/projects/1/runs'))[0]?.id ?? 0;
  const r = await s.send('POST', '/projects/1/take', { paths: [path] });
  expect(r.status).toBe(202);
  return s.until(async () =>
    (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id > before && !['queued', 'running'].includes(x.status)),
  );
}
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');

describe('who may ask', () => {
  it('refuses a foreign host, a foreign origin and a missing one', async () => {
    const host = `127.0.0.1:${s.running.port}`;
    expect(await raw({ Host: 'evil.example' })).toBe(403);
    expect(await raw({ Host: host })).toBe(200);
    expect(await raw({ Host: host, Origin: 'http://evil.example' }, 'POST')).toBe(403);
    expect(await raw({ Host: host }, 'POST')).toBe(403);
  });
  it('names the field at fault, and answers unknown addresses and broken JSON in kind', async () => {
    const bad = await s.send('POST', '/projects', { name: '' });
    expect([bad.status, bad.body.field, bad.body.title]).toEqual([400, 'name', 'A project needs a name.']);
    const unknown = await s.send('POST', '/projects', { name: 'x', admin: true });
    expect([unknown.status, unknown.body.field]).toEqual([400, 'admin']);
    expect((await s.send('GET', '/projects/77')).status).toBe(404);
    const r = await fetch(`${s.base}/api/projects`, {
      method: 'POST',
      headers: { Origin: s.base, 'Content-Type': 'application/json' },
      body: '{',
    });
    expect([r.status, r.headers.get('content-type')]).toEqual([400, 'application/problem+json; charset=utf-8']);
  });
  it('keeps to the allowed folders, through dots and links too', async () => {
    symlinkSync('/etc', join(root, 'link'));
    for (const path of [`${root}/../../etc`, '/etc', join(root, 'link')]) {
      const r = await s.send('GET', `/files?path=${encodeURIComponent(path)}`);
      expect([r.status, r.body.code]).toEqual([403, 'outside']);
    }
    expect((await s.send('GET', `/files?path=${encodeURIComponent(join(root, 'inside'))}`)).status).toBe(200);
    expect((await s.send('POST', '/projects/1/take', { paths: ['/etc/passwd'] })).status).toBe(403);
    expect((await s.send('GET', '/objects/..%2f..%2fetc%2fpasswd')).status).toBe(404);
  });
});

describe('a reader that goes away', () => {
  /** Files of the store that are open. */
  const open = () =>
    readdirSync('/proc/self/fd').filter((fd) => {
      try {
        return readlinkSync(`/proc/self/fd/${fd}`).startsWith(join(s.folder, 'store'));
      } catch {
        return false;
      }
    }).length;

  it('leaves no file open', async () => {
    const bytes = Buffer.alloc(40_000_000, 'heights ');
    const sha = createHash('sha256').update(bytes).digest('hex');
    const path = join(s.folder, 'store', sha.slice(0, 2), sha);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, bytes);
    for (const query of [`?part=0-${bytes.length}`, ''])
      for (let k = 0; k < 5; k++)
        await new Promise<void>((resolve, reject) => {
          const asked = get(`${s.base}/api/objects/${sha}${query}`, (answer) => {
            expect(answer.statusCode).toBe(200);
            answer.once('data', () => asked.destroy());
            answer.on('close', resolve);
            answer.on('error', () => undefined);
          });
          asked.on('error', reject);
        });
    await s.until(async () => open() === 0, 5);
    rmSync(path);
  });
});

describe('files that are not what they should be', () => {
  const las = (change: (b: Buffer) => void, size = 375): Buffer => {
    const b = Buffer.alloc(size);
    b.write('LASF', 0, 'latin1');
    b[24] = 1;
    b[25] = 4;
    b.writeUInt16LE(375, 94);
    b.writeUInt32LE(375, 96);
    b[104] = 6;
    b.writeUInt16LE(30, 105);
    for (let k = 0; k < 3; k++) b.writeDoubleLE(0.001, 131 + 8 * k);
    change(b);
    return b;
  };
  const cases: Array<[string, () => string, RegExp, RegExp]> = [
    ['empty', () => put('empty.csv', ''), /empty/, /Copy the file again/],
    ['of no known kind', () => put('noise.bin', Buffer.from([1, 0, 2, 0, 3, 0])), /no kind/, /Known are/],
    ['a LAS header cut off', () => put('short.las', las(() => undefined).subarray(0, 120)), /120 bytes/, /cut off/],
    [
      '10 GB of points declared in 1 kB',
      () =>
        put(
          'big.las',
          las((b) => b.writeBigUInt64LE(330_000_000n, 247), 1000),
        ),
      /points/,
      /./,
    ],
    [
      'a scale that is not a number',
      () =>
        put(
          'nan.las',
          las((b) => (b.writeBigUInt64LE(1n, 247), b.writeDoubleLE(NaN, 131)), 405),
        ),
      /./,
      /./,
    ],
    [
      'HDF5 cut off',
      () =>
        put(
          'cut.laser.h5',
          Buffer.concat([Buffer.from([0x89, 0x48, 0x44, 0x46, 0x0d, 0x0a, 0x1a, 0x0a]), Buffer.alloc(200)]),
        ),
      /./,
      /[Cc]opy/,
    ],
    [
      'a trajectory with an absurd latitude',
      () =>
        put('traj.csv', '# crs: EPSG:4937\ngps_week,gps_sow,lat_deg,lon_deg,h_ell_m\n2423,1,95,8,40\n2423,2,56,8,40\n'),
      /95/,
      /./,
    ],
    [
      'marks with a word for a height',
      () => put('marks.csv', 'name,role,easting_m,northing_m,height_m\nA,check,467000,6215000,high\n'),
      /not a number/,
      /./,
    ],
    [
      'a mounting with a pitch of 90°',
      () =>
        put(
          'mount.json',
          '{"sensors":{"a":{"lever_arm_m":[0,0,0],"orientation_deg":{"roll":0,"pitch":90,"heading":0}}}}',
        ),
      /pitch/,
      /roll/,
    ],
  ];
  it.each(cases)(
    '%s: file, place and remedy are named, the project stays as it was',
    async (_what, make, message, remedy) => {
      const before = (await datasets()).length;
      const path = make();
      const run = await take(path);
      expect(run.status).toBe('failed');
      expect(run.error!.message).toMatch(message);
      expect(run.error!.remedy).toMatch(remedy);
      expect(run.error!.file).toContain(path.split('/').pop()!);
      expect((await datasets()).length).toBe(before);
      expect((await s.send('GET', '/projects')).status).toBe(200);
    },
  );
  it('ends as failed even when the start of the job is written down late', async () => {
    const late = ({ instance, type }: { instance?: Run; type?: string }) =>
      type === 'UPDATE' && instance?.status === 'running' && new Promise<void>((r) => setTimeout(r, 300));
    Run.sequelize!.addHook('beforeQuery', 'late', late as never);
    const run = await take(put('late.bin', Buffer.from([1, 0, 2, 0, 3, 1])));
    await new Promise((r) => setTimeout(r, 500));
    Run.sequelize!.removeHook('beforeQuery', 'late');
    const [stored] = await s.get<RunDto[]>('/projects/1/runs');
    expect([stored.id, stored.status, stored.error?.message]).toEqual([run.id, 'failed', run.error?.message]);
  });
  it('keeps an upload that could not be taken in, and tries it again under its name', async () => {
    const bytes = Buffer.from([1, 0, 2, 0, 3, 2]);
    const b64 = (text: string) => Buffer.from(text).toString('base64');
    const tus = { 'Tus-Resumable': '1.0.0', Origin: s.base };
    const metadata = `filename ${b64('sent.bin')},project ${b64('1')}`;
    const made = await fetch(`${s.base}/api/uploads`, {
      method: 'POST',
      headers: { ...tus, 'Upload-Length': '6', 'Upload-Metadata': metadata },
    });
    const headers = { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' };
    const url = new URL(made.headers.get('location')!, `${s.base}/api/uploads/`);
    expect((await fetch(url, { method: 'PATCH', headers, body: bytes })).status).toBe(204);
    const ended = (after: number) =>
      s.until(async () =>
        (await s.get<RunDto[]>('/projects/1/runs')).find(
          (r) => r.id > after && r.title === 'Import sent.bin' && r.status === 'failed',
        ),
      );
    const first = await ended(0);
    expect((await s.send('POST', `/projects/1/runs/${first.id}/again`)).status).toBe(202);
    const second = await ended(first.id);
    expect(second.error).toEqual(first.error);
    expect(second.error!.message).toMatch(/no kind/);
  });
  it('reads mixed line ends and a byte order mark, and stores the same content once', async () => {
    const text =
      '\uFEFFname,role,easting_m,northing_m,height_m\r\nA,check,467000,6215000,2.5\nB,check,467010,6215010,2.6\r\n';
    expect((await take(put('mixed.csv', text))).status).toBe('done');
    const count = (await datasets()).length;
    const again = await take(put('other-name.csv', text));
    expect(again.log.join(' ')).toMatch(/there already/);
    expect((await datasets()).length).toBe(count);
  });
  it('maps a foreign table by chosen columns and unit', async () => {
    await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
    const run = await take(
      put('foreign.txt', 'Pkt;Hoch;Rechts;Hoehe\n1;20390419,95;1532152,23;8,202\n2;20390452,76;1532185,04;8,53\n'),
    );
    expect(run.status).toBe('done');
    const table = (await datasets()).find((d) => d.name === 'foreign.txt')!;
    expect(table.kind).toBe('table');
    const body = {
      name: 0,
      northing: 1,
      easting: 2,
      height: 3,
      unit: 'foot',
      defaultRole: 'check',
      decimalComma: true,
    };
    expect(
      (await s.send('POST', `/projects/1/datasets/${table.id}/columns`, { ...body, unit: undefined })).body.title,
    ).toBe('Say in which unit the coordinates are.');
    expect((await s.send('POST', `/projects/1/datasets/${table.id}/columns`, body)).status).toBe(200);
    const { marks } = contentOf(
      (await datasets()).find((d) => d.name === 'foreign.txt'),
      'marks',
    );
    expect(marks[0].eastingM).toBeCloseTo(1532152.23 * 0.3048, 6);
    expect(marks[0].heightM).toBeCloseTo(2.49997, 5);
  });
  it('gives roles to many marks in one step that can be taken back, and sees one place in two roles', async () => {
    const head = 'name,role,easting_m,northing_m,height_m\n';
    await take(
      put('roles.csv', `${head}R1,GCP,467100,6215100,2.5\nR2,CHK,467120,6215100,2.6\nR3,CHK,467140,6215100,2.7\n`),
    );
    const list = async () => (await datasets()).find((d) => d.name === 'roles.csv')!;
    const { id } = await list();
    const notices = async () => (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === id);
    expect((await notices()).find((n) => n.code === 'mark-role-code')!.text).toContain('GCP (1), CHK (2)');
    const give = (roles: unknown, by = 'roles by rules: code GCP to control') =>
      s.send('POST', `/projects/1/datasets/${id}/roles`, { roles, by });
    expect((await give([{ name: 'R9', role: 'check' }])).status).toBe(404);
    expect((await give([{ name: 'R1', role: 'friend' }])).status).toBe(400);
    expect((await give([])).body.title).toBe('No mark would change.');
    const all = [
      { name: 'R1', role: 'control' },
      { name: 'R2', role: 'check' },
    ];
    expect((await give(all)).status).toBe(204);
    const roles = async () => contentOf(await list(), 'marks').marks.map((m) => m.role);
    expect(await roles()).toEqual(['control', 'check', 'unused']);
    expect(contentOf(await list(), 'marks').how).toContain('code GCP');
    await s.send('POST', `/projects/1/datasets/${id}/undo`);
    expect(await roles()).toEqual(['unused', 'unused', 'unused']);
    await s.send('POST', `/projects/1/datasets/${id}/redo`);
    await take(put('twice.csv', `${head}T1,check,467100.02,6215100.01,2.5\n`));
    const twice = (await s.get<NoticeDto[]>('/projects/1/notices')).find((n) => n.code === 'mark-two-roles');
    expect(twice?.text).toContain('as R1, to control');
  });
  it('keeps looks of contours under their names', async () => {
    const look = {
      name: 'Mine / blue',
      colour: '#203040',
      indexColour: '#102030',
      widthPx: 0.5,
      indexWidthPx: 1,
      decimals: 1,
      heights: true,
    };
    const styles = async () => (await s.get<Array<{ name: string; widthPx: number }>>('/contour-styles')).slice(2);
    expect((await s.send('PUT', '/contour-styles', { ...look, colour: 'red' })).body.field).toBe('colour');
    expect((await s.send('PUT', '/contour-styles', { ...look, name: 'Grey, no heights' })).status).toBe(409);
    await s.send('PUT', '/contour-styles', look);
    await s.send('PUT', '/contour-styles', { ...look, widthPx: 0.8 });
    expect((await styles()).map((x) => [x.name, x.widthPx])).toEqual([['Mine / blue', 0.8]]);
    expect((await s.send('DELETE', '/contour-styles/Mine%20%2F%20blue')).status).toBe(204);
    expect(await styles()).toEqual([]);
  });
  it('reads typed places safely and shows them back', async () => {
    const good = await s.send('POST', '/projects/1/locate', {
      latitude: '56 04 48 N',
      longitude: '8.47',
      heightM: 43.2,
      heightIs: 'ellipsoidal',
    });
    expect(good.body.latText).toBe('56° 04′ 48.0000″ N');
    // closed figures: N is 40.70 m there, and the origin lies near 467 000, 6 215 000
    expect(Math.abs((good.body.heightM as number) - 2.5)).toBeLessThan(0.03);
    expect(Math.abs((good.body.eastingM as number) - 467000)).toBeLessThan(200);
    const bad = await s.send('POST', '/projects/1/locate', { latitude: '-56 N', longitude: '8', heightIs: 'project' });
    expect([bad.status, bad.body.place]).toEqual([422, 'latitude']);
  });
  it('says what is wrong with settings and inputs before a job starts', async () => {
    const marks = (await datasets()).find((d) => d.kind === 'marks')!;
    const r = await s.send('POST', '/projects/1/runs', {
      operation: 'surface',
      inputs: { cloud: marks.id },
      settings: {},
    });
    expect(r.body.title).toMatch(/cannot serve as cloud/);
    const t = await s.send('POST', '/projects/1/runs', {
      operation: 'surface',
      inputs: { cloud: marks.id },
      settings: { cellM: -1 },
    });
    expect(t.body.title).toBe('Cell must be between 0.001 and 100000 m.');
  });
  it('notices when a recording lies outside every trajectory', async () => {
    const csv = (sow: number) =>
      `# crs: EPSG:4937\ngps_week,gps_sow,lat_deg,lon_deg,h_ell_m\n${[0, 1, 2].map((i) => `2423,${sow + i},56.08,8.47,43`).join('\n')}\n`;
    expect((await take(put('drive_20260616.csv', csv(205200)))).status).toBe('done');
    const notices = await s.get<NoticeDto[]>('/projects/1/notices');
    // day 2 of week 2423 is 2026-06-16: the name agrees, so there is no such finding
    expect(notices.some((n) => n.code === 'name-date')).toBe(false);
    expect((await take(put('drive_20250616.csv', csv(205300)))).status).toBe('done');
    expect((await s.get<NoticeDto[]>('/projects/1/notices')).find((n) => n.code === 'name-date')!.text).toMatch(
      /2025-06-16.*2026-06-16/,
    );
  });
});

describe('a project that is not needed any more', () => {
  it('says what it holds, is renamed, and goes with all of it; what others use stays', async () => {
    const { id } = (await s.send('POST', '/projects', { name: 'Short' })).body as { id: number };
    const text = 'name,role,easting_m,northing_m,height_m\nS1,check,467000,6215000,3\n';
    const path = put('short.csv', text);
    await s.send('POST', `/projects/${id}/take`, { paths: [path] });
    const listed = async () => (await s.get<ListedProject[]>('/projects')).find((p) => p.id === id);
    await s.until(async () => (await listed())?.holds.files === 1);
    expect((await listed())!.holds).toMatchObject({ results: 0, bytes: text.length, startGps: null });
    await s.send('PATCH', `/projects/${id}`, { name: 'Shorter' });
    expect((await listed())!.name).toBe('Shorter');
    await s.send('PATCH', `/projects/${id}`, { putAway: true });
    expect(await listed()).toMatchObject({ putAway: true, holds: { files: 1 } });
    await s.send('PATCH', `/projects/${id}`, { putAway: false });
    expect((await listed())!.putAway).toBe(false);
    await s.send('PUT', `/projects/${id}/views`, { name: 'from above', look: {} });
    await s.send('PUT', `/projects/${id}/look`, { look: { underlay: 0 } });
    const others = (await s.get<ListedProject[]>('/projects')).filter((p) => p.id !== id);
    await s.until(async () =>
      (await s.get<RunDto[]>(`/projects/${id}/runs`)).every((r) => !['queued', 'running'].includes(r.status)),
    );
    expect((await s.send('DELETE', `/projects/${id}`)).status).toBe(204);
    expect(await listed()).toBeUndefined();
    expect((await s.get<ListedProject[]>('/projects')).filter((p) => p.id !== id)).toEqual(others);
    expect((await s.send('GET', `/projects/${id}/datasets`)).status).toBe(404);
    expect(readFileSync(path, 'utf8')).toBe(text);
    expect((await s.send('DELETE', `/projects/${id}`)).status).toBe(404);
  });

  it('is kept while a job of it runs', async () => {
    const { id } = (await s.send('POST', '/projects', { name: 'Busy' })).body as { id: number };
    const run = await Run.create({
      projectId: id,
      operation: 'place',
      operationVersion: 1,
      title: 'Long',
      status: 'running',
      settings: {},
      inputs: {},
      createdAt: new Date(),
    });
    expect(await s.send('DELETE', `/projects/${id}`)).toMatchObject({ status: 409, body: { code: 'busy' } });
    await run.update({ status: 'done' });
    expect((await s.send('DELETE', `/projects/${id}`)).status).toBe(204);
  });
});
