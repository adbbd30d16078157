import { type CloudEditEntry } from '@longheron/contract/api';
import { decodeRuns, type CloudEdit } from '@longheron/core/cloud';

const known = new Map<string, Promise<CloudEdit['runs']>>();

async function fetchRuns(sha: string): Promise<CloudEdit['runs']> {
  const response = await fetch(`/api/objects/${sha}`);
  if (!response.ok || !response.body) throw new Error(`The record of an edit cannot be read (${response.status}).`);
  const plain = response.body.pipeThrough(new DecompressionStream('deflate-raw'));
  return decodeRuns(new Uint8Array(await new Response(plain).arrayBuffer()));
}

/** The acts done to a cloud; each is fetched once, since it never changes. For pages and workers. */
export function loadEdits(entries: readonly CloudEditEntry[]): Promise<CloudEdit[]> {
  return Promise.all(
    entries.map(async ({ object, act }) => {
      if (!known.has(object)) {
        const runs = fetchRuns(object);
        known.set(object, runs);
        runs.catch(() => known.delete(object));
      }
      return { act, runs: await known.get(object)! };
    }),
  );
}
