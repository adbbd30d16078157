/** A process of its own in which files are read: what it is sent it inspects and opens, and says how it went. */
import { readdirSync } from 'node:fs';
import { Problem } from '@longheron/core/shared';
import { decoderFailures as failures } from '@longheron/formats/bytes';
import { inspectFile, isWorkedOn, openPoints } from '@longheron/formats/registry';

export interface Read {
  outcome: 'read' | 'refused' | 'fault';
  /** What a fault said. */
  message: string;
  ms: number;
  residentBytes: number;
  /** A decoder failed: the process ends, as a worker thread does. */
  spent: boolean;
}

/** Files and the like that this process holds open. */
const held = () => readdirSync('/proc/self/fd').length;

async function read(path: string, name: string): Promise<void> {
  const { kind } = await inspectFile(path, name);
  if (kind !== 'point-cloud' || (await isWorkedOn(path))) return;
  const { source } = await openPoints(path, name);
  try {
    let left = 100_000;
    for await (const batch of source.batches()) if ((left -= batch.count) < 0) break;
  } finally {
    await source.close();
  }
}

process.on('message', async ({ path, name }: { path: string; name: string }) => {
  const began = performance.now();
  const before = held();
  const failed = failures();
  let outcome: Read['outcome'] = 'read';
  let message = '';
  try {
    await read(path, name);
  } catch (error) {
    outcome = error instanceof Problem ? 'refused' : 'fault';
    if (outcome === 'fault') message = String((error as Error).stack ?? error).slice(0, 400);
  }
  const spent = failures() > failed;
  const left = held() - before;
  if (left > 0 && !spent && outcome !== 'fault') {
    outcome = 'fault';
    message = `${left} files are left open`;
  }
  const residentBytes = process.memoryUsage().rss;
  const answer: Read = { outcome, message, ms: performance.now() - began, residentBytes, spent };
  process.send!(answer);
});
