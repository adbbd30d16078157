import { readFile } from 'node:fs/promises';
import { extremes } from '@longheron/core/numeric';
import { formatGps } from '@longheron/core/time';
import { readGeoid } from '@longheron/formats/geoid';
import { openFile } from '@longheron/formats/bytes';
import { findSystem } from '@longheron/formats/crs';
import { readOutlines } from '@longheron/formats/geojson';
import { readMeasurements } from '@longheron/formats/measurements';
import { readTiffPlace } from '@longheron/formats/tiff';
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

/** Facts of a picture with a place: an orthophoto, a picture of intensity, a grid of heights. */
export async function inspectRaster(out: FileFacts, path: string, name: string): Promise<void> {
  const source = await openFile(path, name);
  const p = await readTiffPlace(source).finally(() => source.close());
  const numbers = p.format === 3 ? 'floating point' : `${p.bits} bits`;
  out.count = p.columns * p.rows;
  out.details.push(
    ['Size', `${p.columns} by ${p.rows} cells`],
    ['Bands', `${p.bands} of ${numbers}`],
    ...(p.at ? ([['Cell', `${p.at.stepX} by ${p.at.stepY}`]] as Array<[string, string]>) : []),
  );
  const finding = (code: string, text: string, effect: string, remedy: string) =>
    out.findings.push({ code, severity: 'warning', file: out.name, text, effect, remedy });
  if (!p.at) {
    finding(
      'raster-place',
      'The picture does not say where it lies.',
      'It cannot be shown in plan.',
      'Write it as a GeoTIFF, with the size of a cell and the place of a corner.',
    );
    return;
  }
  const { west, north, stepX, stepY } = p.at;
  const crs = p.geographic ? 'geographic' : p.horizontal ? `EPSG:${p.horizontal}` : null;
  out.extent = {
    min: [west, north - p.rows * stepY, 0],
    max: [west + p.columns * stepX, north, 0],
    crs,
  };
  if (crs) out.details.push(['System', p.horizontal ? `${findSystem(p.horizontal)?.name ?? 'unknown'} (${crs})` : crs]);
  else
    finding(
      'raster-crs',
      'The picture names no coordinate system.',
      'It is shown where its numbers put it.',
      'Check it against marks that are seen in it.',
    );
  if (Math.abs(stepX / stepY - 1) > 1e-6)
    finding(
      'raster-cells',
      `Its cells are ${stepX} by ${stepY}: not square.`,
      'It cannot be shown in plan.',
      'Write it with square cells.',
    );
}
