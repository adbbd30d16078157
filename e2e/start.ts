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

interface Dataset {
  name: string;
  kind: string;
  revision: { content: { index?: string } };
}

/** Starts ./start with the small demo and waits until both its projects are filled: nothing computes beside the tests. */
export default async function start(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'longheron-e2e-'));
  const port = await freePort();
  const child = spawn('./start', ['--small-demo', '--port', String(port), '--data', folder], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const base = `http://localhost:${port}`;
  process.env.LONGHERON_URL = base;
  const datasets = (project: number): Promise<Dataset[]> =>
    fetch(`${base}/api/projects/${project}/datasets`)
      .then((r) => (r.ok ? (r.json() as Promise<Dataset[]>) : []))
      .catch(() => []);
  const began = Date.now();
  for (;;) {
    // the earlier cloud is the last file of the first project, the report the last result of the second
    const [reach, road] = await Promise.all([datasets(1), datasets(2)]);
    if (reach.some((d) => d.name === 'old_cloud.las' && d.revision.content.index))
      if (road.some((d) => d.kind === 'report')) break;
    if (child.exitCode !== null || Date.now() - began > 900_000)
      throw new Error('the application did not finish its demo project');
    await new Promise((r) => setTimeout(r, 500));
  }
  return async () => {
    await stop(child);
    rmSync(folder, { recursive: true, force: true });
  };
}
