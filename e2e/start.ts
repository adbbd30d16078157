import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export async function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

async function stop(child: ChildProcess): Promise<void> {
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGINT');
  await gone;
}

/** Starts ./start with the small demo and waits until its chain has ended; the earlier cloud is its last file. */
export default async function start(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'longheron-e2e-'));
  const port = await freePort();
  const child = spawn('./start', ['--small-demo', '--port', String(port), '--data', folder], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const base = `http://localhost:${port}`;
  process.env.LONGHERON_URL = base;
  const began = Date.now();
  for (;;) {
    const datasets = await fetch(`${base}/api/projects/1/datasets`)
      .then((r) =>
        r.ok ? (r.json() as Promise<Array<{ name: string; revision: { content: { index?: string } } }>>) : [],
      )
      .catch(() => []);
    if (datasets.some((d) => d.name === 'old_cloud.las' && d.revision.content.index)) break;
    if (child.exitCode !== null || Date.now() - began > 420_000)
      throw new Error('the application did not finish its demo project');
    await new Promise((r) => setTimeout(r, 500));
  }
  return async () => {
    await stop(child);
    rmSync(folder, { recursive: true, force: true });
  };
}
