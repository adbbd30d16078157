import { readFile, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Problem, type Notice, type Watch } from '@longheron/core/shared';
import { readMarks } from '@longheron/formats/marks';
import { readMounting } from '@longheron/formats/mounting';
import { recogniseFile } from '@longheron/formats/recognise';
import { readTrajectory } from '@longheron/formats/trajectory';
import { cloudFormat } from '../convert';
import { inspectCloud } from './cloud';
import { inspectPoints } from './points';
import { emptyFacts, keptFacts, type FileFacts, type KeptFacts } from './facts';
import {
  inspectAntennas,
  inspectGeoid,
  inspectMeasurements,
  inspectOrbits,
  inspectOutlines,
  inspectRaster,
} from './companions';
import { inspectEvents, inspectOccupations, inspectPhotos } from './timed';
import { inspectNavigation, inspectObservations } from './gnss';
import { inspectInertial } from './inertial';
import { inspectLaser } from './laser';
import { suspectMarks, type MarkContext } from './marks';
import { nameFinding } from './names';
import { inspectTrajectory } from './trajectory';

export { emptyFacts, fileFacts, keptFacts, type Extent, type FileFacts, type KeptFacts } from './facts';
export { inspectPoints } from './points';
export * from './marks';
export * from './names';

/**
 * Inspects a file by content. Throws a Problem when it is damaged.
 * @param context what is known already, for marks.
 */
export async function inspectFile(
  path: string,
  name = basename(path),
  context: MarkContext = {},
  watch?: Watch,
): Promise<FileFacts> {
  const kind = await recogniseFile(path, name);
  const out = emptyFacts(path, name, (await stat(path)).size, kind);
  if (kind === 'trajectory') inspectTrajectory(out, readTrajectory(await readFile(path), name));
  else if (kind === 'gnss-observations') await inspectObservations(out, path, name);
  else if (kind === 'gnss-navigation') await inspectNavigation(out, path, name);
  else if (kind === 'gnss-orbits') await inspectOrbits(out, path, name);
  else if (kind === 'gnss-antennas') await inspectAntennas(out, path, name);
  else if (kind === 'geoid') await inspectGeoid(out, path, name);
  else if (kind === 'events') await inspectEvents(out, path, name);
  else if (kind === 'occupations') await inspectOccupations(out, path, name);
  else if (kind === 'measurements') await inspectMeasurements(out, path, name);
  else if (kind === 'outlines') await inspectOutlines(out, path, name);
  else if (kind === 'raster') await inspectRaster(out, path, name);
  else if (kind === 'photos') await inspectPhotos(out, path, name);
  else if (kind === 'inertial') await inspectInertial(out, path, name);
  else if (kind === 'laser-returns') await inspectLaser(out, path, name, watch);
  else if (kind === 'point-cloud') {
    const format = await cloudFormat(path);
    if (format === 'las') await inspectCloud(out, path, watch);
    else await inspectPoints(out, path, format, watch);
  } else if (kind === 'mounting') {
    const mounting = readMounting(await readFile(path), name);
    const sensors = Object.keys(mounting.sensors);
    out.count = sensors.length;
    out.details.push(['Sensors', sensors.join(', ')]);
  } else if (kind === 'marks' || kind === 'table') {
    if (kind === 'marks') await inspectMarks(out, path, name, context);
    else
      out.findings.push({
        code: 'table-columns',
        severity: 'warning',
        file: name,
        text: 'A table whose columns are not recognised.',
        effect: 'It is not used yet.',
        remedy: 'If these are marks, choose what each column holds.',
      });
  } else
    throw new Problem('The content is of no kind that is known here.', {
      code: 'file-kind',
      file: name,
      place: 'byte 0',
      remedy:
        'Known are trajectories (CSV), GNSS observations and navigation (RINEX), inertial data (HDF5, CSV), laser returns (HDF5), mountings (JSON), marks, measurements, events, occupations and photographs (CSV), areas and lines (GeoJSON), pictures with a place (GeoTIFF) and clouds (LAS, LAZ, E57, PLY, text).',
    });
  if (out.startGps !== null && out.endGps !== null) {
    const finding = nameFinding(name, out.startGps, out.endGps);
    if (finding) out.findings.push(finding);
  }
  return out;
}

async function inspectMarks(out: FileFacts, path: string, name: string, context: MarkContext): Promise<void> {
  const read = readMarks(await readFile(path), name);
  out.count = read.marks.length;
  const column = (f: (m: (typeof read.marks)[number]) => number) => read.marks.map(f);
  const values = [column((m) => m.eastingM), column((m) => m.northingM), column((m) => m.heightM)];
  out.extent = {
    min: values.map((v) => Math.min(...v)) as [number, number, number],
    max: values.map((v) => Math.max(...v)) as [number, number, number],
    crs: read.crs ?? null,
  };
  const roles = ['control', 'check', 'unused']
    .map((role) => [role, read.marks.filter((m) => m.role === role).length] as const)
    .filter(([, n]) => n > 0);
  out.details.push(['Marks', String(read.marks.length)], ['Roles', roles.map(([r, n]) => `${n} ${r}`).join(', ')]);
  if (!read.crs)
    out.findings.push({
      code: 'marks-crs',
      severity: 'warning',
      file: name,
      text: 'The marks name no coordinate system.',
      effect: "They are taken to be in the project's system.",
      remedy: 'Add "# crs: EPSG:25832+5773" or confirm on import.',
    });
  out.findings.push(...suspectMarks(read.marks, name, context));
}

/** Findings that need more than one file: returns outside the trajectory's time. */
export function crossFindings(all: FileFacts[]): Map<string, Notice[]> {
  const out = new Map<string, Notice[]>();
  const paths = all.filter((f) => f.kind === 'trajectory' && f.startGps !== null);
  if (paths.length === 0) return out;
  for (const f of all) {
    if (f.kind !== 'laser-returns' || f.startGps === null || f.endGps === null) continue;
    const best = paths
      .map((p) => Math.min(p.endGps!, f.endGps!) - Math.max(p.startGps!, f.startGps!))
      .reduce((a, b) => Math.max(a, b), -Infinity);
    const share = best / Math.max(1e-9, f.endGps - f.startGps);
    if (share < 0.999)
      out.set(f.name, [
        {
          code: 'time-outside',
          severity: best <= 0 ? 'error' : 'warning',
          file: f.name,
          text:
            best <= 0
              ? 'No trajectory covers the time of these returns.'
              : `Only ${(100 * share).toFixed(0)} % of the recording lies within a trajectory.`,
          effect: 'Returns outside a trajectory cannot be placed.',
          remedy: 'Bring in the trajectory of this session.',
        },
      ]);
  }
  return out;
}

/** Facts of a file as they are kept: without its path, and without what was found, which becomes notices. */
export async function factsOf(path: string, name: string): Promise<KeptFacts> {
  return keptFacts(await inspectFile(path, name));
}
