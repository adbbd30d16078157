import { FINEST_M, patchesOf, Voxels, type ScanPatches } from '@longheron/core/terrestrial';
import { type Vector3 } from '@longheron/core/numeric';
import { part, tick, type Watch } from '@longheron/core/shared';
import { ownPoints, type OpenScan } from './scans';
import { type ScanFrame } from './frame';

/** Fewer pieces are no surfaces to place anything by. */
export const FEWEST_PIECES = 30;
/** Points of a cloud in place are taken into the frame, of a large one as many as this. */
const MOST_IN_PLACE = 12_000_000;

/** Surfaces of a scan in its own frame, about an origin. @param facing whether the scanner stood in the origin. */
export async function surfacesOf(
  scan: OpenScan,
  metresPer: number,
  originM: Vector3,
  facing: boolean,
  watch?: Watch,
): Promise<ScanPatches> {
  const voxels = new Voxels(FINEST_M, 1 << 16);
  tick(watch, 0, `Surfaces of ${scan.name}`);
  const moved = originM.some((v) => v !== 0);
  for await (const b of ownPoints(scan, part(watch, 0, 0.9))) {
    if (moved)
      for (let i = 0; i < b.count; i++) {
        b.x[i] -= originM[0] / metresPer;
        b.y[i] -= originM[1] / metresPer;
        b.z[i] -= originM[2] / metresPer;
      }
    voxels.add(b.x, b.y, b.z, b.count, metresPer);
  }
  return patchesOf(voxels, facing);
}

/** Surfaces of a cloud that lies where it should, in the frame. */
export async function surfacesInPlace(
  cloud: OpenScan,
  units: { plan: number; height: number },
  count: number,
  frame: ScanFrame,
  watch?: Watch,
): Promise<ScanPatches> {
  const voxels = new Voxels(FINEST_M, 1 << 16);
  tick(watch, 0, `Surfaces of ${cloud.name}`);
  const step = Math.max(1, Math.ceil(count / MOST_IN_PLACE));
  for await (const b of ownPoints(cloud, watch)) {
    const n = Math.floor(b.count / step);
    const out = [0, 1, 2].map(() => new Float64Array(n));
    for (let k = 0; k < n; k++) {
      const i = k * step;
      const p = frame.fromGrid(b.x[i] * units.plan, b.y[i] * units.plan, b.z[i] * units.height);
      for (let c = 0; c < 3; c++) out[c][k] = p[c];
    }
    voxels.add(out[0], out[1], out[2], n);
  }
  return patchesOf(voxels, false);
}
