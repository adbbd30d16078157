import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type DatasetDto, type RunDto } from '@longheron/contract/api';
import { contentOf, isStored } from './server';

const root = join(dirname(fileURLToPath(import.meta.url)), '../../../..');
let folder: string;
let port: number;
let child: ChildProcess;

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const found = (probe.address() as { port: number }).port;
      probe.close(() => resolve(found));
    });
  });
const base = () => `http://127.0.0.1:${port}`;
const get = async <T>(path: string) => (await (await fetch(`${base()}/api${path}`)).json()) as T;
const post = (path: string, body: unknown = {}) =>
  fetch(`${base()}/api${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Origin: base() },
    body: JSON.stringify(body),
  });
const runs = () => get<RunDto[]>('/projects/1/runs');
const datasets = () => get<DatasetDto[]>('/projects/1/datasets');
async function until<T>(found: () => Promise<T | undefined | false>, seconds = 200): Promise<T> {
  const began = Date.now();
  for (;;) {
    const value = await found().catch(() => undefined);
    if (value) return value;
    if (Date.now() - began > seconds * 1000) throw new Error('waited in vain');
    await new Promise((r) => setTimeout(r, 40));
  }
}
/** The program as `./start` runs it. */
async function start(): Promise<void> {
  child = spawn(
    process.execPath,
    [join(root, 'scripts/start.mjs'), '--small-demo', '--port', String(port), '--data', folder],
    {
      stdio: 'ignore',
      env: { ...process.env, LONGHERON_ROOT: root },
    },
  );
  await until(async () => (await fetch(`${base()}/api/projects`)).ok);
}
const gone = () => new Promise((resolve) => child.once('exit', resolve));

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'longheron-kill-'));
  port = await freePort();
  await start();
}, 900_000);
afterAll(async () => {
  child.kill('SIGINT');
  await gone();
  await rm(folder, { recursive: true, force: true });
});

describe('a server that is killed in the middle of a job', () => {
  it('keeps what was accepted, shows the job as interrupted, goes on, and leaves nothing half-written', async () => {
    await until(async () => (await datasets()).some((d) => d.kind === 'laser-returns'));
    const running = await until(async () =>
      (await runs()).find((r) => r.operation === 'place' && r.status === 'running'),
    );
    const before = await datasets();
    child.kill('SIGKILL');
    await gone();
    await start();
    const after = await datasets();
    for (const d of before)
      expect(after.map((a) => [a.id, a.revision.contentHash])).toContainEqual([d.id, d.revision.contentHash]);
    // the demo chain may have asked for the same job once more by now: the one that was cut is meant
    const cut = (await runs()).find((r) => r.id === running.id)!;
    expect(['interrupted', 'done']).toContain(cut.status);
    // the demo chain goes on by itself; the interrupted job can be run again like any other
    await until(async () => (await datasets()).some((d) => d.name === 'old_cloud.las' && isStored(d)));
    await until(async () => (await runs()).every((r) => !['queued', 'running'].includes(r.status)));
    const incoming = join(folder, 'store', 'incoming');
    expect(existsSync(incoming) ? readdirSync(incoming) : []).toEqual([]);
    if (cut.status === 'interrupted') {
      expect((await post(`/projects/1/runs/${cut.id}/again`)).status).toBe(202);
      const again = await until(async () =>
        (await runs()).find((r) => r.operation === 'place' && r.id > cut.id && r.status === 'done'),
      );
      expect(again.outputs.length).toBe(1);
    }
  }, 900_000);

  it('cancels a job at once and changes nothing by it', async () => {
    const cloud = (await datasets()).find((d) => d.kind === 'point-cloud' && d.stage === 'clean')!;
    const surface = (await datasets()).find((d) => d.kind === 'surface')!;
    const r = await post('/projects/1/runs', {
      operation: 'surface',
      inputs: { cloud: cloud.id },
      settings: { cellM: 0.05, contoursM: 0.01 },
      outputDataset: surface.id,
    });
    const { id } = (await r.json()) as RunDto;
    // a second job on the same dataset is refused meanwhile
    const second = await post('/projects/1/runs', {
      operation: 'surface',
      inputs: { cloud: cloud.id },
      settings: {},
      outputDataset: surface.id,
    });
    expect(second.status).toBe(422);
    await until(async () => (await runs()).find((x) => x.id === id)?.status === 'running');
    expect((await post(`/projects/1/runs/${id}/cancel`)).status).toBe(204);
    await until(async () => (await runs()).find((x) => x.id === id)?.status === 'cancelled');
    const now = (await datasets()).find((d) => d.id === surface.id)!;
    expect(now.revision.id).toBe(surface.revision.id);
  }, 900_000);

  it('takes a file in pieces: an upload goes on where it was cut off; a cloud is opened for looking and work', async () => {
    const cloud = (await datasets()).find((d) => d.kind === 'point-cloud' && d.stage === 'clean')!;
    const bytes = new Uint8Array(
      await (await fetch(`${base()}/api/projects/1/datasets/${cloud.id}/export/las`)).arrayBuffer(),
    );
    // another creation day makes it a file of its own
    bytes[90] ^= 1;
    const b64 = (text: string) => Buffer.from(text).toString('base64');
    const tus = { 'Tus-Resumable': '1.0.0', Origin: base() };
    const made = await fetch(`${base()}/api/uploads`, {
      method: 'POST',
      headers: {
        ...tus,
        'Upload-Length': String(bytes.length),
        'Upload-Metadata': `filename ${b64('../../old.las')},project ${b64('1')}`,
      },
    });
    expect(made.status).toBe(201);
    const url = new URL(made.headers.get('location')!, `${base()}/api/uploads/`).href;
    const send = (from: number, to: number) =>
      fetch(url, {
        method: 'PATCH',
        headers: { ...tus, 'Upload-Offset': String(from), 'Content-Type': 'application/offset+octet-stream' },
        body: bytes.slice(from, to),
      });
    const half = bytes.length >> 1;
    expect((await send(0, half)).status).toBe(204);
    const head = await fetch(url, { method: 'HEAD', headers: tus });
    expect(Number(head.headers.get('upload-offset'))).toBe(half);
    expect((await send(half, bytes.length)).status).toBe(204);
    const opened = await until(async () => {
      return (await datasets()).filter(isStored).find((x) => x.name === 'old.las');
    });
    expect(opened).toMatchObject({ kind: 'point-cloud', stage: 'gather' });
    expect(opened.revision.content.countsByClass).toEqual(contentOf(cloud, 'point-cloud').countsByClass);
    // and the same content again is not stored twice
    const first = (await runs())[0].id;
    const copy = join(folder, 'demo', 'copy-of-old.las');
    await writeFile(copy, bytes);
    await post('/projects/1/take', { paths: [copy] });
    const again = await until(async () => (await runs()).find((r) => r.id > first && r.status === 'done'));
    expect(again.log.join(' ')).toContain('The same content is there already as "old.las"');
  }, 900_000);
});
