import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isOf, type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import { type Contents, type DatasetKind } from '@longheron/contract/kinds';
import { startServer, type RunningServer } from '../server';

/** What a dataset holds, which must be of the kind. */
export function contentOf<K extends DatasetKind>(dataset: DatasetDto | undefined, kind: K): Contents[K] {
  if (!dataset || !isOf(dataset, kind)) throw new Error(`${dataset?.name ?? 'nothing'} is not of kind ${kind}`);
  // a dataset of one kind out of a union of all is not resolved further by itself
  const content: Contents[DatasetKind] = dataset.revision.content;
  return content as Contents[K];
}

/** Whether a dataset is a cloud that can be drawn. */
export const isStored = (d: DatasetDto): d is DatasetOf<'point-cloud'> =>
  isOf(d, 'point-cloud') && !!d.revision.content.index;

export interface TestServer {
  running: RunningServer;
  base: string;
  folder: string;
  get<T>(path: string): Promise<T>;
  /** Sends as the application's own pages do, and gives status and body. */
  send(method: string, path: string, body?: unknown): Promise<{ status: number; body: Record<string, unknown> }>;
  /** Waits until `found` gives something. */
  until<T>(found: () => Promise<T | undefined | false>, seconds?: number): Promise<T>;
  stop(): Promise<void>;
}

/** A server of its own on a fresh folder, with its own database. */
export async function testServer(demo: 'small' | 'none', roots: string[] = []): Promise<TestServer> {
  const folder = await mkdtemp(join(tmpdir(), 'longheron-server-'));
  const running = await startServer({
    port: 0,
    host: '127.0.0.1',
    dataFolder: folder,
    demo,
    roots,
    webFolder: join(folder, 'no-web'),
    say: () => undefined,
  });
  const base = `http://127.0.0.1:${running.port}`;
  return {
    running,
    base,
    folder,
    async get<T>(path: string) {
      const r = await fetch(`${base}/api${path}`);
      if (!r.ok) throw new Error(`${path}: ${r.status} ${await r.text()}`);
      return (await r.json()) as T;
    },
    async send(method, path, body) {
      const r = await fetch(`${base}/api${path}`, {
        method,
        headers: { Origin: base, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
      const text = await r.text();
      return { status: r.status, body: text ? (JSON.parse(text) as Record<string, unknown>) : {} };
    },
    async until(found, seconds = 60) {
      const began = Date.now();
      for (;;) {
        const value = await found();
        if (value) return value;
        if (Date.now() - began > seconds * 1000) throw new Error('waited in vain');
        await new Promise((r) => setTimeout(r, 100));
      }
    },
    async stop() {
      await running.stop();
      await rm(folder, { recursive: true, force: true });
    },
  };
}
