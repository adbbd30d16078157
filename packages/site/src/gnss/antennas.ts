import { type SiteSatellite } from './constellation';

/** The site's own antennas: what each does to a phase, in closed form, and the same as a calibration file. */
export interface SiteAntenna {
  /** Type and radome as headers name it. */
  type: string;
  /** By band, 0 and 1: phase centre above the reference point, and to north and east, metres. */
  upM: readonly [number, number];
  northM: readonly [number, number];
  eastM: readonly [number, number];
  /** How far the phase moves from zenith to horizon, and around at 45°, metres. */
  dipM: readonly [number, number];
  waveM: readonly [number, number];
}

/** A geodetic antenna at rest, marked to the north. */
export const STATION_ANTENNA: SiteAntenna = {
  type: 'MADE-UP CHOKE   NONE',
  upM: [0.0912, 0.1183],
  northM: [0.0011, -0.0007],
  eastM: [-0.0006, 0.0009],
  dipM: [0.0052, 0.0038],
  waveM: [0.0012, 0.0009],
};

/** A flat antenna on vehicles, alike from all sides; it is taken to stand upright. */
export const ROVER_ANTENNA: SiteAntenna = {
  type: 'MADE-UP PATCH   NONE',
  upM: [0.0553, 0.0497],
  northM: [0, 0],
  eastM: [0, 0],
  dipM: [0.0085, 0.0067],
  waveM: [0, 0],
};

/** What a computed station pretends to have: no phase centre of its own. */
export const VIRTUAL_ANTENNA: SiteAntenna = {
  type: 'VIRTUAL         NONE',
  upM: [0, 0],
  northM: [0, 0],
  eastM: [0, 0],
  dipM: [0, 0],
  waveM: [0, 0],
};

/** Centre of mass to antenna of a satellite, towards the Earth, metres. */
export const satelliteOffsetM = (s: SiteSatellite) => (s.galileo ? 0.85 : 1.6) + 0.01 * Number(s.name.slice(1));

/** What an antenna adds to the range on a band: phase centre and variation. */
export function antennaM(a: SiteAntenna, band: 0 | 1, elRad: number, azRad: number): number {
  const flat = a.northM[band] * Math.cos(azRad) + a.eastM[band] * Math.sin(azRad);
  return -a.upM[band] * Math.sin(elRad) - flat * Math.cos(elRad) + variationM(a, band, Math.PI / 2 - elRad, azRad);
}

function variationM(a: SiteAntenna, band: 0 | 1, zenithRad: number, azRad: number): number {
  const s = Math.sin(zenithRad);
  return -a.dipM[band] * s * s + a.waveM[band] * s * s * Math.cos(2 * azRad);
}

const row = (text: string, label: string) => `${text.padEnd(60)}${label}\n`;
const f = (v: number, width: number, digits: number) => v.toFixed(digits).padStart(width);
const STEP_DEG = 5;
const SIGNALS = { G01: 0, G02: 1, E01: 0, E05: 1 } as const;

/** Calibrations of the site's antennas and satellites as ANTEX 1.4. */
export function antennaText(sky: SiteSatellite[]): string {
  const rad = Math.PI / 180;
  let out =
    row('     1.4            M', 'ANTEX VERSION / SYST') + row('A', 'PCV TYPE / REFANT') + row('', 'END OF HEADER');
  const zeniths = Array.from({ length: 90 / STEP_DEG + 1 }, (_, k) => k * STEP_DEG);
  for (const a of [STATION_ANTENNA, ROVER_ANTENNA, VIRTUAL_ANTENNA]) {
    const turns = a.waveM[0] > 0;
    out += row('', 'START OF ANTENNA') + row(a.type, 'TYPE / SERIAL NO');
    out +=
      row(f(turns ? STEP_DEG : 0, 8, 1), 'DAZI') +
      row(`${f(0, 8, 1)}${f(90, 6, 1)}${f(STEP_DEG, 6, 1)}`, 'ZEN1 / ZEN2 / DZEN');
    out += row('     4', '# OF FREQUENCIES');
    for (const [signal, band] of Object.entries(SIGNALS)) {
      out += row(`   ${signal}`, 'START OF FREQUENCY');
      out += row([a.northM, a.eastM, a.upM].map((v) => f(1000 * v[band], 10, 2)).join(''), 'NORTH / EAST / UP');
      const values = (az: number | undefined) =>
        zeniths
          .map((z) =>
            f(
              1000 *
                (az === undefined ? -a.dipM[band] * Math.sin(z * rad) ** 2 : variationM(a, band, z * rad, az * rad)),
              8,
              3,
            ),
          )
          .join('');
      out += `   NOAZI${values(undefined)}\n`;
      if (turns) for (let az = 0; az <= 360; az += STEP_DEG) out += `${f(az, 8, 1)}${values(az)}\n`;
      out += row(`   ${signal}`, 'END OF FREQUENCY');
    }
    out += row('', 'END OF ANTENNA');
  }
  for (const s of sky) {
    out +=
      row('', 'START OF ANTENNA') +
      row(`${s.galileo ? 'MADE-UP GAL' : 'MADE-UP GPS'}`.padEnd(20) + s.name, 'TYPE / SERIAL NO');
    out += row(f(0, 8, 1), 'DAZI') + row(`${f(0, 8, 1)}${f(17, 6, 1)}${f(1, 6, 1)}`, 'ZEN1 / ZEN2 / DZEN');
    out += row('     2', '# OF FREQUENCIES');
    out += row('  2020     1     1     0     0    0.0000000', 'VALID FROM');
    for (const signal of s.galileo ? ['E01', 'E05'] : ['G01', 'G02']) {
      out += row(`   ${signal}`, 'START OF FREQUENCY');
      out += row(f(0, 10, 2) + f(0, 10, 2) + f(1000 * satelliteOffsetM(s), 10, 2), 'NORTH / EAST / UP');
      out += `   NOAZI${Array.from({ length: 18 }, () => f(0, 8, 2)).join('')}\n`;
      out += row(`   ${signal}`, 'END OF FREQUENCY');
    }
    out += row('', 'END OF ANTENNA');
  }
  return out;
}
