/** Seconds from the epoch of GPS time to noon of 1 January 2000, terrestrial time taken 51.184 s ahead of GPS. */
const J2000_GPS = 630763200 - 51.184;
const DAY_S = 86400;
const RAD = Math.PI / 180;
/** Astronomical unit and the Earth's radius, metres. */
const AU_M = 149597870700;
const EARTH_M = 6378137;

/** Greenwich mean sidereal time, radians (IAU 1982); UT1 is taken as UTC. @param utcOffsetS GPS less UTC. */
export function siderealTimeRad(gpsS: number, utcOffsetS: number): number {
  const ut = (gpsS - utcOffsetS - 630763200) / DAY_S;
  const t = ut / 36525;
  const degrees = 280.46061837 + 360.98564736629 * ut + 0.000387933 * t * t - (t * t * t) / 38710000;
  return (((degrees % 360) + 360) % 360) * RAD;
}

/**
 * Sun and Moon in Earth-fixed axes, metres: the low-precision formulas of the Astronomical Almanac (Sun 0.01°,
 * Moon 0.3° and 0.2 % of distance), enough for tides and for the attitude of satellites.
 * @param utcOffsetS leap seconds: GPS less UTC.
 */
export function sunAndMoonM(gpsS: number, utcOffsetS: number): { sun: Float64Array; moon: Float64Array } {
  const n = (gpsS - J2000_GPS) / DAY_S;
  const t = n / 36525;
  const sin = (deg: number) => Math.sin(deg * RAD);
  const cos = (deg: number) => Math.cos(deg * RAD);
  const tilt = 23.439 - 0.0000004 * n;
  const g = 357.528 + 0.9856003 * n;
  const sunLongitude = 280.46 + 0.9856474 * n + 1.915 * sin(g) + 0.02 * sin(2 * g);
  const sunM = AU_M * (1.00014 - 0.01671 * cos(g) - 0.00014 * cos(2 * g));
  const longitude =
    218.32 +
    481267.881 * t +
    6.29 * sin(135 + 477198.87 * t) -
    1.27 * sin(259.3 - 413335.36 * t) +
    0.66 * sin(235.7 + 890534.22 * t) +
    0.21 * sin(269.9 + 954397.74 * t) -
    0.19 * sin(357.5 + 35999.05 * t) -
    0.11 * sin(186.5 + 966404.03 * t);
  const latitude =
    5.13 * sin(93.3 + 483202.02 * t) +
    0.28 * sin(228.2 + 960400.89 * t) -
    0.28 * sin(318.3 + 6003.15 * t) -
    0.17 * sin(217.6 - 407332.21 * t);
  const parallax =
    0.9508 +
    0.0518 * cos(135 + 477198.87 * t) +
    0.0095 * cos(259.3 - 413335.36 * t) +
    0.0078 * cos(235.7 + 890534.22 * t) +
    0.0028 * cos(269.9 + 954397.74 * t);
  const moonM = EARTH_M / sin(parallax);
  const gmst = siderealTimeRad(gpsS, utcOffsetS);
  const fixed = (lonDeg: number, latDeg: number, r: number) => {
    const x = r * cos(latDeg) * cos(lonDeg);
    const y = r * (cos(tilt) * cos(latDeg) * sin(lonDeg) - sin(tilt) * sin(latDeg));
    const z = r * (sin(tilt) * cos(latDeg) * sin(lonDeg) + cos(tilt) * sin(latDeg));
    return Float64Array.of(x * Math.cos(gmst) + y * Math.sin(gmst), y * Math.cos(gmst) - x * Math.sin(gmst), z);
  };
  return { sun: fixed(sunLongitude, 0, sunM), moon: fixed(longitude, latitude, moonM) };
}
