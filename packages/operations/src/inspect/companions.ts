import { readFile } from 'node:fs/promises';
import { extremes } from '@longheron/core/numeric';
import { formatGps } from '@longheron/core/time';
import { readGeoid } from '@longheron/formats/geoid';
import { readOutlines } from '@longheron/formats/geojson';
import { readMeasurements } from '@longheron/formats/measurements';
import { readAntennas, readOrbits } from '@longheron/formats/rinex';
import { type FileFacts } from './facts';

/** Facts of precise orbits. */
export async function inspectOrbits(out: FileFacts, path: string, name: string): Promise<void> {
  const table = readOrbits(await readFile(path), name);
  const n = table.gps.length;
  out.count = n;
  const systems = new Map<string, number>();
  for (const s of table.satellites) systems.set(s[0], (systems.get(s[0]) ?? 0) + 1);
  const stepS = n > 1 ? table.gps[1] - table.gps[0] : 0;
  const clocks = table.clockS.filter((c) => !Number.isNaN(c)).length;
  // orbits serve whatever lies within them: no span for the time lanes
  out.details.push(
    ['From', formatGps(table.gps[0], 'gps', 0)],
    ['To', formatGps(table.gps[n - 1], 'gps', 0)],
    ['Step', `${stepS} s`],
    ['Satellites', [...systems].map(([s, c]) => `${c} ${s}`).join(', ')],
  );
  if (clocks === 0)
    out.findings.push({
      code: 'sp3-clocks',
      severity: 'error',
      file: out.name,
      text: 'The file has no satellite clocks.',
      effect: 'Nothing can be computed with it.',
      remedy: 'Choose orbits with clocks.',
    });
}

/** Facts of antenna calibrations. */
export async function inspectAntennas(out: FileFacts, path: string, name: string): Promise<void> {
  const antennas = readAntennas(await readFile(path), name);
  const receivers = antennas.filter((a) => !/^[A-Z]\d\d$/.test(a.serial));
  out.count = antennas.length;
  const first = receivers.slice(0, 8).map((a) => a.type.replace(/ +/g, ' '));
  out.details.push(
    ['Receiver antennas', String(receivers.length)],
    ['Satellites', String(antennas.length - receivers.length)],
    ['Types', first.join(', ') + (receivers.length > first.length ? ', …' : '')],
  );
}

/** Facts of a geoid grid. */
export async function inspectGeoid(out: FileFacts, path: string, name: string): Promise<void> {
  const g = readGeoid(await readFile(path), name);
  const [low, high] = extremes(g.valuesM.filter((v) => !Number.isNaN(v)));
  const north = g.southDeg + (g.rows - 1) * g.stepLatDeg;
  const east = g.westDeg + (g.columns - 1) * g.stepLonDeg;
  out.count = g.rows * g.columns;
  out.details.push(
    ['Latitude', `${g.southDeg.toFixed(4)}° to ${north.toFixed(4)}°`],
    ['Longitude', `${g.westDeg.toFixed(4)}° to ${east.toFixed(4)}°`],
    ['Step', `${(60 * g.stepLatDeg).toFixed(2)}′ by ${(60 * g.stepLonDeg).toFixed(2)}′`],
    ['Undulation', `${low.toFixed(2)} to ${high.toFixed(2)} m`],
  );
}

/** Facts of distances and height differences measured on site. */
export async function inspectMeasurements(out: FileFacts, path: string, name: string): Promise<void> {
  const list = readMeasurements(await readFile(path), name);
  out.count = list.length;
  const marks = [...new Set(list.flatMap((m) => [m.from, m.to]))];
  out.details.push(
    ['Distances', String(list.filter((m) => m.kind === 'distance').length)],
    ['Height differences', String(list.filter((m) => m.kind === 'height').length)],
    ['Marks', marks.join(', ')],
  );
}

/** Facts of areas and lines. */
export async function inspectOutlines(out: FileFacts, path: string, name: string): Promise<void> {
  const { outlines, horizontal } = readOutlines(await readFile(path), name);
  out.count = outlines.length;
  const named = (kind: 'area' | 'line') => outlines.filter((o) => o.kind === kind).map((o) => o.name);
  const system = horizontal === 0 ? 'longitude and latitude' : horizontal ? `EPSG:${horizontal}` : 'none named';
  out.details.push(
    ['Areas', named('area').join(', ') || 'none'],
    ['Lines', named('line').join(', ') || 'none'],
    ['Coordinates', system],
  );
  if (horizontal === null)
    out.findings.push({
      ...{ code: 'outline-crs', severity: 'warning', file: out.name },
      text: 'The areas and lines name no coordinate system, and are no longitude and latitude.',
      effect: "They are taken to be in the project's system.",
      remedy: 'Write the file in longitude and latitude, or with the "crs" member.',
    });
}
