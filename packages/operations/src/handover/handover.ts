import { basename } from 'node:path';
import { DEG, ELLIPSOIDAL, geoidOfGrid, type Geoid } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { SOLUTIONS, type Trajectory } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { parseSystem } from '@longheron/formats/crs';
import { openAs } from '@longheron/formats/registry';
import { ReportBuilder, type Report } from '../shared/report';

export interface HandoverRequest {
  trajectoryPath: string;
  /** System of the project: its projection, and its heights for `project`. */
  crs: string;
  /** Easting and northing, or latitude and longitude. */
  plan: 'grid' | 'geographic';
  heights: 'ellipsoidal' | 'project' | 'geoid';
  /** Grid of a geoid, for `geoid`. */
  geoidPath?: string;
  interpolation?: 'bilinear' | 'bicubic';
  /** Rows a second; all without it. */
  rateHz?: number;
  outPath: string;
  names?: Record<string, string>;
}

const BUFFERED_ROWS = 4096;

/**
 * Writes a trajectory for somebody else: in the system asked for, with heights of a kind that is named in the file, at
 * a rate asked for. Nothing is transformed between datums.
 */
export async function handOver(
  r: HandoverRequest,
): Promise<{ report: Report; rows: number; heights: string; undulationM: number }> {
  const name = (path: string) => r.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('trajectory', {});
  const t = await openAs('trajectory', r.trajectoryPath, name(r.trajectoryPath));
  const system = parseSystem(r.crs);
  const geoid = await geoidOf(r, system.geoid, name);
  const keep = rowsAt(t, r.rateHz);
  const place = new Float64Array(3);
  const grid = r.plan === 'grid';
  const columns = [
    'gps_week',
    'gps_sow',
    ...(grid ? ['easting_m', 'northing_m'] : ['lat_deg', 'lon_deg']),
    geoid === ELLIPSOIDAL ? 'h_ell_m' : 'height_m',
    'roll_deg',
    'pitch_deg',
    'heading_deg',
    'sd_n_m',
    'sd_e_m',
    'sd_d_m',
    'solution',
  ];
  const head = [
    `# crs: ${grid ? system.label.replace(/\+.*/, '') : (t.crs ?? 'not stated')}`,
    `# heights: ${geoid === ELLIPSOIDAL ? 'above the ellipsoid' : geoid.statement}`,
    ...(t.epoch === undefined ? [] : [`# epoch: ${t.epoch}`]),
    `# point: ${t.point ?? 'imu'}`,
    ...(t.source ? [`# source: ${t.source}`] : []),
    '# heading: from true north',
  ];
  await writeFileWhole(r.outPath, async (out) => {
    let text = `${head.join('\n')}\n${columns.join(',')}\n`;
    const degrees = (v: Float64Array | undefined, i: number) => (v ? (v[i] / DEG).toFixed(5) : '');
    const metres = (v: Float64Array | undefined, i: number) => (v ? v[i].toFixed(4) : '');
    for (let k = 0; k < keep.length; k++) {
      const i = keep[k];
      const week = t.week + Math.floor(t.sow[i] / 604800);
      const h = t.hEllM[i] - geoid.undulation(t.latRad[i], t.lonRad[i]);
      if (grid) system.project(t.latRad[i], t.lonRad[i], t.hEllM[i], place);
      text +=
        [
          week,
          (t.sow[i] - (week - t.week) * 604800).toFixed(6),
          ...(grid
            ? [place[0].toFixed(4), place[1].toFixed(4)]
            : [(t.latRad[i] / DEG).toFixed(10), (t.lonRad[i] / DEG).toFixed(10)]),
          h.toFixed(4),
          degrees(t.rollRad, i),
          degrees(t.pitchRad, i),
          degrees(t.headingRad, i),
          metres(t.sdNM, i),
          metres(t.sdEM, i),
          metres(t.sdDM, i),
          t.solution ? SOLUTIONS[t.solution[i]] : '',
        ].join(',') + '\n';
      if (k % BUFFERED_ROWS === BUFFERED_ROWS - 1) {
        await out.write(text);
        text = '';
      }
    }
    await out.write(text);
  });
  const heights = geoid === ELLIPSOIDAL ? 'above the ellipsoid' : geoid.statement;
  const undulationM = geoid.undulation(t.latRad[0], t.lonRad[0]);
  const report = builder.finish(r.crs, {
    settings: { plan: r.plan, heights: r.heights, rate_hz: r.rateHz ?? null, interpolation: r.interpolation ?? null },
    epochs: keep.length,
    heights,
    undulation_m: undulationM,
  });
  return { report, rows: keep.length, heights, undulationM };
}

async function geoidOf(r: HandoverRequest, ofProject: Geoid, name: (path: string) => string): Promise<Geoid> {
  if (r.heights === 'ellipsoidal') return ELLIPSOIDAL;
  // a system without a height system has ellipsoidal heights, and the file says so
  if (r.heights === 'project') return ofProject;
  if (!r.geoidPath)
    throw new Problem('No geoid grid was given.', { code: 'handover-geoid', remedy: 'Give a GTX or GeoTIFF grid.' });
  const file = name(r.geoidPath);
  return geoidOfGrid(await openAs('geoid', r.geoidPath, file), file, r.interpolation);
}

/** Rows nearest to whole multiples of the step asked for. */
function rowsAt(t: Trajectory, rateHz: number | undefined): number[] {
  const all = Array.from(t.sow.keys());
  if (!rateHz) return all;
  let last = -Infinity;
  return all.filter((i) => {
    const slot = Math.round(t.sow[i] * rateHz);
    const near = Math.abs(t.sow[i] - slot / rateHz) < 0.26 / rateHz;
    const next = i + 1 < t.sow.length ? Math.abs(t.sow[i + 1] - slot / rateHz) : Infinity;
    if (!near || slot <= last || next < Math.abs(t.sow[i] - slot / rateHz)) return false;
    last = slot;
    return true;
  });
}
