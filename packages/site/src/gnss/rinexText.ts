import { type SiteSatellite } from './constellation';
import { type SiteEpoch } from './receiver';

const GPS_START = Date.UTC(1980, 0, 6);
export const header = (text: string, name: string) => `${text.padEnd(60)}${name}\n`;
export const f = (v: number, width: number, digits: number) => v.toFixed(digits).padStart(width);

export interface RinexStation {
  marker: string;
  antenna: string;
  receiver: string;
  /** Marker, Earth-centred metres. */
  xyzM: ArrayLike<number>;
  antennaHeightM: number;
  week: number;
  intervalS: number;
}

export function dateOf(week: number, sow: number): { d: Date; seconds: number } {
  const minutes = Math.floor(sow / 60 + 1e-9);
  return { d: new Date(GPS_START + week * 604800e3 + minutes * 60e3), seconds: Math.max(0, sow - 60 * minutes) };
}

/** An observation file, RINEX 3.04, of GPS L1 C/A and L2 P(Y) and of Galileo E1 and E5a. */
export function observationText(station: RinexStation, epochs: SiteEpoch[]): string {
  const { d, seconds } = dateOf(station.week, epochs[0].sow);
  const first = [d.getUTCFullYear(), d.getUTCMonth() + 1, d.getUTCDate(), d.getUTCHours(), d.getUTCMinutes()];
  const parts = [
    header('     3.04           OBSERVATION DATA    M: Mixed', 'RINEX VERSION / TYPE'),
    header('demo site           made up             20260616 120000 UTC ', 'PGM / RUN BY / DATE'),
    header(station.marker, 'MARKER NAME'),
    header('demo site', 'OBSERVER / AGENCY'),
    header(`1                   ${station.receiver.padEnd(20)}1.0`, 'REC # / TYPE / VERS'),
    header(`1                   ${station.antenna}`, 'ANT # / TYPE'),
    header([0, 1, 2].map((k) => f(station.xyzM[k], 14, 4)).join(''), 'APPROX POSITION XYZ'),
    header(f(station.antennaHeightM, 14, 4) + f(0, 14, 4) + f(0, 14, 4), 'ANTENNA: DELTA H/E/N'),
    header('G    6 C1C L1C S1C C2W L2W S2W', 'SYS / # / OBS TYPES'),
    header('E    6 C1C L1C S1C C5Q L5Q S5Q', 'SYS / # / OBS TYPES'),
    header(f(station.intervalS, 10, 3), 'INTERVAL'),
    header(`${first.map((v) => String(v).padStart(6)).join('')}${f(seconds, 13, 7)}     GPS`, 'TIME OF FIRST OBS'),
    header('', 'END OF HEADER'),
  ];
  for (const epoch of epochs) {
    const at = dateOf(station.week, epoch.sow);
    const two = (v: number) => String(v).padStart(2, '0');
    parts.push(
      `> ${at.d.getUTCFullYear()} ${two(at.d.getUTCMonth() + 1)} ${two(at.d.getUTCDate())} ${two(at.d.getUTCHours())} ` +
        `${two(at.d.getUTCMinutes())}${f(at.seconds, 11, 7)}  0${String(epoch.observations.length).padStart(3)}\n`,
    );
    for (const o of epoch.observations) {
      let line = o.satellite.name;
      for (const band of [0, 1] as const)
        line += `${f(o.code[band], 14, 3)}  ${f(o.phase[band], 14, 3)}${o.lost ? '1' : ' '} ${f(o.strength[band], 14, 3)}  `;
      parts.push(`${line.trimEnd()}\n`);
    }
  }
  return parts.join('');
}

const e19 = (v: number): string => {
  const [mantissa, exponent] = v.toExponential(12).split('e');
  const power = Number(exponent);
  return `${mantissa}E${power < 0 ? '-' : '+'}${String(Math.abs(power)).padStart(2, '0')}`.padStart(19);
};

/** A mixed broadcast navigation file, RINEX 3.04. */
export function navigationText(sky: SiteSatellite[], week: number): string {
  const parts = [
    header('     3.04           N: GNSS NAV DATA    M: Mixed', 'RINEX VERSION / TYPE'),
    header('demo site           made up             20260616 120000 UTC ', 'PGM / RUN BY / DATE'),
    header('    18', 'LEAP SECONDS'),
    header('', 'END OF HEADER'),
  ];
  for (const s of sky) {
    const { d } = dateOf(week, s.toeSow);
    const two = (v: number) => String(v).padStart(2, '0');
    const date = `${d.getUTCFullYear()} ${two(d.getUTCMonth() + 1)} ${two(d.getUTCDate())} ${two(d.getUTCHours())} ${two(d.getUTCMinutes())} 00`;
    const h = s.harmonics;
    const rows = [
      [1, h.crs, s.deltaN, s.m0],
      [h.cuc, s.e, h.cus, s.sqrtA],
      [s.toeSow, h.cic, s.node0, h.cis],
      [s.i0, h.crc, s.perigee, s.nodeRate],
      [s.inclinationRate, s.galileo ? 258 : 1, week, 0],
      [s.galileo ? 3.12 : 2, 0, s.groupDelayS, s.galileo ? 0 : 1],
      [s.toeSow - 1800, s.galileo ? 0 : 4, 0, 0],
    ];
    parts.push(`${s.name} ${date}${[s.clockS, s.clockRate, 0].map(e19).join('')}\n`);
    for (const r of rows) parts.push(`    ${r.map(e19).join('')}\n`);
  }
  return parts.join('');
}
