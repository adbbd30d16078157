import { ecefToGeodetic, ecefToNed, GRS80 } from '@longheron/core/frames';
import { type KinematicEpoch } from '@longheron/core/gnss';
import { decimalYear, unixFromGps } from '@longheron/core/time';
import { type Trajectory } from '@longheron/core/trajectory';

/** Epochs as a trajectory of the antenna reference point. */
export function antennaTrajectory(epochs: KinematicEpoch[], week: number, frame: string, gps: number): Trajectory {
  const n = epochs.length;
  const column = () => new Float64Array(n);
  const t = {
    week,
    sow: column(),
    latRad: column(),
    lonRad: column(),
    hEllM: column(),
    sdNM: column(),
    sdEM: column(),
    sdDM: column(),
    solution: new Uint8Array(n),
    satellites: new Uint8Array(n),
    crs: frame,
    point: 'antenna',
    epoch: yearOf(gps),
    source: 'Long Heron 0.1, GNSS',
  } satisfies Trajectory;
  const geo = new Float64Array(3);
  epochs.forEach((e, i) => {
    ecefToGeodetic(GRS80, e.xyzM[0], e.xyzM[1], e.xyzM[2], geo);
    const axes = ecefToNed(geo[0], geo[1]);
    const sd = (k: number) => {
      let q = 0;
      for (let r = 0; r < 3; r++)
        for (let c = 0; c < 3; c++) q += axes[3 * k + r] * e.covariance[3 * r + c] * axes[3 * k + c];
      return Math.sqrt(q);
    };
    t.sow[i] = e.sow;
    [t.latRad[i], t.lonRad[i], t.hEllM[i]] = geo;
    t.sdNM[i] = sd(0);
    t.sdEM[i] = sd(1);
    t.sdDM[i] = sd(2);
    t.solution[i] = { fixed: 1, float: 2, code: 3 }[e.solution];
    t.satellites[i] = e.satellites;
  });
  return t;
}

/** GPS seconds as a year with decimals. */
export const yearOf = (gps: number) => decimalYear(new Date(unixFromGps(gps) * 1000));
