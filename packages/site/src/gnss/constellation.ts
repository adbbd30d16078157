import { Random } from '@longheron/core/numeric';

/** Orbit and clock of one satellite in the terms of a broadcast record: the truth, and what the navigation file says. */
export interface SiteSatellite {
  name: string;
  galileo: boolean;
  toeSow: number;
  sqrtA: number;
  e: number;
  i0: number;
  node0: number;
  perigee: number;
  m0: number;
  deltaN: number;
  nodeRate: number;
  inclinationRate: number;
  harmonics: { cuc: number; cus: number; crc: number; crs: number; cic: number; cis: number };
  clockS: number;
  clockRate: number;
  groupDelayS: number;
}

const EARTH_RATE = 7.2921151467e-5;
const LIGHT = 299792458;

/** Thirty GPS and twenty-four Galileo satellites in their planes; the same seed gives the same sky. */
export function constellation(seed: number, toeSow: number): SiteSatellite[] {
  const random = new Random(seed, 'constellation');
  const out: SiteSatellite[] = [];
  const add = (galileo: boolean, planes: number, each: number, inclinationDeg: number, sqrtA: number, most: number) => {
    for (let p = 0; p < planes; p++)
      for (let k = 0; k < each; k++) {
        const number = p * each + k + 1;
        out.push({
          name: `${galileo ? 'E' : 'G'}${String(number).padStart(2, '0')}`,
          galileo,
          toeSow,
          sqrtA: sqrtA + random.between(-0.03, 0.03),
          e: random.between(most / 20, most),
          i0: ((inclinationDeg + random.between(-0.6, 0.6)) * Math.PI) / 180,
          node0: (2 * Math.PI * (p + random.between(-0.02, 0.02))) / planes - 1,
          perigee: random.between(-3, 3),
          m0: (2 * Math.PI * (k + p / planes + random.between(-0.05, 0.05))) / each - 3,
          deltaN: random.between(3e-9, 5.5e-9),
          nodeRate: random.between(-8.6e-9, -7.6e-9),
          inclinationRate: random.between(-4e-10, 4e-10),
          harmonics: {
            cuc: random.between(-5e-6, 5e-6),
            cus: random.between(2e-6, 1e-5),
            crc: random.between(150, 350),
            crs: random.between(-100, 100),
            cic: random.between(-2e-7, 2e-7),
            cis: random.between(-2e-7, 2e-7),
          },
          clockS: random.between(-4e-4, 4e-4),
          clockRate: random.between(-8e-12, 8e-12),
          groupDelayS: random.between(-1.2e-8, 1.2e-8),
        });
      }
  };
  add(false, 6, 5, 55, 5153.65, 0.018);
  add(true, 3, 8, 56, 5440.6, 0.0006);
  return out;
}

/**
 * Where a satellite is, Earth-fixed metres, and what its clock shows, seconds, with relativity; written to `out`.
 * The site's own reckoning, from the argument of latitude upwards.
 */
export function siteOrbit(s: SiteSatellite, sow: number, out: Float64Array): void {
  const mu = s.galileo ? 3.986004418e14 : 3.986005e14;
  const a = s.sqrtA ** 2;
  const t = sow - s.toeSow;
  const mean = s.m0 + t * (Math.sqrt(mu) / (a * s.sqrtA) + s.deltaN);
  let anomaly = mean;
  for (let k = 0; k < 12; k++) anomaly = mean + s.e * Math.sin(anomaly);
  const half = Math.sqrt((1 + s.e) / (1 - s.e)) * Math.tan(anomaly / 2);
  const latitude = 2 * Math.atan(half) + s.perigee;
  const h = s.harmonics;
  const [c2, s2] = [Math.cos(2 * latitude), Math.sin(2 * latitude)];
  const u = latitude + h.cuc * c2 + h.cus * s2;
  const r = a * (1 - s.e * Math.cos(anomaly)) + h.crc * c2 + h.crs * s2;
  const i = s.i0 + s.inclinationRate * t + h.cic * c2 + h.cis * s2;
  const node = s.node0 + s.nodeRate * t - EARTH_RATE * sow;
  const along = r * Math.cos(u);
  const across = r * Math.sin(u);
  out[0] = along * Math.cos(node) - across * Math.cos(i) * Math.sin(node);
  out[1] = along * Math.sin(node) + across * Math.cos(i) * Math.cos(node);
  out[2] = across * Math.sin(i);
  const relativity = (-2 * Math.sqrt(mu) * s.e * s.sqrtA * Math.sin(anomaly)) / LIGHT ** 2;
  out[3] = s.clockS + s.clockRate * t + relativity;
}
