import { type OrbitTable } from '@longheron/core/gnss';
import { WEEK_S } from '@longheron/core/time';
import { field, gpsOfDate, Lines, rinexBytes, type TimeSystem } from '../rinex/lines';

const BAD_CLOCK = 999999;
const SYSTEMS: Record<string, TimeSystem> = { GPS: 'GPS', GAL: 'GAL', QZS: 'QZS', BDT: 'BDT', GLO: 'GLO', UTC: 'UTC' };

/** Reads precise orbits and clocks (SP3-c, SP3-d; also gzip-compressed). */
export function readOrbits(bytes: Uint8Array, file: string): OrbitTable {
  const lines = new Lines(rinexBytes(bytes, file), file);
  const first = lines.next();
  if (first === undefined || !/^#[a-d][PV]/.test(first))
    throw lines.problem('The file does not begin as an SP3 file does.', 'sp3-head', 'Choose an SP3 file.');
  let system: TimeSystem | undefined;
  const epochs: number[] = [];
  const rows = new Map<string, Array<[number, number, number, number, number]>>();
  let ended = false;
  for (let line = lines.next(); line !== undefined; line = lines.next()) {
    if (line.startsWith('%c') && !system) {
      const name = line.slice(9, 12).trim();
      // version a and b have no time system: GPS time
      system = name && name !== 'ccc' ? SYSTEMS[name] : 'GPS';
      if (!system)
        throw lines.problem(`The time system "${name}" is not known.`, 'sp3-time', 'Ask for orbits in GPS time.');
    } else if (line.startsWith('* ')) {
      const t = gpsOfDate(
        system ?? 'GPS',
        ...([3, 8, 11, 14, 17].map((at, k) => field(line, at, k === 0 ? 7 : at + 2)) as [
          number,
          number,
          number,
          number,
          number,
        ]),
        field(line, 20, 31),
      );
      const gps = t.week * WEEK_S + t.sow;
      if (!(gps > (epochs[epochs.length - 1] ?? -Infinity)))
        throw lines.problem('The epoch cannot be read, or does not follow the last.', 'sp3-epoch', 'Check the file.');
      epochs.push(gps);
    } else if (line[0] === 'P') {
      const satellite = line.slice(1, 4).replace(/^ /, 'G').replace(' ', '0');
      const [x, y, z, clock] = [field(line, 4, 18), field(line, 18, 32), field(line, 32, 46), field(line, 46, 60)];
      if (![x, y, z].every(Number.isFinite))
        throw lines.problem(
          `The position of ${satellite} cannot be read.`,
          'sp3-position',
          'The file is damaged or cut off: copy it again from its origin.',
        );
      let list = rows.get(satellite);
      if (!list) rows.set(satellite, (list = []));
      list.push([epochs.length - 1, x, y, z, clock]);
    } else if (line.startsWith('EOF')) {
      ended = true;
      break;
    }
  }
  if (epochs.length === 0) throw lines.problem('The file holds no epoch.', 'sp3-empty', 'Choose another SP3 file.');
  if (!ended)
    throw lines.problem('The file has no end mark.', 'sp3-cut', 'It was cut off: copy it again from its origin.');
  const satellites = [...rows.keys()].sort();
  const n = epochs.length;
  const table: OrbitTable = {
    gps: Float64Array.from(epochs),
    satellites,
    xyzM: new Float64Array(3 * n * satellites.length).fill(Number.NaN),
    clockS: new Float64Array(n * satellites.length).fill(Number.NaN),
  };
  satellites.forEach((s, k) => {
    for (const [e, x, y, z, clock] of rows.get(s)!) {
      if (x === 0 && y === 0 && z === 0) continue;
      table.xyzM.set([1000 * x, 1000 * y, 1000 * z], 3 * (k * n + e));
      if (Math.abs(clock) < BAD_CLOCK) table.clockS[k * n + e] = clock * 1e-6;
    }
  });
  return table;
}

/** Tables of following days as one; where they overlap the later file counts. */
export function joinOrbits(tables: OrbitTable[]): OrbitTable {
  if (tables.length === 1) return tables[0];
  const gps = [...new Set(tables.flatMap((t) => [...t.gps]))].sort((a, b) => a - b);
  const satellites = [...new Set(tables.flatMap((t) => t.satellites))].sort();
  const at = new Map(gps.map((t, k) => [t, k]));
  const n = gps.length;
  const out: OrbitTable = {
    gps: Float64Array.from(gps),
    satellites,
    xyzM: new Float64Array(3 * n * satellites.length).fill(Number.NaN),
    clockS: new Float64Array(n * satellites.length).fill(Number.NaN),
  };
  for (const t of tables)
    t.satellites.forEach((s, from) => {
      const to = satellites.indexOf(s);
      t.gps.forEach((time, e) => {
        const source = from * t.gps.length + e;
        const target = to * n + at.get(time)!;
        if (Number.isNaN(t.xyzM[3 * source])) return;
        out.xyzM.set(t.xyzM.subarray(3 * source, 3 * source + 3), 3 * target);
        out.clockS[target] = t.clockS[source];
      });
    });
  return out;
}
