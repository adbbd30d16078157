import { describe, expect, it } from 'vitest';
import { FINEST_M, patchesOf, registerScans, Voxels } from '@longheron/core/terrestrial';
import { LocalFrame } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { readMarks } from '@longheron/formats/marks';
import { readScanTargets } from '@longheron/formats/scan-targets';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '../terrain';
import {
  castScan,
  centreIn,
  scanners,
  spheres,
  spheresText,
  SPHERE_M,
  stationsText,
  targetsText,
  WRONG_STATION,
} from '.';

const system = parseSystem(SITE_SYSTEM);
const SEED = 20260616;
const bytes = (text: string) => new TextEncoder().encode(text);
const stands = scanners(SEED, system);

describe('the scans of the demo', () => {
  const seen = readScanTargets(bytes(targetsText(SEED, 'medium', system)), 'targets.csv');
  const geo = new Float64Array(3);
  const place = (e: number, n: number, h: number) => {
    system.unproject(e, n, h, geo);
    return [geo[0], geo[1], geo[2]] as const;
  };
  const frame = new LocalFrame(system.ellipsoid, ...place(SITE_ORIGIN_E + 140, SITE_ORIGIN_N + 330, 4));
  const known = (text: string) =>
    readMarks(bytes(text), 'marks.csv').marks.map((m) => ({
      name: m.name,
      atM: frame.fromGeodetic(...place(m.eastingM, m.northingM, m.heightM)),
      sdM: [m.sdEM!, m.sdNM!, m.sdHM!] as [number, number, number],
    }));
  const request = {
    scans: stands.map((s) => s.name),
    seen: seen.map(({ scan, target, atM, sdM }) => ({ scan, target, atM, sdM })),
    control: known(spheresText(SEED)),
    stations: known(stationsText(SEED, system)),
    levelSdRad: (0.003 * Math.PI) / 180,
    radiusM: 6_380_000,
  };
  const found = registerScans(request);

  it('agree with each other within 2 mm and a hundredth of a degree, and stand where they stood', () => {
    expect(found.scans).toHaveLength(6);
    for (const p of found.pairs) expect(p.rmsM).toBeLessThan(0.004);
    found.scans.forEach((s, k) => {
      const t = stands[k];
      const at = frame.fromGeodetic(...place(SITE_ORIGIN_E + t.x, SITE_ORIGIN_N + t.y, t.heightM));
      s.atM.forEach((v, i) => expect(Math.abs(v - at[i])).toBeLessThan(3.5 * Math.sqrt(s.covariance[7 * i]) + 0.001));
      expect(Math.hypot(...s.atM.map((v, i) => v - at[i]))).toBeLessThan(0.006);
      const off = Math.atan2(s.rotation[1], s.rotation[4]) - t.azimuthRad;
      const turn = off - 2 * Math.PI * Math.round(off / (2 * Math.PI));
      expect(Math.abs(turn)).toBeLessThan((0.01 * Math.PI) / 180);
    });
    // from scan to scan: differences of places, which no survey of the spheres has a part in
    const apart = (k: number) => found.scans[k].atM.map((v, i) => v - found.scans[k - 1].atM[i]);
    for (let k = 1; k < 6; k++) {
      const [a, b] = [stands[k - 1], stands[k]].map((t) =>
        frame.fromGeodetic(...place(SITE_ORIGIN_E + t.x, SITE_ORIGIN_N + t.y, t.heightM)),
      );
      const off = Math.hypot(...apart(k).map((v, i) => v - (b[i] - a[i])));
      expect(off).toBeLessThan(0.002);
    }
  });

  it('name the station that bears the name of another', () => {
    expect(found.rejected.map((r) => [r.what, r.scan, r.standsAt])).toEqual([
      ['station', WRONG_STATION.scan, WRONG_STATION.at],
    ]);
  });

  it('agree by their surfaces as well, whatever the wrong station says', () => {
    const surfaces = new Map(
      stands.map((stand) => {
        const { x, y, z } = castScan(stand, system, { seed: SEED, level: 'medium', stepDeg: 0.8 });
        const voxels = new Voxels(FINEST_M);
        voxels.add(x, y, z);
        return [stand.name, patchesOf(voxels, true)];
      }),
    );
    const both = registerScans({ ...request, surfaces });
    expect(both.unplaced).toEqual([]);
    expect(both.rejected.map((r) => [r.what, r.scan, r.standsAt])).toEqual([
      ['station', WRONG_STATION.scan, WRONG_STATION.at],
    ]);
    const joined = both.pairs.filter((p) => p.surfaces);
    expect(joined.length).toBeGreaterThanOrEqual(3);
    for (const p of joined) {
      expect(p.surfaces!.agreeing).toBeGreaterThan(0.6);
      expect(p.surfaces!.rmsM).toBeLessThan(0.006);
    }
    both.scans.forEach((s, k) => {
      const t = stands[k];
      const at = frame.fromGeodetic(...place(SITE_ORIGIN_E + t.x, SITE_ORIGIN_N + t.y, t.heightM));
      expect(Math.hypot(...s.atM.map((v, i) => v - at[i]))).toBeLessThan(0.006);
    });
  });

  it('have points on their spheres and on the ground', () => {
    const scan = castScan(stands[2], system, { seed: SEED, level: 'medium', stepDeg: 1 });
    expect(scan.count).toBeGreaterThan(10_000);
    const c = spheres()
      .map((p) => centreIn(stands[2], p, system))
      .find((p) => Math.hypot(...p) < 8)!;
    const near = Array.from(scan.x, (x, i) => Math.hypot(x - c[0], scan.y[i] - c[1], scan.z[i] - c[2]));
    const on = near.filter((d) => d < 2 * SPHERE_M && d > 0.5 * SPHERE_M);
    for (const d of on.filter((v) => v < 1.3 * SPHERE_M)) expect(Math.abs(d - SPHERE_M)).toBeLessThan(0.02);
  });
});
