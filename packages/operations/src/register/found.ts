import { findDiscs, findSpheres, type FoundTarget, type SeenTarget } from '@longheron/core/terrestrial';
import { part, tick, type Watch } from '@longheron/core/shared';
import { csvCell } from '@longheron/formats/csv';
import { ownPoints, type OpenScan } from './scans';

/** A listed target and one that is found at it are one, metres. */
const SAME_M = 0.05;

/** What is looked for: radii, none for a kind that is not. */
export interface Wanted {
  sphereM?: number;
  discM?: number;
}

/** Spheres and discs in a scan, but for those that are listed already. */
export async function targetsIn(
  scan: OpenScan,
  metresPer: number,
  { sphereM, discM }: Wanted,
  facing: boolean,
  listed: readonly SeenTarget[],
  watch?: Watch,
): Promise<FoundTarget[]> {
  tick(watch, 0, `Targets in ${scan.name}`);
  const batches: Float64Array[][] = [];
  for await (const b of ownPoints(scan, part(watch, 0, 0.5)))
    batches.push([
      ...[b.x, b.y, b.z].map((c) => Float64Array.from(c.subarray(0, b.count), (v) => v * metresPer)),
      ...(b.intensity ? [Float64Array.from(b.intensity.subarray(0, b.count))] : []),
    ]);
  const count = batches.reduce((s, b) => s + b[0].length, 0);
  const bright = batches.every((b) => b.length === 4);
  const columns = (bright ? [0, 1, 2, 3] : [0, 1, 2]).map((k) => {
    const out = new Float64Array(count);
    let at = 0;
    for (const b of batches) {
      out.set(b[k], at);
      at += b[k].length;
    }
    return out;
  });
  const [x, y, z] = columns;
  const own = listed.filter((t) => t.scan === scan.name);
  return [
    ...(sphereM ? findSpheres(x, y, z, sphereM, facing) : []),
    ...(discM && bright ? findDiscs(x, y, z, columns[3], discM) : []),
  ].filter((s) => !own.some((t) => Math.hypot(...t.atM.map((v, k) => v - s.atM[k])) < SAME_M));
}

/** Targets in the layout that lists of them have. */
export function targetsCsv(seen: readonly SeenTarget[]): string {
  const rows = seen.map((t) =>
    [csvCell(t.scan), csvCell(t.target), ...t.atM.map((v) => v.toFixed(5)), t.sdM.toFixed(5), t.kind ?? 'sphere'].join(
      ',',
    ),
  );
  return `scan,target,x_m,y_m,z_m,sd_m,kind\n${rows.join('\n')}\n`;
}
