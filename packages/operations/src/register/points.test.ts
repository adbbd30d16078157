import { describe, expect, it } from 'vitest';
import { FacesAt, FINEST_M, patchesOf, Voxels, type PlacedScan } from '@longheron/core/terrestrial';
import { localFrame } from './frame';
import { PlacedBatch } from './points';

/** A level ground 1.6 m below the scanner. */
function ground() {
  const axis = Array.from({ length: 400 }, (_, k) => (k - 200) / 20);
  const [x, y, z] = [0, 1, 2].map(() => new Float64Array(160_000));
  axis.forEach((u, i) =>
    axis.forEach((v, j) => {
      x[400 * i + j] = u;
      y[400 * i + j] = v;
      // a millimetre up and down, so that its pieces have a scatter
      z[400 * i + j] = -1.6 + ((i + j) % 2 ? 0.001 : -0.001);
    }),
  );
  const voxels = new Voxels(FINEST_M);
  voxels.add(x, y, z);
  return patchesOf(voxels, true);
}
const pose: PlacedScan = {
  name: 'a',
  atM: [0, 0, 0],
  rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1),
  covariance: new Float64Array(36),
  targets: 0,
  pieces: 0,
  weakest: { direction: [0, 0, 1], sdM: 0, sdTurnRad: 0 },
};

describe('deviations of points', () => {
  const faces = new FacesAt(ground());
  const at = (away: number) => Math.atan2(away, 1.6);

  it('know how a surface was hit', () => {
    for (const away of [1.05, 3.05, 8.05]) expect(faces.cosine(away, 0.05, -1.6)).toBeCloseTo(Math.cos(at(away)), 2);
    expect(faces.cosine(3, 3, 5)).toBeNaN();
  });

  it('are of range and spot along the ray and of angles across', () => {
    const away = 8.05;
    const one = (v: number) => Float64Array.of(v);
    const batch = { count: 1, x: one(away), y: one(0.05), z: one(-1.6) };
    const sd = { rangeM: 0.004, angleRad: 5e-5, beamRad: 3e-4, facing: true };
    const p = new PlacedBatch(batch, 1, [0, 0, 0], pose, localFrame().placer(pose), sd, faces);
    const range = Math.hypot(away, 0.05, 1.6);
    const incidence = at(Math.hypot(away, 0.05));
    const along = Math.hypot(0.004, (range * 3e-4 * Math.tan(incidence)) / 4);
    const across = range * 5e-5;
    const rise = 1.6 / range;
    expect(p.sdH[0]).toBeCloseTo(Math.hypot(along * rise, across * Math.sqrt(1 - rise * rise)), 5);
    expect(p.sdE[0]).toBeCloseTo(Math.hypot((along * away) / range, across * rise), 5);
  });
});
