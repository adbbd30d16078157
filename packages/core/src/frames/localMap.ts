import { ecefToGeodetic, ecefToNed, geodeticToEcef } from './ellipsoid';
import { type ReferenceSystem } from './referenceSystem';

/**
 * A second-order map from metres north, east, down at a node to easting, northing, height: the exact chain local
 * level → Earth-centred → geodetic → projection and geoid, expanded about the node (value, Jacobian, curvature).
 * Within 0.1 mm of the exact chain at 300 m; the third-order terms are below 1e-5 m there.
 */
export interface LocalMap {
  /** Earth-centred position of the node, metres. */
  originEcef: Float64Array;
  /** Rows: north, east, down axes of the node in Earth-centred coordinates. */
  axes: Float64Array;
  /**
   * 30 coefficients, ten for each of E, N, H: value, n, e, d, n², e², d², n·e, n·d, e·d.
   */
  c: Float64Array;
}

/** The exact chain for one point given north, east, down metres from a node. */
export function exactFromLocal(
  system: ReferenceSystem,
  originEcef: Float64Array,
  axes: Float64Array,
  n: number,
  e: number,
  d: number,
  out: Float64Array,
): void {
  const x = originEcef[0] + axes[0] * n + axes[3] * e + axes[6] * d;
  const y = originEcef[1] + axes[1] * n + axes[4] * e + axes[7] * d;
  const z = originEcef[2] + axes[2] * n + axes[5] * e + axes[8] * d;
  ecefToGeodetic(system.ellipsoid, x, y, z, out);
  system.project(out[0], out[1], out[2], out);
}

/**
 * @param latRad, lonRad, hM the node: geodetic, ellipsoidal height in metres.
 * @param stepM distance of the central differences; 100 m keeps rounding below 1e-7 m at 300 m.
 */
export function makeLocalMap(
  system: ReferenceSystem,
  latRad: number,
  lonRad: number,
  hM: number,
  stepM = 100,
): LocalMap {
  const originEcef = geodeticToEcef(system.ellipsoid, latRad, lonRad, hM);
  const axes = ecefToNed(latRad, lonRad);
  const c = new Float64Array(30);
  const at = (n: number, e: number, d: number): Float64Array => {
    const out = new Float64Array(3);
    exactFromLocal(system, originEcef, axes, n * stepM, e * stepM, d * stepM, out);
    return out;
  };
  const centre = at(0, 0, 0);
  const unit = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ] as const;
  const plus = unit.map(([n, e, d]) => at(n, e, d));
  const minus = unit.map(([n, e, d]) => at(-n, -e, -d));
  const pairs = [
    [0, 1],
    [0, 2],
    [1, 2],
  ] as const;
  const mixed = pairs.map(([i, j]) => {
    const corner = (si: number, sj: number) => {
      const v = [0, 0, 0];
      v[i] = si;
      v[j] = sj;
      return at(v[0], v[1], v[2]);
    };
    return [corner(1, 1), corner(1, -1), corner(-1, 1), corner(-1, -1)];
  });
  for (let k = 0; k < 3; k++) {
    const base = 10 * k;
    c[base] = centre[k];
    for (let i = 0; i < 3; i++) {
      c[base + 1 + i] = (plus[i][k] - minus[i][k]) / (2 * stepM);
      c[base + 4 + i] = (plus[i][k] - 2 * centre[k] + minus[i][k]) / (2 * stepM * stepM);
    }
    mixed.forEach(([pp, pm, mp, mm], m) => {
      c[base + 7 + m] = (pp[k] - pm[k] - mp[k] + mm[k]) / (4 * stepM * stepM);
    });
  }
  return { originEcef, axes, c };
}

/** Applies the map to one point. Hot loops inline the same ten terms. */
export function applyLocalMap(map: LocalMap, n: number, e: number, d: number, out: Float64Array, at = 0): void {
  const c = map.c;
  for (let k = 0; k < 3; k++) {
    const b = 10 * k;
    out[at + k] =
      c[b] +
      n * (c[b + 1] + c[b + 4] * n + c[b + 7] * e + c[b + 8] * d) +
      e * (c[b + 2] + c[b + 5] * e + c[b + 9] * d) +
      d * (c[b + 3] + c[b + 6] * d);
  }
}
