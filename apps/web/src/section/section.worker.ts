import {
  applyEdits,
  ATTRIBUTE_BYTES,
  Attributes,
  CLASS_BYTES,
  COLOUR_BYTES,
  POSITION_BYTES,
  positionsOf,
} from '@longheron/core/cloud';
import { type CloudEditEntry, type CloudIndex } from '@longheron/contract/api';
import { objectRange } from '../api/client';
import { loadEdits } from '../views3d/cloudEdits';
import { readTree } from '../views3d/cloudTree';
import { SliceBuilder, touches, type SectionLine, type Slice } from './cut';

/** Enough for any screen; finer nodes are left out of longer or wider slices. */
const MAX_POINTS = 700_000;
const MAX_READ = 12_000_000;

export interface CutRequest {
  id: number;
  index: CloudIndex;
  edits: CloudEditEntry[];
  section: SectionLine;
}
export interface CutAnswer {
  id: number;
  slice?: Slice;
  complete?: boolean;
  error?: string;
}

let latest = 0;

/** Objects of the columns and bytes of a point in each; colours come last, where there are any. */
function columnsOf({ objects }: CloudIndex): Array<[string, number]> {
  const all: Array<[string | undefined, number]> = [
    [objects.position, POSITION_BYTES],
    [objects.attributes, ATTRIBUTE_BYTES],
    [objects.classes, CLASS_BYTES],
    [objects.colour, COLOUR_BYTES],
  ];
  return all.flatMap(([sha, bytes]) => (sha ? [[sha, bytes]] : []));
}

async function cut({ id, index, edits: entries, section }: CutRequest): Promise<CutAnswer | undefined> {
  const builder = new SliceBuilder(section);
  const edits = await loadEdits(entries);
  const tree = readTree(index);
  const [ox, oy] = index.origin;
  let read = 0;
  const levels = Math.max(...tree.map((n) => n.level)) + 1;
  for (let level = 0; level < levels; level++) {
    const nodes = tree.filter(
      (n) => n.count > 0 && n.level === level && touches(section, n.corner[0] + ox, n.corner[1] + oy, n.edgeM),
    );
    read += nodes.reduce((sum, n) => sum + n.count, 0);
    if (builder.count > MAX_POINTS || read > MAX_READ) return { id, slice: builder.finish(), complete: false };
    for (let i = 0; i < nodes.length; i += 6) {
      const batch = await Promise.all(
        nodes.slice(i, i + 6).map(async (n) => ({
          n,
          bytes: await Promise.all(
            columnsOf(index).map(([sha, b]) => objectRange(sha, n.first * b, (n.first + n.count) * b)),
          ),
        })),
      );
      if (latest !== id) return undefined;
      for (const { n, bytes } of batch) {
        const classes = new Uint8Array(bytes[2]);
        const flags = new Uint8Array(classes.length);
        applyEdits(edits, n.first, classes, flags);
        builder.add(
          positionsOf(bytes[0], 0, n.count),
          new Attributes(bytes[1], 0, n.count),
          classes,
          flags,
          index.scale,
          index.origin,
          n.first,
          bytes.length > 3 ? new Uint8Array(bytes[3]) : undefined,
        );
      }
    }
  }
  return { id, slice: builder.finish(), complete: true };
}

self.onmessage = async (event: MessageEvent<CutRequest>) => {
  latest = event.data.id;
  try {
    const answer = await cut(event.data);
    if (answer) self.postMessage(answer);
  } catch (error) {
    self.postMessage({ id: event.data.id, error: (error as Error).message } satisfies CutAnswer);
  }
};
