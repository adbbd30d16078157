import { type Ellipsoid } from './ellipsoid';

/**
 * Transverse Mercator by the Krüger series to sixth order in the third flattening
 * (Karney 2011, "Transverse Mercator with an accuracy of a few nanometers", J. Geodesy 85).
 */
export interface TransverseMercator {
  ellipsoid: Ellipsoid;
  lat0Rad: number;
  lon0Rad: number;
  k0: number;
  falseEastingM: number;
  falseNorthingM: number;
}

interface Series {
  e: number;
  /** Rectifying radius times scale, metres. */
  radius: number;
  alpha: number[];
  beta: number[];
  northing0: number;
}

const cache = new WeakMap<TransverseMercator, Series>();

function series(tm: TransverseMercator): Series {
  const known = cache.get(tm);
  if (known) return known;
  const { a, f } = tm.ellipsoid;
  const n = f / (2 - f);
  const n2 = n * n,
    n3 = n2 * n,
    n4 = n3 * n,
    n5 = n4 * n,
    n6 = n5 * n;
  const alpha = [
    n / 2 - (2 / 3) * n2 + (5 / 16) * n3 + (41 / 180) * n4 - (127 / 288) * n5 + (7891 / 37800) * n6,
    (13 / 48) * n2 - (3 / 5) * n3 + (557 / 1440) * n4 + (281 / 630) * n5 - (1983433 / 1935360) * n6,
    (61 / 240) * n3 - (103 / 140) * n4 + (15061 / 26880) * n5 + (167603 / 181440) * n6,
    (49561 / 161280) * n4 - (179 / 168) * n5 + (6601661 / 7257600) * n6,
    (34729 / 80640) * n5 - (3418889 / 1995840) * n6,
    (212378941 / 319334400) * n6,
  ];
  const beta = [
    n / 2 - (2 / 3) * n2 + (37 / 96) * n3 - (1 / 360) * n4 - (81 / 512) * n5 + (96199 / 604800) * n6,
    (1 / 48) * n2 + (1 / 15) * n3 - (437 / 1440) * n4 + (46 / 105) * n5 - (1118711 / 3870720) * n6,
    (17 / 480) * n3 - (37 / 840) * n4 - (209 / 4480) * n5 + (5569 / 90720) * n6,
    (4397 / 161280) * n4 - (11 / 504) * n5 - (830251 / 7257600) * n6,
    (4583 / 161280) * n5 - (108847 / 3991680) * n6,
    (20648693 / 638668800) * n6,
  ];
  const radius = ((tm.k0 * a) / (1 + n)) * (1 + n2 / 4 + n4 / 64 + n6 / 256);
  const made: Series = { e: Math.sqrt(f * (2 - f)), radius, alpha, beta, northing0: 0 };
  cache.set(tm, made);
  if (tm.lat0Rad !== 0) {
    const origin = new Float64Array(4);
    forwardTransverseMercator(
      { ...tm, lat0Rad: 0, falseEastingM: 0, falseNorthingM: 0 },
      tm.lat0Rad,
      tm.lon0Rad,
      origin,
    );
    made.northing0 = origin[1];
  }
  return made;
}

/**
 * Geodetic to grid.
 * @returns easting and northing in metres, convergence (azimuth of grid north from true north) in radians and
 * point scale, written to `out`.
 */
export function forwardTransverseMercator(
  tm: TransverseMercator,
  latRad: number,
  lonRad: number,
  out: Float64Array = new Float64Array(4),
): Float64Array {
  const s = series(tm);
  const lambda = normaliseLongitude(lonRad - tm.lon0Rad);
  const sinLon = Math.sin(lambda);
  const cosLon = Math.cos(lambda);
  const tau = Math.tan(latRad);
  const sigma = Math.sinh(s.e * Math.atanh((s.e * tau) / Math.sqrt(1 + tau * tau)));
  const tauP = tau * Math.sqrt(1 + sigma * sigma) - sigma * Math.sqrt(1 + tau * tau);
  const h = Math.hypot(tauP, cosLon);
  const xiP = Math.atan2(tauP, cosLon);
  const etaP = Math.asinh(sinLon / h);
  let xi = xiP;
  let eta = etaP;
  let p = 1;
  let q = 0;
  for (let j = 1; j <= 6; j++) {
    const sj = Math.sin(2 * j * xiP);
    const cj = Math.cos(2 * j * xiP);
    const shj = Math.sinh(2 * j * etaP);
    const chj = Math.cosh(2 * j * etaP);
    const aj = s.alpha[j - 1];
    xi += aj * sj * chj;
    eta += aj * cj * shj;
    p += 2 * j * aj * cj * chj;
    q += 2 * j * aj * sj * shj;
  }
  out[0] = tm.falseEastingM + s.radius * eta;
  out[1] = tm.falseNorthingM + s.radius * xi - s.northing0;
  const first = Math.atan((tauP / Math.sqrt(1 + tauP * tauP)) * Math.tan(lambda));
  out[2] = first + Math.atan2(q, p);
  const sinLat = Math.sin(latRad);
  const k1 = (Math.sqrt(1 - s.e * s.e * sinLat * sinLat) * Math.sqrt(1 + tau * tau)) / h;
  out[3] = k1 * Math.hypot(p, q) * (s.radius / tm.ellipsoid.a);
  return out;
}

/** Grid to geodetic. @returns latitude and longitude in radians, written to `out`. */
export function inverseTransverseMercator(
  tm: TransverseMercator,
  eastingM: number,
  northingM: number,
  out: Float64Array = new Float64Array(2),
): Float64Array {
  const s = series(tm);
  const xi = (northingM - tm.falseNorthingM + s.northing0) / s.radius;
  const eta = (eastingM - tm.falseEastingM) / s.radius;
  let xiP = xi;
  let etaP = eta;
  for (let j = 1; j <= 6; j++) {
    xiP -= s.beta[j - 1] * Math.sin(2 * j * xi) * Math.cosh(2 * j * eta);
    etaP -= s.beta[j - 1] * Math.cos(2 * j * xi) * Math.sinh(2 * j * eta);
  }
  const sinhEta = Math.sinh(etaP);
  const cosXi = Math.cos(xiP);
  const tauP = Math.sin(xiP) / Math.hypot(sinhEta, cosXi);
  let tau = tauP;
  const e2 = s.e * s.e;
  for (let i = 0; i < 6; i++) {
    const root = Math.sqrt(1 + tau * tau);
    const sigma = Math.sinh(s.e * Math.atanh((s.e * tau) / root));
    const guess = tau * Math.sqrt(1 + sigma * sigma) - sigma * root;
    const step = ((tauP - guess) / Math.sqrt(1 + guess * guess)) * ((1 + (1 - e2) * tau * tau) / ((1 - e2) * root));
    tau += step;
    if (Math.abs(step) < 1e-16 * Math.max(1, Math.abs(tau))) break;
  }
  out[0] = Math.atan(tau);
  out[1] = normaliseLongitude(tm.lon0Rad + Math.atan2(sinhEta, cosXi));
  return out;
}

function normaliseLongitude(lonRad: number): number {
  return lonRad - 2 * Math.PI * Math.round(lonRad / (2 * Math.PI));
}
