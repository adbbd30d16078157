import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { type DatasetDto, type RunDto } from '@longheron/contract/api';
import { Dataset, Revision, Run } from '../database/models';
import { contentOf, isStored, testServer, type TestServer } from './server';

let s: TestServer;
let picked: string;
beforeAll(async () => {
  picked = await mkdtemp(join(tmpdir(), 'longheron-picked-'));
  s = await testServer('none', [picked]);
  await s.send('POST', '/projects', { name: 'Together' });
});
afterAll(async () => {
  await s.stop();
  await rm(picked, { recursive: true, force: true });
});
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const runs = () => s.get<RunDto[]>('/projects/1/runs');
const ended = () => s.until(async () => (await runs()).every((r) => !['queued', 'running'].includes(r.status)));

describe('changes at the same time', () => {
  const MANY = 200;
  it('to one list are all there, whoever came first, and none fails', async () => {
    const mark = (k: number) => ({
      name: `T${k}`,
      role: 'check',
      eastingM: 467_000 + 3 * k,
      northingM: 6_215_000 + (k % 7),
      heightM: 3,
    });
    const answers = await Promise.all(
      Array.from({ length: MANY }, (_, k) => s.send('POST', '/projects/1/marks', mark(k))),
    );
    expect(answers.map((a) => a.status).filter((status) => status !== 201)).toEqual([]);
    const lists = (await datasets()).filter((d) => d.kind === 'marks');
    expect(lists).toHaveLength(1);
    const { marks } = contentOf(lists[0], 'marks');
    expect(new Set(marks.map((m) => m.name)).size).toBe(MANY);
    expect(lists[0].revisions).toBe(MANY);
  }, 900_000);

  it('of roles in that list too, and one mark of a name is enough', async () => {
    const [list] = await datasets();
    const answers = await Promise.all(
      Array.from({ length: 40 }, (_, k) =>
        s.send('PATCH', `/projects/1/datasets/${list.id}/marks`, { name: `T${k}`, role: 'control' }),
      ),
    );
    expect(answers.every((a) => a.status === 204)).toBe(true);
    const { marks } = contentOf((await datasets())[0], 'marks');
    expect(marks.filter((m) => m.role === 'control')).toHaveLength(40);
    const same = { name: 'TWICE', role: 'check', eastingM: 467_000, northingM: 6_215_500, heightM: 3 };
    const twice = await Promise.all([1, 2].map(() => s.send('POST', '/projects/1/marks', same)));
    expect(twice.map((a) => a.status).sort()).toEqual([201, 409]);
  }, 900_000);
});

describe('lists that many ask for', () => {
  const url = () => `${s.base}/api/projects/1/datasets`;

  it('are made once for all, and whoever has them already is told so', async () => {
    const made = vi.spyOn(Dataset, 'findAll');
    const answers = await Promise.all(Array.from({ length: 50 }, () => fetch(url())));
    const bodies = await Promise.all(answers.map((a) => a.text()));
    expect(new Set(bodies).size).toBe(1);
    expect(made.mock.calls.length).toBeLessThanOrEqual(1);
    made.mockRestore();
    const tag = answers[0].headers.get('etag')!;
    const again = await fetch(url(), { headers: { 'If-None-Match': tag } });
    expect([again.status, await again.text(), again.headers.get('etag')]).toEqual([304, '', tag]);
  });

  it('show each change at once, whoever made it', async () => {
    const [list] = await datasets();
    let tag = '';
    for (let k = 0; k < 12; k++) {
      const role = k % 2 ? 'check' : 'unused';
      // readers all the while, so that the list is being made when the change comes
      const readers = Array.from({ length: 5 }, () => fetch(url()).then((a) => a.text()));
      await s.send('PATCH', `/projects/1/datasets/${list.id}/marks`, { name: 'T150', role });
      const answer = await fetch(url(), { headers: { 'If-None-Match': tag } });
      expect(answer.status).toBe(200);
      tag = answer.headers.get('etag')!;
      const { marks } = contentOf(((await answer.json()) as DatasetDto[])[0], 'marks');
      expect(marks.find((m) => m.name === 'T150')!.role).toBe(role);
      await Promise.all(readers);
    }
  });

  it('of a project that is not there say so each time', async () => {
    for (let k = 0; k < 2; k++) expect((await fetch(`${s.base}/api/projects/99/runs`)).status).toBe(404);
    await s.send('POST', '/projects', { name: 'Another' });
    expect((await s.get<unknown[]>('/projects')).length).toBe(2);
  });
});

describe('a file that is picked', () => {
  const MARKS = 'name,role,easting_m,northing_m,height_m\nP1,check,467000,6215000,3\n';

  it('is copied: what is done to the original later is not done to ours', async () => {
    const path = join(picked, 'picked.csv');
    await writeFile(path, MARKS);
    expect((await s.send('POST', '/projects/1/take', { paths: [path] })).status).toBe(202);
    await ended();
    await writeFile(path, MARKS.replace('P1', 'CHANGED'), { flag: 'r+' });
    const taken = (await datasets()).find((d) => d.name === 'picked.csv')!;
    const { object } = contentOf(taken, 'marks');
    expect(await readFile(s.running.services.store.path(object!), 'utf8')).toBe(MARKS);
  });

  it('and is a pipe, a folder or gone is refused in a sentence, and holds nothing up', async () => {
    const pipe = join(picked, 'pipe');
    execFileSync('mkfifo', [pipe]);
    const refused = await s.send('POST', '/projects/1/take', { paths: [pipe] });
    expect([refused.status, refused.body.title]).toEqual([422, `"${pipe}" is no file.`]);
    expect((await s.send('POST', '/projects/1/take', { paths: [picked] })).status).toBe(422);
    expect((await s.send('POST', '/projects/1/take', { paths: [join(picked, 'gone')] })).status).toBe(404);
  });
});

describe('an upload', () => {
  const b64 = (text: string) => Buffer.from(text).toString('base64');
  const head = () => ({ 'Tus-Resumable': '1.0.0', Origin: s.base });
  const create = (project: string, bytes: Uint8Array) =>
    fetch(`${s.base}/api/uploads`, {
      method: 'POST',
      headers: {
        ...head(),
        'Upload-Length': String(bytes.length),
        'Upload-Metadata': `filename ${b64('up.csv')},project ${b64(project)}`,
      },
    });

  it('for a project that does not exist is refused before anything is sent', async () => {
    for (const project of ['99', 'x', '-1']) {
      const r = await create(project, Buffer.from('abc'));
      expect(r.status).toBe(404);
      expect(await r.text()).toContain('There is no such project.');
    }
  });

  it('that is said to be there has a job already, and is kept until the project has it', async () => {
    const bytes = Buffer.from('name,role,easting_m,northing_m,height_m\nU1,check,467000,6215040,3\n');
    const made = await create('1', bytes);
    const url = new URL(made.headers.get('location')!, `${s.base}/api/uploads/`).href;
    const before = (await runs()).length;
    const sent = await fetch(url, {
      method: 'PATCH',
      headers: { ...head(), 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
      body: bytes,
    });
    expect(sent.status).toBe(204);
    expect((await runs()).length).toBe(before + 1);
    await ended();
    expect((await datasets()).some((d) => d.name === 'up.csv')).toBe(true);
  });
});

describe('a cloud whose preparing was cut off', () => {
  it('is prepared by running that job again', async () => {
    const rows = Array.from({ length: 500 }, (_, k) => `${467_000 + (k % 25)} ${6_215_000 + Math.floor(k / 25)} 3.5\n`);
    const path = join(picked, 'cut.xyz');
    await writeFile(path, rows.join(''));
    await s.send('POST', '/projects/1/take', { paths: [path] });
    await ended();
    const cloud = (await datasets()).find((d) => d.name === 'cut.xyz')!;
    expect(isStored(cloud)).toBe(true);
    // as the end of the program in the middle of it leaves it
    const revision = (await Revision.findByPk(cloud.revision.id))!;
    const { index: _index, order: _order, ...content } = contentOf(cloud, 'point-cloud');
    await revision.update({ content });
    const job = (await Run.findOne({ where: { title: 'Prepare cut.xyz' } }))!;
    await job.update({ status: 'interrupted' });
    expect((await s.send('POST', `/projects/1/runs/${job.id}/again`)).status).toBe(202);
    await s.until(async () => (await datasets()).some((d) => d.id === cloud.id && isStored(d)));
  });
});

describe('the health of the server', () => {
  const health = async () => {
    const r = await fetch(`${s.base}/api/health`);
    return [r.status, ((await r.json()) as { status: string }).status];
  };

  it('is that of its database too, which is started again when it falls over', async () => {
    expect(await health()).toEqual([200, 'ok']);
    const before = (await datasets()).length;
    const noted = JSON.parse(await readFile(join(s.folder, 'database/longheron.json'), 'utf8')) as { pid: number };
    process.kill(noted.pid, 'SIGKILL');
    await s.until(async () => (await health())[0] === 503, 20);
    await s.until(async () => (await health())[0] === 200, 60);
    expect((await datasets()).length).toBe(before);
  }, 900_000);
});
