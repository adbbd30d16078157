import { stat } from 'node:fs/promises';
import { type CloudEdit, type Selection, type SelectionShape } from '@longheron/core/cloud';
import { columnsOf, packRuns, selectRows, unpackRuns, type EditableCloud } from '@longheron/operations/shared/stored';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;

/** Points of the target; times are carried over to it in proportion. */
const OF_POINTS = 50e6;
const ACTS = 100;

/** Selections of each kind on a stored cloud, a hundred acts on it, and reading it with them. */
export async function benchSelections(
  cloud: EditableCloud & { bounds: { min: readonly number[]; max: readonly number[] } },
  line: Line,
): Promise<void> {
  const { min, max } = cloud.bounds;
  const [wide, long] = [max[0] - min[0], max[1] - min[1]];
  const [e, n] = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2];
  /** A star about a place, `r` of the cloud's width and length. */
  const star = (cx: number, cy: number, r: number, corners: number) =>
    Array.from({ length: 2 * corners }, (_, k) => {
      const a = (Math.floor(k / 2) / corners) * 2 * Math.PI;
      const reach = r * (Math.floor(k / 2) % 2 ? 0.6 : 1);
      return k % 2 ? cy + reach * long * Math.sin(a) : cx + reach * wide * Math.cos(a);
    });
  // seen from above in parallel: the cloud fills the picture
  const [x0, y0] = [e - cloud.origin[0], n - cloud.origin[1]];
  const [kx, ky] = [2 / wide, 2 / long];
  const above = [kx, 0, 0, 0, 0, ky, 0, 0, 0, 0, -1e-4, 0, -kx * x0, -ky * y0, 0, 1];
  // drawn by hand: a loop that wavers
  const outline = Array.from({ length: 800 }, (_, k) => {
    const a = (Math.floor(k / 2) / 400) * 2 * Math.PI;
    const r = 0.8 + 0.1 * Math.sin(7 * a) + 0.01 * Math.sin(61 * a);
    return k % 2 ? r * Math.sin(a) : r * Math.cos(a);
  });
  const along = { from: [e, min[1]] as [number, number], to: [e, max[1]] as [number, number], widthM: wide / 6 };
  const low = min[2];
  const shapes: Array<[string, SelectionShape | undefined]> = [
    ['plan polygon of 200 corners', { kind: 'plan', polygon: star(e, n, 0.45, 200) }],
    ['lasso of 400 corners in a view', { kind: 'view', matrix: above, polygon: outline }],
    ['section outline', { kind: 'section', line: along, polygon: [0, low - 9, long / 2, low - 9, long / 2, low + 4] }],
    ['brush of 40 places in a section', { kind: 'brush', line: along, path: brush(long, low), alongM: 4, heightM: 1 }],
    ['everything, by class and time', undefined],
  ];
  const ask = (shape: SelectionShape | undefined): Selection => ({
    regions: shape ? [{ mode: 'add', shape }] : [],
    inverted: false,
    filter: { hiddenClasses: [7], rejected: 'hidden', ...(shape ? {} : { time: [-1e12, 1e12] }) },
  });
  for (const [what, shape] of shapes) {
    const started = performance.now();
    const { counts } = await selectRows(cloud, ask(shape));
    const s = (((performance.now() - started) / 1000) * OF_POINTS) / cloud.count;
    line(
      `select, ${what}, on 50 million points`,
      `${s.toFixed(2)} s (measured on ${(cloud.count / 1e6).toFixed(0)} million, ${(counts.count / 1e6).toFixed(1)} in it)`,
      'under 10 s',
      s < 10,
    );
  }
  const edits: CloudEdit[] = [];
  let bytes = 0;
  const began = performance.now();
  for (let i = 0; i < ACTS; i++) {
    const y = min[1] + long * (0.02 + (0.96 * i) / ACTS);
    const { runs } = await selectRows({ ...cloud, edits }, ask({ kind: 'plan', polygon: star(e, y, 0.02, 60) }));
    const packed = packRuns(runs);
    bytes += packed.length;
    edits.push({ act: i % 3 ? { kind: 'class', to: i % 9 } : { kind: 'reject' }, runs: unpackRuns(packed) });
  }
  const each = (performance.now() - began) / ACTS / 1000;
  line(`each of ${ACTS} acts, ${(cloud.count / 1e6).toFixed(0)} million points`, `${each.toFixed(2)} s`, 'fast', null);
  const reading = performance.now();
  await columnsOf({ ...cloud, edits });
  const all = (((performance.now() - reading) / 1000) * OF_POINTS) / cloud.count;
  const classes = (await stat(cloud.paths.classes)).size;
  line(
    `all classes with ${ACTS} acts done, 50 million points`,
    `${all.toFixed(2)} s; the acts take ${(bytes / 1e6).toFixed(1)} MB, the column ${(classes / 1e6).toFixed(0)} MB`,
    'under 2 s',
    all < 2,
  );
}

/** A path of a brush along a section. */
function brush(longM: number, lowM: number): number[] {
  return Array.from({ length: 80 }, (_, k) => (k % 2 ? lowM + 1 + Math.sin(k) : (longM * (20 + k)) / 120));
}
