import { isOf, type DatasetDto, type DatasetOf, type RunDto } from '@longheron/contract/api';
import { type DatasetKind } from '@longheron/contract/kinds';
import { testServer, type TestServer } from './server';

/** A server whose demo project has run through, and what tests ask of it. */
export interface DemoServer extends TestServer {
  datasets: () => Promise<DatasetDto[]>;
  byKind: <K extends DatasetKind>(kind: K, stage?: string) => Promise<Array<DatasetOf<K>>>;
  /** Waits until no job is queued or running. */
  idle: () => Promise<true>;
}

export async function demoServer(): Promise<DemoServer> {
  const s = await testServer('small');
  const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
  const byKind = async <K extends DatasetKind>(kind: K, stage?: string): Promise<Array<DatasetOf<K>>> =>
    (await datasets()).flatMap((d) => (isOf(d, kind) && (!stage || d.stage === stage) ? [d] : []));
  const idle = () =>
    s.until(async () => {
      const runs = await s.get<RunDto[]>('/projects/1/runs');
      return !runs.some((r) => ['queued', 'running'].includes(r.status));
    });
  // the earlier cloud is the last thing that is taken in and prepared
  await s.until(
    async () => (await byKind('point-cloud', 'gather').catch(() => [])).some((d) => d.revision.content.index),
    280,
  );
  await idle();
  return { ...s, datasets, byKind, idle };
}
