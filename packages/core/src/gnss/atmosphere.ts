/**
 * Zenith delays of the troposphere after Saastamoinen (1972), metres, in the standard atmosphere at a height.
 * @param heightM above the sea; @param humidity relative, 0…1.
 */
export function zenithDelaysM(latRad: number, heightM: number, humidity = 0.5): { dryM: number; wetM: number } {
  const h = Math.max(-500, Math.min(10000, heightM));
  const pressureHpa = 1013.25 * (1 - 2.2557e-5 * h) ** 5.2568;
  const kelvin = 288.15 - 6.5e-3 * h;
  const vapourHpa = 6.108 * humidity * Math.exp((17.15 * kelvin - 4684) / (kelvin - 38.45));
  return { dryM: saastamoinenDryM(pressureHpa, latRad, h), wetM: 0.002277 * (1255 / kelvin + 0.05) * vapourHpa };
}

/** Zenith hydrostatic delay from pressure (Davis et al. 1985), metres. */
export function saastamoinenDryM(pressureHpa: number, latRad: number, heightM: number): number {
  return (0.0022768 * pressureHpa) / (1 - 0.00266 * Math.cos(2 * latRad) - 0.28e-6 * heightM);
}

/** Niell's tables (1996, "Global mapping functions for the atmosphere delay at radio wavelengths"), 15° to 75°. */
const DRY = [
  [1.2769934e-3, 1.268323e-3, 1.2465397e-3, 1.2196049e-3, 1.2045996e-3],
  [2.9153695e-3, 2.9152299e-3, 2.9288445e-3, 2.9022565e-3, 2.9024912e-3],
  [62.610505e-3, 62.837393e-3, 63.721774e-3, 63.824265e-3, 64.258455e-3],
];
const DRY_SEASON = [
  [0, 1.2709626e-5, 2.6523662e-5, 3.4000452e-5, 4.1202191e-5],
  [0, 2.1414979e-5, 3.0160779e-5, 7.2562722e-5, 11.723375e-5],
  [0, 9.01284e-5, 4.3497037e-5, 84.795348e-5, 170.37206e-5],
];
const WET = [
  [5.8021897e-4, 5.6794847e-4, 5.8118019e-4, 5.9727542e-4, 6.1641693e-4],
  [1.4275268e-3, 1.5138625e-3, 1.4572752e-3, 1.5007428e-3, 1.7599082e-3],
  [4.3472961e-2, 4.672951e-2, 4.3908931e-2, 4.4626982e-2, 5.4736038e-2],
];
const DRY_HEIGHT = [2.53e-5, 5.49e-3, 1.14e-3];

function byLatitude(table: number[], latDeg: number): number {
  const at = Math.max(0, Math.min(4, latDeg / 15 - 1));
  const k = Math.min(3, Math.floor(at));
  return table[k] + (at - k) * (table[k + 1] - table[k]);
}

/** Continued fraction of Herring (1992), one at the zenith. */
function fraction(sinEl: number, a: number, b: number, c: number): number {
  return (1 + a / (1 + b / (1 + c))) / (sinEl + a / (sinEl + b / (sinEl + c)));
}

/** Coefficients of Niell's functions at a place and day; the last ones are kept, since epochs ask for the same. */
function coefficients(latRad: number, dayOfYear: number): { dry: number[]; wet: number[] } {
  if (Math.abs(latRad - kept.latRad) < SAME_PLACE_RAD && dayOfYear === kept.dayOfYear) return kept;
  const latDeg = (Math.abs(latRad) * 180) / Math.PI;
  const south = latRad < 0 ? 365.25 / 2 : 0;
  const season = Math.cos((2 * Math.PI * (dayOfYear - 28 + south)) / 365.25);
  kept = {
    latRad,
    dayOfYear,
    dry: [0, 1, 2].map((k) => byLatitude(DRY[k], latDeg) - byLatitude(DRY_SEASON[k], latDeg) * season),
    wet: [0, 1, 2].map((k) => byLatitude(WET[k], latDeg)),
  };
  return kept;
}
let kept = { latRad: NaN, dayOfYear: NaN, dry: [0], wet: [0] };
/** Less than this changes no delay by a thousandth of a millimetre, radians. */
const SAME_PLACE_RAD = 1e-6;

/**
 * Niell's mapping functions: how often the zenith delay lies on the way at an elevation.
 * @param dayOfYear with fraction; @param heightM above the sea.
 */
export function niell(
  elevationRad: number,
  latRad: number,
  heightM: number,
  dayOfYear: number,
): { dry: number; wet: number } {
  const { dry: d, wet: w } = coefficients(latRad, dayOfYear);
  const sinEl = Math.sin(elevationRad);
  const lift = 1 / sinEl - fraction(sinEl, DRY_HEIGHT[0], DRY_HEIGHT[1], DRY_HEIGHT[2]);
  return {
    dry: fraction(sinEl, d[0], d[1], d[2]) + (lift * heightM) / 1000,
    wet: fraction(sinEl, w[0], w[1], w[2]),
  };
}

/**
 * Broadcast ionosphere (Klobuchar 1987; IS-GPS-200, 20.3.3.5.2.5): delay on the first GPS band, metres.
 * @param alpha, beta the eight coefficients; @param sow seconds of GPS week.
 */
export function klobucharM(
  alpha: ArrayLike<number>,
  beta: ArrayLike<number>,
  latRad: number,
  lonRad: number,
  azimuthRad: number,
  elevationRad: number,
  sow: number,
): number {
  const el = elevationRad / Math.PI;
  const psi = 0.0137 / (el + 0.11) - 0.022;
  const phi = Math.max(-0.416, Math.min(0.416, latRad / Math.PI + psi * Math.cos(azimuthRad)));
  const lambda = lonRad / Math.PI + (psi * Math.sin(azimuthRad)) / Math.cos(phi * Math.PI);
  const magnetic = phi + 0.064 * Math.cos((lambda - 1.617) * Math.PI);
  const local = (((43200 * lambda + sow) % 86400) + 86400) % 86400;
  const polynomial = (c: ArrayLike<number>) => c[0] + magnetic * (c[1] + magnetic * (c[2] + magnetic * c[3]));
  const amplitude = Math.max(0, polynomial(alpha));
  const period = Math.max(72000, polynomial(beta));
  const x = (2 * Math.PI * (local - 50400)) / period;
  const slant = 1 + 16 * (0.53 - el) ** 3;
  const s = Math.abs(x) < 1.57 ? 5e-9 + amplitude * (1 - (x * x) / 2 + x ** 4 / 24) : 5e-9;
  return 299792458 * slant * s;
}
