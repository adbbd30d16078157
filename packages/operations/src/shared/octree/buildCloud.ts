import { POSITION_SCALE_M, RECORD_WORDS } from '@longheron/core/cloud';
import { Problem, tick, type Watch } from '@longheron/core/shared';
import { ADJUSTED_GPS_OFFSET_S, type LasFile } from '@longheron/formats/las';
import { sortChunk, type OctreeNode, type Walk } from './chunk';
import { countChunks, CubeCounter, deal } from './chunks';
import { ColumnFiles, type CloudFiles } from './columnFiles';
import { MAX_LEVELS, NODE_CELL_BITS } from './morton';
import { RecordReader } from './records';
import { surveyPoints } from './survey';
import { type Survey } from './surveyed';

/** Finest spacing worth a level, metres. */
const FINEST_M = 0.03;

/** Result of a build; the columns are in the files named on the way in. */
export interface BuiltCloud extends Omit<Survey, 'min' | 'max' | 'colourShift'> {
  coloured: boolean;
  count: number;
  origin: [number, number, number];
  scale: number;
  rootM: number;
  spacingM: number;
  bounds: { min: [number, number, number]; max: [number, number, number] };
  nodes: OctreeNode[];
}

/**
 * Builds the multi-resolution store of a cloud out of core: points are counted by cube, dealt out to chunks on disk,
 * and each chunk is sorted in memory. Memory does not grow with the cloud but for 24 bytes a node.
 * @param scratch folder for the chunks; emptied afterwards.
 */
export async function buildCloud(
  file: LasFile,
  metresPerUnit: number,
  verticalMetresPerUnit: number,
  files: CloudFiles,
  scratch: string,
  watch?: Watch,
): Promise<BuiltCloud> {
  const reader = new RecordReader(file, metresPerUnit, verticalMetresPerUnit);
  tick(watch, 0, 'Counting points');
  // points are counted by cube of the extent in the header; when that is wrong, once more by the one found
  const declared = reader.extent();
  const counter = new CubeCounter(declared.min, rootOf(declared));
  const survey = await surveyPoints(reader, counter, watch);
  const { min, max } = sameExtent(declared, survey) ? declared : survey;
  const rootM = rootOf({ min, max });
  if (rootM / POSITION_SCALE_M > 2 ** 31)
    throw new Problem(`The cloud is ${Math.round(rootM / 1000)} km across.`, {
      code: 'cloud-extent',
      file: file.source.name,
      remedy: 'Far noise points stretch it: cut them off first.',
    });
  const spacingM = rootM / 2 ** NODE_CELL_BITS;
  const deepest = Math.max(0, Math.min(MAX_LEVELS, Math.ceil(Math.log2(spacingM / FINEST_M))));
  const chunks = await countChunks(reader, min === declared.min ? counter : new CubeCounter(min, rootM), watch);
  const dealt = await deal(reader, min, rootM, chunks, survey, scratch, watch);
  const coloured = survey.colourShift !== null;
  const out = new ColumnFiles(coloured);
  const upper = new Map<string, { node: OctreeNode; words: number[] }>();
  const nodes: OctreeNode[] = [];
  const walk: Walk = { high: 0, low: 0, started: false };
  try {
    await out.open(files);
    // the next chunk is read while this one is sorted
    let coming = dealt.read(0);
    for (const [k, chunk] of chunks.list.entries()) {
      tick(watch, 0.5 + (0.5 * k) / chunks.list.length, 'Sorting points into levels');
      const records = await coming;
      if (k + 1 < chunks.list.length) coming = dealt.read(k + 1);
      coming.catch(() => undefined);
      const sorted = sortChunk(records, POSITION_SCALE_M, rootM, deepest, chunk.level, walk);
      for (const n of sorted.nodes) {
        // nodes above the chunk's own cube are finished when all chunks are done
        if (n.level < chunk.level) {
          keepUpper(upper, n, records, sorted.order);
          continue;
        }
        const first = out.count;
        await out.append(records, sorted.order.subarray(n.first, n.first + n.count));
        nodes.push({ ...n, first });
      }
    }
    for (const { node, words } of upper.values()) {
      const records = Int32Array.from(words);
      const first = out.count;
      const count = records.length / RECORD_WORDS;
      await out.append(
        records,
        Uint32Array.from({ length: count }, (_, i) => i),
      );
      nodes.push({ ...node, first, count });
    }
    await out.finish();
  } catch (error) {
    await out.discard(files);
    throw error;
  } finally {
    await dealt.close();
  }
  addAncestors(nodes);
  nodes.sort((a, b) => a.level - b.level || a.x - b.x || a.y - b.y || a.z - b.z);
  tick(watch, 1);
  return {
    count: out.count,
    origin: min,
    scale: POSITION_SCALE_M,
    rootM,
    spacingM,
    bounds: { min, max },
    nodes,
    timeOrigin: survey.timeOrigin + ADJUSTED_GPS_OFFSET_S,
    timeStepS: survey.timeStepS,
    ranges: survey.ranges,
    countsByClass: survey.countsByClass,
    density: survey.density,
    withheld: survey.withheld,
    coloured,
  };
}

type Extent = Pick<Survey, 'min' | 'max'>;

const rootOf = ({ min, max }: Extent) =>
  Math.max(1, 1.0001 * Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]));

/** Within a step of the stored positions on every side. */
function sameExtent(a: Extent, b: Extent): boolean {
  const near = (u: number[], v: number[]) => u.every((x, k) => Math.abs(x - v[k]) < POSITION_SCALE_M);
  return near(a.min, b.min) && near(a.max, b.max);
}

/** Every node's cube above it is in the table, if only as an empty node, so that the tree hangs together. */
function addAncestors(nodes: OctreeNode[]): void {
  const there = new Set(nodes.map((n) => `${n.level} ${n.x} ${n.y} ${n.z}`));
  for (let i = 0; i < nodes.length; i++) {
    const n = nodes[i];
    if (n.level === 0) continue;
    const up = { level: n.level - 1, x: n.x >> 1, y: n.y >> 1, z: n.z >> 1, first: 0, count: 0 };
    const key = `${up.level} ${up.x} ${up.y} ${up.z}`;
    if (there.has(key)) continue;
    there.add(key);
    nodes.push(up);
  }
}

function keepUpper(
  upper: Map<string, { node: OctreeNode; words: number[] }>,
  n: OctreeNode,
  records: Int32Array,
  order: Uint32Array,
): void {
  const key = `${n.level} ${n.x} ${n.y} ${n.z}`;
  let kept = upper.get(key);
  if (!kept) upper.set(key, (kept = { node: n, words: [] }));
  for (let k = n.first; k < n.first + n.count; k++)
    for (let w = 0; w < RECORD_WORDS; w++) kept.words.push(records[order[k] * RECORD_WORDS + w]);
}
