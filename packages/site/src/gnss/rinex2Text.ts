import { type SiteEpoch, type SiteObservation } from './receiver';
import { dateOf, f, header, type RinexStation } from './rinexText';

/** Observation types of all systems together, as the older layout has them. */
const TYPES = ['C1', 'L1', 'S1', 'P2', 'L2', 'S2', 'C5', 'L5', 'S5'] as const;
const PER_LINE = 5;
const SATELLITES_PER_LINE = 12;

/** An observation file of the older receiver, RINEX 2.11: the same signals, satellites listed in front of each epoch. */
export function olderObservationText(station: RinexStation, epochs: SiteEpoch[]): string {
  const { d, seconds } = dateOf(station.week, epochs[0].sow);
  const first = [d.getUTCFullYear(), d.getUTCMonth() + 1, d.getUTCDate(), d.getUTCHours(), d.getUTCMinutes()];
  const parts = [
    header('     2.11           OBSERVATION DATA    M (MIXED)', 'RINEX VERSION / TYPE'),
    header('demo site           made up             20260616 120000 UTC ', 'PGM / RUN BY / DATE'),
    header(station.marker, 'MARKER NAME'),
    header('demo site', 'OBSERVER / AGENCY'),
    header(`1                   ${station.receiver.padEnd(20)}0.9`, 'REC # / TYPE / VERS'),
    header(`1                   ${station.antenna}`, 'ANT # / TYPE'),
    header([0, 1, 2].map((k) => f(station.xyzM[k], 14, 4)).join(''), 'APPROX POSITION XYZ'),
    header(f(station.antennaHeightM, 14, 4) + f(0, 14, 4) + f(0, 14, 4), 'ANTENNA: DELTA H/E/N'),
    header('     1     1', 'WAVELENGTH FACT L1/2'),
    header(`${f(TYPES.length, 6, 0)}${TYPES.map((t) => t.padStart(6)).join('')}`, '# / TYPES OF OBSERV'),
    header(f(station.intervalS, 10, 3), 'INTERVAL'),
    header(`${first.map((v) => String(v).padStart(6)).join('')}${f(seconds, 13, 7)}     GPS`, 'TIME OF FIRST OBS'),
    header('', 'END OF HEADER'),
  ];
  for (const epoch of epochs) {
    const at = dateOf(station.week, epoch.sow);
    const two = (v: number) => String(v).padStart(2, ' ');
    const date = [at.d.getUTCMonth() + 1, at.d.getUTCDate(), at.d.getUTCHours(), at.d.getUTCMinutes()];
    const names = epoch.observations.map((o) => o.satellite.name);
    const rows = Math.max(1, Math.ceil(names.length / SATELLITES_PER_LINE));
    for (let r = 0; r < rows; r++) {
      const list = names.slice(r * SATELLITES_PER_LINE, (r + 1) * SATELLITES_PER_LINE).join('');
      const year = String(at.d.getUTCFullYear() % 100).padStart(2, '0');
      parts.push(
        r === 0
          ? ` ${year} ${date.map(two).join(' ')}${f(at.seconds, 11, 7)}  0${String(names.length).padStart(3)}${list}\n`
          : `${' '.repeat(32)}${list}\n`,
      );
    }
    for (const o of epoch.observations) parts.push(linesOf(o));
  }
  return parts.join('');
}

function linesOf(o: SiteObservation): string {
  const cell = (v: number | undefined, lost: boolean) =>
    v === undefined ? ' '.repeat(16) : `${f(v, 14, 3)}${lost ? '1' : ' '} `;
  const band = (k: 0 | 1) => [cell(o.code[k], false), cell(o.phase[k], o.lost), cell(o.strength[k], false)];
  const none = [undefined, undefined, undefined].map((v) => cell(v, false));
  const second = o.satellite.galileo ? [...none, ...band(1)] : [...band(1), ...none];
  const cells = [...band(0), ...second];
  const lines: string[] = [];
  for (let k = 0; k < cells.length; k += PER_LINE)
    lines.push(
      cells
        .slice(k, k + PER_LINE)
        .join('')
        .trimEnd(),
    );
  return `${lines.join('\n')}\n`;
}
