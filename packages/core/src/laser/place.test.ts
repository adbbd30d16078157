import { describe, expect, it } from 'vitest';
import {
  DEG,
  ecefToGeodetic,
  ecefToNed,
  geodeticToEcef,
  makeReferenceSystem,
  quaternionFromAngles,
  rotationFromAngles,
  rotationFromQuaternion,
  slerp,
  type ReferenceSystem,
  type SensorMounting,
} from '../frames';
import { Random } from '../numeric';
import { type Trajectory } from '../trajectory';
import { Placer, type LaserNoise, type LaserReturns } from '.';

const utm = (zone: number, verticalCode = 5773): ReferenceSystem =>
  makeReferenceSystem({
    horizontalCode: 25800 + zone,
    horizontalName: `zone ${zone}`,
    proj4: `+proj=utm +zone=${zone} +ellps=GRS80 +units=m +no_defs`,
    metresPerUnit: 1,
    verticalCode,
    verticalName: '',
    verticalMetresPerUnit: 1,
  });

const MOUNTING: SensorMounting = {
  leverArmM: [0.85, -0.42, -1.9],
  leverArmSdM: 0.004,
  orientationDeg: { roll: 171.3, pitch: -23.4, heading: 41.2 },
  boresightDeg: { roll: 0.031, pitch: -0.022, heading: 0.054 },
  boresightSdDeg: 0.006,
};
const NOISE: LaserNoise = { rangeSdM: 0.008, angleSdDeg: 0.009 };

/** A straight drive of 400 m at even speed, so that both ends of an interval and what lies between are known. */
function drive(latDeg: number, lonDeg: number, headingDeg: number): Trajectory {
  const n = 81;
  const column = (of: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => of(i));
  const east = 5 * Math.sin(headingDeg * DEG);
  const north = 5 * Math.cos(headingDeg * DEG);
  const lon = (i: number) => lonDeg * DEG + (i * east) / (6378137 * Math.cos(latDeg * DEG));
  return {
    week: 2423,
    sow: column((i) => 1000 + 0.1 * i),
    latRad: column((i) => latDeg * DEG + (i * north) / 6378137),
    lonRad: column((i) => (lon(i) > Math.PI ? lon(i) - 2 * Math.PI : lon(i))),
    hEllM: column((i) => 47 + 0.01 * i),
    rollRad: column((i) => (2 * Math.sin(i / 7) + 1) * DEG),
    pitchRad: column((i) => (1.5 * Math.cos(i / 5) - 3) * DEG),
    // through north, where angles jump and rotations do not
    headingRad: column((i) => (((headingDeg + 0.4 * Math.sin(i / 3) + 360) % 360) * Math.PI) / 180),
    sdNM: column(() => 0.011),
    sdEM: column(() => 0.017),
    sdDM: column(() => 0.023),
    sdRollRad: column(() => 0.004 * DEG),
    sdPitchRad: column(() => 0.006 * DEG),
    sdHeadingRad: column(() => 0.015 * DEG),
  } as Trajectory;
}

function someReturns(count: number): LaserReturns {
  const random = new Random(11);
  const float = (from: number, to: number) => Float32Array.from({ length: count }, () => random.between(from, to));
  return {
    week: 2423,
    sow: Float64Array.from({ length: count }, () => 1000 + random.between(0, 7.9)).sort(),
    rangeM: float(2, 300),
    azimuthDeg: float(-180, 360),
    elevationDeg: float(-80, 80),
    intensity: new Uint16Array(count),
    returnNumber: new Uint8Array(count).fill(1),
    returnCount: new Uint8Array(count).fill(1),
  };
}

/** What each error source adds to one return: metres and radians along or about the body's or the frame's axes. */
interface Errors {
  ned?: number[];
  angles?: number[];
  lever?: number[];
  bore?: number[];
  range?: number;
  across?: number[];
}

/** The whole chain for one return, every step in its plain form: no map, no quaternion of the node, no columns. */
function exact(t: Trajectory, system: ReferenceSystem, r: LaserReturns, i: number, errors: Errors = {}): number[] {
  const k = Math.min(t.sow.length - 2, Math.floor((r.sow[i] - 1000) / 0.1 + 1e-9));
  const u = (r.sow[i] - t.sow[k]) / (t.sow[k + 1] - t.sow[k]);
  const [a, b] = [k, k + 1].map((j) =>
    Array.from(geodeticToEcef(system.ellipsoid, t.latRad[j], t.lonRad[j], t.hEllM[j])),
  );
  const place = new Float64Array(3);
  ecefToGeodetic(system.ellipsoid, ...(a.map((v, j) => v + u * (b[j] - v)) as [number, number, number]), place);
  const q = new Float64Array(12);
  for (const end of [0, 1])
    quaternionFromAngles(t.rollRad![k + end], t.pitchRad![k + end], t.headingRad![k + end], q, 4 * end);
  slerp(q, 0, 4, u, q, 8);
  const attitude = new Float64Array(9);
  rotationFromQuaternion(q, 8, attitude);
  const [roll, pitch, heading] = errors.angles ?? [0, 0, 0];
  const times = (m: ArrayLike<number>, v: number[]) =>
    [0, 1, 2].map((j) => m[3 * j] * v[0] + m[3 * j + 1] * v[1] + m[3 * j + 2] * v[2]);
  const az = r.azimuthDeg[i] * DEG;
  const el = r.elevationDeg[i] * DEG;
  const beam = [Math.cos(el) * Math.cos(az), Math.cos(el) * Math.sin(az), -Math.sin(el)];
  // two directions square to the beam, for the scanner's own angles
  const side = [-Math.sin(az), Math.cos(az), 0];
  const up = [-Math.sin(el) * Math.cos(az), -Math.sin(el) * Math.sin(az), -Math.cos(el)];
  const [sideways, upwards] = errors.across ?? [0, 0];
  const range = r.rangeM[i] + (errors.range ?? 0);
  const inSensor = beam.map((v, j) => range * (v + sideways * side[j] + upwards * up[j]));
  const o = MOUNTING.orientationDeg;
  const c = MOUNTING.boresightDeg;
  const nominal = rotationFromAngles(o.roll * DEG, o.pitch * DEG, o.heading * DEG);
  const boresight = rotationFromAngles(c.roll * DEG, c.pitch * DEG, c.heading * DEG);
  let inBody = times(boresight, times(nominal, inSensor));
  if (errors.bore) inBody = inBody.map((v, j) => v + cross(errors.bore!, inBody)[j]);
  inBody = inBody.map((v, j) => v + MOUNTING.leverArmM[j] + (errors.lever?.[j] ?? 0));
  let inNed = times(attitude, inBody);
  // a change of roll, pitch and heading, about the axes these turn about
  const forward = [attitude[0], attitude[3], attitude[6]];
  const level = Math.hypot(forward[0], forward[1]);
  const across = [-forward[1] / level, forward[0] / level, 0];
  const turn = [0, 1, 2].map((j) => roll * forward[j] + pitch * across[j] + (j === 2 ? heading : 0));
  inNed = inNed.map((v, j) => v + cross(turn, inNed)[j] + (errors.ned?.[j] ?? 0));
  const axes = ecefToNed(place[0], place[1]);
  const ecef = [0, 1, 2].map(
    (j) => a[j] + u * (b[j] - a[j]) + axes[j] * inNed[0] + axes[3 + j] * inNed[1] + axes[6 + j] * inNed[2],
  );
  const out = new Float64Array(3);
  ecefToGeodetic(system.ellipsoid, ecef[0], ecef[1], ecef[2], out);
  system.project(out[0], out[1], out[2], out);
  return Array.from(out);
}

const cross = (a: number[], b: number[]) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

describe('placing', () => {
  it.each([
    ['at 56° north', 56.08, 8.47, 32, 20],
    ['far from the meridian', 45.3, 12.4, 32, 95],
    ['at 70° south', -70.1, -69.9, 19, 200],
    ['through north', 56.08, 8.47, 32, 0],
  ])('agrees with the exact chain to 0.1 mm up to 300 m away: %s', (_what, lat, lon, zone, heading) => {
    const t = drive(lat, lon, heading);
    const system = utm(zone);
    const returns = someReturns(400);
    const placed = new Placer(t, system, MOUNTING, NOISE).place(returns);
    expect(placed.outside).toBe(0);
    for (let i = 0; i < 400; i++) {
      const [e, n, h] = exact(t, system, returns, i);
      expect(Math.abs(placed.eastingM[i] - e)).toBeLessThan(1e-4);
      expect(Math.abs(placed.northingM[i] - n)).toBeLessThan(1e-4);
      expect(Math.abs(placed.heightM[i] - h)).toBeLessThan(1e-4);
    }
  });

  it('goes over the 180th meridian', () => {
    const t = drive(52, 179.9985, 90);
    expect(Math.min(...t.lonRad)).toBeLessThan(0);
    const system = utm(60, 0);
    const returns = someReturns(200);
    const placed = new Placer(t, system, MOUNTING, NOISE).place(returns);
    const gap = (a: number, b: number) => Math.abs(a - b);
    for (let i = 0; i < 200; i++) {
      const [e, n, h] = exact(t, system, returns, i);
      expect(Math.max(gap(placed.eastingM[i], e), gap(placed.northingM[i], n), gap(placed.heightM[i], h))).toBeLessThan(
        1e-4,
      );
    }
  });

  it.each([
    ['alike', 0.006, [0.006, 0.006, 0.006]],
    ['each its own', { roll: 0.002, pitch: 0.009, heading: 0.025 }, [0.002, 0.009, 0.025]],
  ])(
    'states the deviations that its error sources give, angles of the boresight %s',
    (_, boresightSdDeg, sdBoreDeg) => {
      const t = drive(56.08, 8.47, 20);
      const system = utm(32);
      const returns = someReturns(60);
      const placed = new Placer(t, system, { ...MOUNTING, boresightSdDeg }, NOISE).place(returns);
      const sdAngle = NOISE.angleSdDeg * DEG;
      const unit = (k: number, size: number) => [0, 1, 2].map((j) => (j === k ? size : 0));
      const sources: Errors[] = [
        ...[0.011, 0.017, 0.023].map((sd, k) => ({ ned: unit(k, sd) })),
        ...[0.004, 0.006, 0.015].map((sd, k) => ({ angles: unit(k, sd * DEG) })),
        ...[0, 1, 2].map((k) => ({ lever: unit(k, MOUNTING.leverArmSdM) })),
        ...sdBoreDeg.map((sd, k) => ({ bore: unit(k, sd * DEG) })),
        { range: NOISE.rangeSdM },
        { across: [sdAngle, 0] },
        { across: [0, sdAngle] },
      ];
      for (let i = 0; i < 60; i++) {
        const from = exact(t, system, returns, i);
        const sums = [0, 0, 0];
        for (const source of sources)
          exact(t, system, returns, i, source).forEach((v, k) => (sums[k] += (v - from[k]) ** 2));
        const stated = [placed.sdEM[i], placed.sdNM[i], placed.sdHM[i]];
        for (const k of [0, 1, 2]) expect(stated[k] / Math.sqrt(sums[k])).toBeCloseTo(1, 2);
      }
    },
  );

  it('adds the range offset of the mounting', () => {
    const t = drive(56.08, 8.47, 20);
    const returns = someReturns(60);
    const placed = new Placer(t, utm(32), { ...MOUNTING, rangeOffsetM: 0.25 }, NOISE).place(returns);
    const longer = { ...returns, rangeM: returns.rangeM.map((r) => r + 0.25) };
    for (let i = 0; i < 60; i++) {
      const [e, n, h] = exact(t, utm(32), longer, i);
      const apart = Math.hypot(placed.eastingM[i] - e, placed.northingM[i] - n, placed.heightM[i] - h);
      expect(apart).toBeLessThan(1e-3);
    }
  });

  it('leaves out what lies outside the trajectory or in a gap, and can reuse its columns', () => {
    const whole = drive(56.08, 8.47, 20);
    const keep = (_: number, i: number) => i < 30 || i > 50;
    const t = Object.fromEntries(
      Object.entries(whole).map(([k, v]) => [k, v instanceof Float64Array ? v.filter(keep) : v]),
    ) as unknown as Trajectory;
    const returns = someReturns(800);
    returns.sow[0] = 999;
    const placer = new Placer(t, utm(32), MOUNTING, NOISE);
    const placed = placer.place(returns);
    const inGap = Array.from(returns.sow).filter((s) => s < 1000 || (s >= t.sow[29] && s < t.sow[30])).length;
    expect(placed.outside).toBe(inGap);
    expect(Array.from(placed.eastingM).filter(Number.isNaN).length).toBe(inGap);
    const again = placer.place(returns, 700, 800, placer.place(returns, 0, 100));
    // the nodes of the maps differ by where a block begins
    for (let i = 0; i < 100; i++) expect(again.eastingM[i]).toBeCloseTo(placed.eastingM[700 + i], 4);
    expect(again.outside).toBe(0);
  });
});
