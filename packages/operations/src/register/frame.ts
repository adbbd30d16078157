import { LocalFrame, makeLocalMap, type ReferenceSystem } from '@longheron/core/frames';
import { apply3, multiply3, transpose3, type Matrix3, type Vector3 } from '@longheron/core/numeric';
import { type Pose } from '@longheron/core/terrestrial';

/** The frame that scans are adjusted in: Cartesian, level in the middle of what is known; or that of the first scan. */
export interface ScanFrame {
  system?: ReferenceSystem;
  /** A place of the project into the frame. */
  fromGrid(e: number, n: number, h: number): Vector3;
  /** And a place of the frame back: easting, northing, height. */
  toGrid(at: Vector3): Vector3;
  /** Bearing of the grid at a place into one of the frame, radians to add. */
  bearingShift(at: Vector3): number;
  /** What places points of a scan in the project. */
  placer(pose: Pose): ScanPlacer;
}

/** Points of one scan into the project: place and axes of the scanner, and its coefficients. */
export interface ScanPlacer {
  /** Easting, northing, height of the scanner. */
  atM: Vector3;
  /** Scanner's axes to east, north, up of the grid. */
  rotation: Matrix3;
  gridFactor: number | null;
  convergenceRad: number | null;
  /** Writes easting, northing, height of a point of the scanner's frame. */
  place(x: number, y: number, z: number, out: Float64Array): void;
}

/** The scan's own frame where nothing is known of it. */
export const localFrame = (): ScanFrame => ({
  fromGrid: (e, n, h) => [e, n, h],
  toGrid: (at) => at,
  bearingShift: () => 0,
  placer: ({ atM, rotation: r }) => ({
    atM,
    rotation: r,
    gridFactor: null,
    convergenceRad: null,
    place(x, y, z, out) {
      out[0] = atM[0] + r[0] * x + r[1] * y + r[2] * z;
      out[1] = atM[1] + r[3] * x + r[4] * y + r[5] * z;
      out[2] = atM[2] + r[6] * x + r[7] * y + r[8] * z;
    },
  }),
});

/** A frame level at a place of the project; points are carried to the grid by a second-order map of each scanner's place. */
export function levelFrame(system: ReferenceSystem, middle: Vector3): ScanFrame {
  const geo = new Float64Array(3);
  system.unproject(middle[0], middle[1], middle[2], geo);
  const frame = new LocalFrame(system.ellipsoid, geo[0], geo[1], geo[2]);
  const convergence = (lat: number, lon: number) => system.convergenceAndScale(lat, lon).convergenceRad;
  return {
    system,
    fromGrid(e, n, h) {
      const g = new Float64Array(3);
      system.unproject(e, n, h, g);
      return frame.fromGeodetic(g[0], g[1], g[2]);
    },
    toGrid(at) {
      const out = new Float64Array(3);
      system.project(...frame.toGeodetic(...at), out);
      return [out[0], out[1], out[2]];
    },
    bearingShift(at) {
      const [lat, lon] = frame.toGeodetic(...at);
      // from the grid's north to that of the place, and on to that of the frame
      const ned = frame.fromNed(lat, lon);
      return convergence(lat, lon) + Math.atan2(ned[0], ned[3]);
    },
    placer(pose) {
      const [lat, lon, h] = frame.toGeodetic(...pose.atM);
      const map = makeLocalMap(system, lat, lon, h);
      const { c } = map;
      const toNed = multiply3(transpose3(frame.fromNed(lat, lon)), pose.rotation);
      const { convergenceRad, scale } = system.convergenceAndScale(lat, lon);
      const [sin, cos] = [Math.sin(convergenceRad), Math.cos(convergenceRad)];
      // north, east, down to east, north, up of the grid
      const toGrid = Float64Array.of(-sin, cos, 0, cos, sin, 0, 0, 0, -1);
      return {
        atM: [c[0], c[10], c[20]],
        rotation: multiply3(toGrid, toNed),
        gridFactor: scale,
        convergenceRad,
        place(x, y, z, out) {
          const n = toNed[0] * x + toNed[1] * y + toNed[2] * z;
          const e = toNed[3] * x + toNed[4] * y + toNed[5] * z;
          const d = toNed[6] * x + toNed[7] * y + toNed[8] * z;
          for (let k = 0; k < 3; k++) {
            const b = 10 * k;
            out[k] =
              c[b] +
              n * (c[b + 1] + c[b + 4] * n + c[b + 7] * e + c[b + 8] * d) +
              e * (c[b + 2] + c[b + 5] * e + c[b + 9] * d) +
              d * (c[b + 3] + c[b + 6] * d);
          }
        },
      };
    },
  };
}

/** Unit quaternion (w, x, y, z) of a rotation, w not below zero (Shepperd 1978). */
export function quaternionOf(m: Matrix3): [number, number, number, number] {
  const trace = m[0] + m[4] + m[8];
  const all = [trace, m[0], m[4], m[8]];
  const k = all.indexOf(Math.max(...all));
  const q = [0, 0, 0, 0];
  q[k] = Math.sqrt(Math.max(0, 1 + 2 * all[k] - trace)) / 2;
  const f = 1 / (4 * q[k]);
  const part = (a: number, b: number) => ({ sum: (m[a] + m[b]) * f, less: (m[a] - m[b]) * f });
  const [xy, xz, yz] = [part(3, 1), part(2, 6), part(7, 5)];
  if (k === 0) [q[1], q[2], q[3]] = [yz.less, xz.less, xy.less];
  else if (k === 1) [q[0], q[2], q[3]] = [yz.less, xy.sum, xz.sum];
  else if (k === 2) [q[0], q[1], q[3]] = [xz.less, xy.sum, yz.sum];
  else [q[0], q[1], q[2]] = [xy.less, xz.sum, yz.sum];
  const sign = q[0] < 0 ? -1 : 1;
  return [sign * q[0], sign * q[1], sign * q[2], sign * q[3]];
}

/** Bearing of the scanner's y axis and how far its z axis leans, radians. */
export function attitudeOf(rotation: Matrix3): { bearingRad: number; tiltRad: number } {
  const up = apply3(rotation, [0, 0, 1]);
  return { bearingRad: Math.atan2(rotation[1], rotation[4]), tiltRad: Math.atan2(Math.hypot(up[0], up[1]), up[2]) };
}
