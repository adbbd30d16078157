import { type CloudEditEntry } from '@longheron/contract/api';
import { decodeRuns, Selector, type CloudEdit, type Selection } from '@longheron/core/cloud';

const known = new Map<string, Promise<CloudEdit['runs']>>();

async function fetchRuns(sha: string): Promise<CloudEdit['runs']> {
  const response = await fetch(`/api/objects/${sha}`);
  if (!response.ok || !response.body) throw new Error(`The record of an edit cannot be read (${response.status}).`);
  const plain = response.body.pipeThrough(new DecompressionStream('deflate-raw'));
  return decodeRuns(new Uint8Array(await new Response(plain).arrayBuffer()));
}

/** Rows of an object, fetched once. */
export function loadRuns(object: string): Promise<CloudEdit['runs']> {
  if (!known.has(object)) {
    const runs = fetchRuns(object);
    known.set(object, runs);
    runs.catch(() => known.delete(object));
  }
  return known.get(object)!;
}

const heights = new Map<string, Promise<Float32Array>>();

/** Heights of a grid of the ground, fetched once. */
function loadHeights(object: string): Promise<Float32Array> {
  if (!heights.has(object)) {
    const read = fetch(`/api/objects/${object}`).then(async (r) => {
      if (!r.ok) throw new Error(`The ground cannot be read (${r.status}).`);
      return new Float32Array(await r.arrayBuffer());
    });
    heights.set(object, read);
    read.catch(() => heights.delete(object));
  }
  return heights.get(object)!;
}

/** A selection made ready, with the rows of what it names as found. */
export async function selectorOf(selection: Selection, origin: readonly number[]): Promise<Selector> {
  const objects = selection.regions.flatMap(({ shape }) => (shape.kind === 'rows' ? [shape.object] : []));
  const rows = new Map(await Promise.all(objects.map(async (o) => [o, await loadRuns(o)] as const)));
  const { above } = selection.filter;
  const heights = above && (await loadHeights(above.object));
  return new Selector(selection, origin, { rows: (o) => rows.get(o)!, ground: () => heights! });
}

/** The acts done to a cloud; each is fetched once, since it never changes. For pages and workers. */
export function loadEdits(entries: readonly CloudEditEntry[]): Promise<CloudEdit[]> {
  return Promise.all(entries.map(async ({ object, act }) => ({ act, runs: await loadRuns(object) })));
}
