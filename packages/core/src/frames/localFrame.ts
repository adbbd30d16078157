import { multiply3, transpose3, type Matrix3, type Vector3 } from '../numeric/matrix3';
import { ecefToGeodetic, ecefToNed, geodeticToEcef, type Ellipsoid } from './ellipsoid';

/** A Cartesian frame level at its origin: x east, y north, z up, metres. Straight lines of space are straight in it. */
export class LocalFrame {
  private readonly origin: Float64Array;
  /** Rows: east, north, up of the origin in Earth-centred axes. */
  private readonly axes: Matrix3;
  private readonly geo = new Float64Array(3);

  /** @param latRad, lonRad, hEllM of the origin. */
  constructor(
    private readonly ellipsoid: Ellipsoid,
    latRad: number,
    lonRad: number,
    hEllM: number,
  ) {
    this.origin = Float64Array.from(geodeticToEcef(ellipsoid, latRad, lonRad, hEllM));
    const ned = ecefToNed(latRad, lonRad);
    this.axes = Float64Array.of(ned[3], ned[4], ned[5], ned[0], ned[1], ned[2], -ned[6], -ned[7], -ned[8]);
  }

  /** Turns the axes of the frame into Earth-centred ones. */
  get toEarth(): Matrix3 {
    return transpose3(this.axes);
  }

  fromGeodetic(latRad: number, lonRad: number, hEllM: number): Vector3 {
    const p = geodeticToEcef(this.ellipsoid, latRad, lonRad, hEllM);
    const d = [0, 1, 2].map((k) => p[k] - this.origin[k]);
    const { axes } = this;
    return [0, 3, 6].map((r) => axes[r] * d[0] + axes[r + 1] * d[1] + axes[r + 2] * d[2]) as Vector3;
  }

  /** @returns latitude, longitude (radians) and ellipsoidal height, metres. */
  toGeodetic(x: number, y: number, z: number): Vector3 {
    const { axes, origin, geo } = this;
    const [a, b, c] = [0, 1, 2].map((k) => origin[k] + axes[k] * x + axes[3 + k] * y + axes[6 + k] * z);
    ecefToGeodetic(this.ellipsoid, a, b, c, geo);
    return [geo[0], geo[1], geo[2]];
  }

  /** Turns north, east, down of a place into the axes of the frame. */
  fromNed(latRad: number, lonRad: number): Matrix3 {
    return multiply3(this.axes, transpose3(Float64Array.from(ecefToNed(latRad, lonRad))));
  }
}
