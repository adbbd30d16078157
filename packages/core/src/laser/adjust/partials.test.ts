import { expect, it } from 'vitest';
import { DEG } from '../../frames/ellipsoid';
import { type SensorMounting } from '../../frames/mounting';
import { makeReferenceSystem } from '../../frames/referenceSystem';
import { type Trajectory } from '../../trajectory/trajectory';
import { Placer } from '../place';
import { type LaserReturns } from '../returns';
import { HEAD_SIZE, Partials } from './partials';

const system = makeReferenceSystem({
  horizontalCode: 25832,
  horizontalName: 'zone 32',
  proj4: '+proj=utm +zone=32 +ellps=GRS80 +units=m +no_defs',
  metresPerUnit: 1,
  verticalCode: 5773,
  verticalName: '',
  verticalMetresPerUnit: 1,
});

const N = 40;
const sow = Float64Array.from({ length: 200 }, (_, i) => 1000 + i / 10);
const curve = (at: number, by: number) => Float64Array.from(sow, (t) => at + by * Math.sin((t - 1000) / 3));
const trajectory: Trajectory = {
  week: 2400,
  sow,
  latRad: Float64Array.from(sow, (t) => 56.1 * DEG + (45 * (t - 1000)) / 6.4e6),
  lonRad: Float64Array.from(sow, (t) => 8.6 * DEG + (12 * (t - 1000)) / 3.6e6),
  hEllM: curve(310, 2),
  rollRad: curve(0.02, 0.05),
  pitchRad: curve(0.05, 0.03),
  headingRad: curve(0.4, 0.1),
};
const mounting: SensorMounting = {
  leverArmM: [0.3, -0.2, 0.6],
  orientationDeg: { roll: 90, pitch: 0, heading: 90 },
  boresightDeg: { roll: 0.4, pitch: -0.7, heading: 1.2 },
  leverArmSdM: 0,
  boresightSdDeg: 0,
};
const column = (f: (i: number) => number) => Float32Array.from({ length: N }, (_, i) => f(i));
const returns: LaserReturns = {
  week: 2400,
  sow: Float64Array.from({ length: N }, (_, i) => 1000.3 + i * 0.47),
  rangeM: column((i) => 250 + 5 * i),
  azimuthDeg: column((i) => 60 + (i * 61) / N),
  elevationDeg: column((i) => 2 * Math.sin(i)),
  intensity: new Uint16Array(N),
  returnNumber: new Uint8Array(N).fill(1),
  returnCount: new Uint8Array(N).fill(1),
};
const noise = { rangeSdM: 0, angleSdDeg: 0 };

it('is how points move when a mounting or a trajectory is changed a little', () => {
  const place = (t: Trajectory, m: SensorMounting) => new Placer(t, system, m, noise).place(returns);
  const now = place(trajectory, mounting);
  const bore = (roll: number, pitch: number, heading: number): SensorMounting => {
    const b = mounting.boresightDeg;
    return { ...mounting, boresightDeg: { roll: b.roll + roll, pitch: b.pitch + pitch, heading: b.heading + heading } };
  };
  const lever = (x: number, y: number, z: number): SensorMounting => {
    const l = mounting.leverArmM;
    return { ...mounting, leverArmM: [l[0] + x, l[1] + y, l[2] + z] };
  };
  const mrad = 0.001 / DEG;
  const moved = [
    place(trajectory, bore(mrad, 0, 0)),
    place(trajectory, bore(0, mrad, 0)),
    place(trajectory, bore(0, 0, mrad)),
    place(trajectory, lever(0.1, 0, 0)),
    place(trajectory, lever(0, 0.1, 0)),
    place(trajectory, lever(0, 0, 0.1)),
    place(trajectory, { ...mounting, rangeOffsetM: 0.1 }),
  ];
  const turned = (['rollRad', 'pitchRad', 'headingRad'] as const).map((c) =>
    place({ ...trajectory, [c]: trajectory[c]!.map((v) => v + 0.001) }, mounting),
  );
  // a metre of the meridian and of the parallel at this place on GRS 80
  const sin2 = Math.sin(56.1 * DEG) ** 2;
  const w = Math.sqrt(1 - 0.00669438 * sin2);
  const metresN = (6378137 * (1 - 0.00669438)) / w ** 3 + 310;
  const metresE = (6378137 / w + 310) * Math.cos(56.1 * DEG);
  const shifted = [
    place({ ...trajectory, latRad: trajectory.latRad.map((v) => v + 0.1 / metresN) }, mounting),
    place({ ...trajectory, lonRad: trajectory.lonRad.map((v) => v + 0.1 / metresE) }, mounting),
    place({ ...trajectory, hEllM: trajectory.hEllM.map((v) => v - 0.1) }, mounting),
  ];
  const partials = new Partials(trajectory, system, [mounting]);
  const head = new Float64Array(HEAD_SIZE);
  const platform = new Float64Array(6);
  for (let i = 0; i < N; i++) {
    const normal: [number, number, number] = [0.6 * Math.sin(i), 0.6 * Math.cos(i), 0.8];
    const point: [number, number, number] = [now.eastingM[i], now.northingM[i], now.heightM[i]];
    partials.of(0, returns.sow[i], point, normal, head, platform);
    const along = (p: typeof now) =>
      normal[0] * (p.eastingM[i] - point[0]) +
      normal[1] * (p.northingM[i] - point[1]) +
      normal[2] * (p.heightM[i] - point[2]);
    // a thousandth of a radian at up to 450 m: half a metre, whose second order is a quarter of a millimetre
    moved.forEach((p, k) => expect(Math.abs(along(p) - (k < 3 ? 1 : 0.1) * head[k])).toBeLessThan(6e-4));
    shifted.forEach((p, k) => expect(Math.abs(along(p) - 0.1 * platform[k])).toBeLessThan(6e-5));
    turned.forEach((p, k) => expect(Math.abs(along(p) - platform[3 + k])).toBeLessThan(6e-4));
  }
});
