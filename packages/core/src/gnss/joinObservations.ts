import { Problem } from '../shared/problem';
import { type Observations } from './observations';
import { type System } from './signals';

/** Positions of one receiver further apart than this are of two places, metres. */
const SAME_PLACE_M = 0.5;

/**
 * Following files of one receiver as one: hours of a day, or both sides of midnight. Epochs that two files share are
 * taken once. @throws Problem when the files are of different antennas, or of a base that was moved in between.
 * @param atRest whether the receiver stood still, so that the positions of the headers must agree.
 */
export function joinObservations(parts: Observations[], names: string[], atRest: boolean): Observations {
  if (parts.length === 1) return parts[0];
  const order = parts.map((_, k) => k).sort((a, b) => startOf(parts[a]) - startOf(parts[b]));
  const first = parts[order[0]];
  for (const k of order.slice(1)) check(first, parts[k], names[order[0]], names[k], atRest);
  const types: Observations['types'] = {};
  for (const p of parts)
    for (const [s, list] of Object.entries(p.types) as Array<[System, string[]]>)
      types[s] = [...new Set([...(types[s] ?? []), ...list])];
  const width = Math.max(...Object.values(types).map((t) => t.length));
  const satellites = [...new Set(order.flatMap((k) => parts[k].satellites))];
  const number = new Map(satellites.map((s, k) => [s, k]));
  const rows = parts.reduce((n, p) => n + p.satellite.length, 0);
  const epochs = parts.reduce((n, p) => n + p.sow.length, 0);
  const sow = new Float64Array(epochs);
  const start = new Uint32Array(epochs + 1);
  const satellite = new Uint16Array(rows);
  const values = new Float64Array(rows * width).fill(Number.NaN);
  const lost = new Uint8Array(rows * width);
  let e = 0;
  let row = 0;
  for (const k of order) {
    const p = parts[k];
    const shift = (p.week - first.week) * 604800;
    const columns = new Map(
      (Object.entries(p.types) as Array<[System, string[]]>).map(([s, l]) => [s, l.map((t) => types[s]!.indexOf(t))]),
    );
    for (let i = 0; i < p.sow.length; i++) {
      const t = p.sow[i] + shift;
      if (e > 0 && t <= sow[e - 1] + 1e-6) continue;
      sow[e] = t;
      for (let r = p.start[i]; r < p.start[i + 1]; r++) {
        const name = p.satellites[p.satellite[r]];
        satellite[row] = number.get(name)!;
        const to = columns.get(name[0] as System)!;
        for (let c = 0; c < to.length; c++) {
          values[row * width + to[c]] = p.values[r * p.width + c];
          lost[row * width + to[c]] = p.lost[r * p.width + c];
        }
        row++;
      }
      start[++e] = row;
    }
  }
  return {
    ...first,
    types,
    satellites,
    width,
    sow: sow.slice(0, e),
    start: start.slice(0, e + 1),
    satellite: satellite.slice(0, row),
    values: values.slice(0, row * width),
    lost: lost.slice(0, row * width),
  };
}

const startOf = (o: Observations) => o.week * 604800 + o.sow[0];

function check(a: Observations, b: Observations, nameA: string, nameB: string, atRest: boolean): void {
  const refuse = (what: string, remedy: string) => {
    throw new Problem(`${nameA} and ${nameB} cannot be joined: ${what}.`, {
      code: 'join-observations',
      file: nameB,
      remedy,
    });
  };
  if (a.antenna.trim() !== b.antenna.trim())
    refuse(
      `their antennas are ${a.antenna.trim() || 'unnamed'} and ${b.antenna.trim() || 'unnamed'}`,
      'Compute them one by one.',
    );
  if (!atRest) return;
  if (a.antennaDeltaM.some((v, k) => Math.abs(v - b.antennaDeltaM[k]) > 1e-4))
    refuse('their antenna heights differ', 'Use the base file of one set-up at a time.');
  const [p, q] = [a.approximateM, b.approximateM];
  if (p && q && Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) > SAME_PLACE_M)
    refuse('the positions of their headers differ', 'Use the base file of one set-up at a time.');
}
