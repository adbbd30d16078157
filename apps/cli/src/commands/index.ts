import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { COUNT_NOUNS } from '@longheron/contract/api';
import { CLOTH_DEFAULTS, GROUND_DEFAULTS } from '@longheron/core/cloud';
import { Problem } from '@longheron/core/shared';
import { STRIP_DEFAULTS } from '@longheron/core/trajectory';
import { formatGps } from '@longheron/core/time';
import { csvCell } from '@longheron/formats/csv';
import { parseSystem } from '@longheron/formats/crs';
import { readMarks } from '@longheron/formats/marks';
import { checkFile } from '@longheron/operations/check';
import { classifyFile } from '@longheron/operations/classify';
import { crossFindings, inspectFile, suspectMarks, type FileFacts } from '@longheron/operations/inspect';
import { LIMIT_DEFAULTS } from '@longheron/core/laser';
import { placeReturns } from '@longheron/operations/place';
import { ReportBuilder, type Report } from '@longheron/operations/shared';
import { surfaceFile } from '@longheron/operations/surface';
import { HEADS } from '@longheron/site/drive';
import {
  makeGnssFiles,
  makeHeadFile,
  makeSmallFiles,
  siteWriters,
  writeManifest,
  type SiteOptions,
} from '@longheron/site/files';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { type Command } from './command';
import { merge, reproject } from './combine';
import { convert } from './convert';
import { events } from './events';
import { network } from './network';
import { position } from './position';
import { stops } from './stops';
import { trajectory } from './trajectory';
import { join } from './join';

const cm = (v: unknown) => (typeof v === 'number' ? `${(100 * v).toFixed(1)} cm` : '–');

const inspect: Command = {
  options: {},
  async run(o, watch) {
    if (o.files.length === 0) throw new Problem('No file was named.', { code: 'option', remedy: 'See --help.' });
    const builder = new ReportBuilder('inspect', {});
    const all: FileFacts[] = [];
    const lines: string[] = [];
    let failed = false;
    for (const path of o.files) {
      try {
        await builder.input(path);
        all.push(await inspectFile(path, undefined, {}, watch));
      } catch (error) {
        if (!(error instanceof Problem)) throw error;
        failed = true;
        builder.notice({
          code: error.code,
          severity: 'error',
          text: error.message,
          file: error.file ?? path,
          place: error.place,
          remedy: error.remedy,
        });
        lines.push(`${path}: ${error.message}${error.place ? ` (${error.place})` : ''} ${error.remedy ?? ''}`);
      }
    }
    await againstEachOther(all);
    const cross = crossFindings(all);
    for (const f of all) {
      f.findings.push(...(cross.get(f.name) ?? []));
      lines.push(
        `${f.path}: ${f.kind}, ${f.count} ${COUNT_NOUNS[f.kind] ?? 'points'}${f.startGps !== null ? `, ${formatGps(f.startGps)} to ${formatGps(f.endGps!)} GPS time` : ''}`,
      );
      for (const n of f.findings) {
        lines.push(`  ${n.severity}: ${n.text}${n.remedy ? ` ${n.remedy}` : ''}`);
        if (n.severity === 'error') failed = true;
        builder.notice(n);
      }
    }
    const files = all.map((f) => ({
      path: f.path,
      kind: f.kind,
      start_gps: f.startGps,
      end_gps: f.endGps,
      extent: f.extent,
      count: f.count,
      rate_hz: f.rateHz,
      gaps: f.gaps.map((g) => ({ start_gps: g.startGps, end_gps: g.endGps, length_s: g.lengthS })),
      findings: f.findings,
    }));
    return { report: builder.finish(null, { files }), lines, failed };
  },
};

/** Lists of marks are looked at again with the marks of the other lists beside them. */
async function againstEachOther(all: FileFacts[]): Promise<void> {
  const lists = all.filter((f) => f.kind === 'marks');
  if (lists.length < 2) return;
  const marks = new Map(
    await Promise.all(lists.map(async (f) => [f, readMarks(await readFile(f.path), f.name).marks] as const)),
  );
  for (const f of lists) {
    const others = lists.filter((g) => g !== f).flatMap((g) => marks.get(g)!);
    const again = suspectMarks(marks.get(f)!, f.name, { marks: others });
    f.findings = [...f.findings.filter((n) => !n.code.startsWith('mark-')), ...again];
  }
}

const place: Command = {
  options: {
    trajectory: 'string',
    returns: 'string',
    mount: 'string',
    crs: 'string',
    out: 'string',
    'trajectory-crs': 'string',
    'min-strip': 'string',
    'min-range': 'string',
    'max-range': 'string',
    'min-intensity': 'string',
  },
  async run(o, watch) {
    const returns = o.list('returns');
    const inputs = [o.must('trajectory'), o.must('mount'), ...returns];
    o.must('out');
    const { report, strips, leftOut } = await placeReturns(
      {
        trajectoryPath: inputs[0],
        mountPath: inputs[1],
        returnsPaths: returns,
        system: parseSystem(o.must('crs')),
        outPath: o.output('out', inputs)!,
        trajectoryCrs: o.text('trajectory-crs'),
        strips: { ...STRIP_DEFAULTS, minLengthM: o.number('min-strip', 0) ?? STRIP_DEFAULTS.minLengthM },
        limits: {
          ...LIMIT_DEFAULTS,
          minRangeM: o.number('min-range', 0) ?? 0,
          maxRangeM: o.number('max-range', 0) ?? 0,
          minIntensity: o.number('min-intensity', 0, 65535) ?? 0,
        },
      },
      watch,
    );
    const lines = [
      `${report.points_out} of ${report.points_in} returns placed in ${report.crs}, ${report.points_outside_trajectory} outside the trajectory.`,
      `Stated precision (1 SD, RMS): E ${cm(report.sd_e_m)}, N ${cm(report.sd_n_m)}, H ${cm(report.sd_h_m)}.`,
      ...strips.map(
        (s) => `Strip ${s.id}: ${(s.endSow - s.startSow).toFixed(1)} s, ${s.lengthM.toFixed(0)} m, ${s.points} points`,
      ),
      ...leftOut.map(
        (s) => `Left out (${s.leftOut}): ${(s.endSow - s.startSow).toFixed(1)} s, ${s.lengthM.toFixed(0)} m`,
      ),
    ];
    return { report, lines };
  },
};

const classify: Command = {
  options: {
    in: 'string',
    out: 'string',
    ground: 'boolean',
    noise: 'boolean',
    crs: 'string',
    'largest-object': 'string',
    steepest: 'string',
    within: 'string',
    method: 'string',
    stiffness: 'string',
    cell: 'string',
  },
  async run(o, watch) {
    const input = o.must('in');
    const method = o.text('method') ?? 'triangles';
    const stiffness = o.number('stiffness', 1, 3) ?? CLOTH_DEFAULTS.stiffness;
    if (!['triangles', 'cloth'].includes(method) || !Number.isInteger(stiffness))
      throw new Problem('--method is triangles or cloth; --stiffness is 1, 2 or 3.', {
        code: 'option',
        remedy: 'See --help.',
      });
    o.must('out');
    const both = !o.flag('ground') && !o.flag('noise');
    const report = await classifyFile(
      {
        inPath: input,
        outPath: o.output('out', [input])!,
        ground: both || o.flag('ground'),
        noise: both || o.flag('noise'),
        crs: o.text('crs'),
        cloth:
          method === 'cloth'
            ? {
                clothCellM: o.number('cell', 0.1, 20) ?? CLOTH_DEFAULTS.clothCellM,
                stiffness: stiffness as 1 | 2 | 3,
                clothWithinM: o.number('within', 0.02, 2) ?? CLOTH_DEFAULTS.clothWithinM,
              }
            : undefined,
        groundSettings: {
          ...GROUND_DEFAULTS,
          largestObjectM: o.number('largest-object', 1, 500) ?? GROUND_DEFAULTS.largestObjectM,
          steepestDeg: o.number('steepest', 1, 80) ?? GROUND_DEFAULTS.steepestDeg,
          withinM: o.number('within', 0.01, 2) ?? GROUND_DEFAULTS.withinM,
        },
      },
      watch,
    );
    return {
      report,
      lines: Object.entries(report.counts_by_class as Record<string, number>).map(
        ([c, n]) => `class ${c}: ${n} points`,
      ),
    };
  },
};

const check: Command = {
  options: { cloud: 'string', marks: 'string', crs: 'string', class: 'string', tolerance: 'string', csv: 'string' },
  async run(o, watch) {
    const inputs = [o.must('cloud'), o.must('marks')];
    const {
      report,
      check: found,
      passed,
    } = await checkFile(
      {
        cloudPath: inputs[0],
        marksPath: inputs[1],
        crs: o.text('crs'),
        class: o.number('class', 0, 255),
        toleranceM: o.number('tolerance', 0),
      },
      watch,
    );
    const csv = o.output('csv', inputs);
    if (csv) await writeFile(csv, residualsCsv(report));
    const sorted = [...found.residuals].sort((a, b) => Math.abs(b.residualM || 0) - Math.abs(a.residualM || 0));
    const lines = sorted.map(
      (r) =>
        `${r.mark.name.padEnd(8)} ${r.mark.role.padEnd(8)} ${Number.isFinite(r.residualM) ? `${(1000 * r.residualM).toFixed(0).padStart(6)} mm` : '    not found'}  ${r.surface.method}${r.flagged ? '  FLAGGED' : ''}${r.reason ? `  (${r.reason})` : ''}`,
    );
    const s = found.statistics;
    if (s.count)
      lines.push(
        `${s.count} check marks: mean ${cm(s.meanM)}, SD ${cm(s.sdM)}, RMSE ${cm(s.rmseM)}, ${cm(s.minM)} to ${cm(s.maxM)}; class ${report.class_2014_cm} cm (ASPRS 2014), ${report.class_2024_cm} cm (2024); contours from ${report.contour_interval_m} m.`,
      );
    else lines.push('No check mark was found on the cloud.');
    return { report, lines, failed: !passed || (o.text('tolerance') !== undefined && s.count === 0) };
  },
};

/** The residual table as CSV, metres. */
export function residualsCsv(report: Report): string {
  const columns = [
    'name',
    'role',
    'cover',
    'used',
    'easting_m',
    'northing_m',
    'height_m',
    'surface_m',
    'residual_m',
    'method',
    'points',
    'nearest_m',
    'flagged',
    'reason',
  ];
  const rows = (report.marks as Array<Record<string, unknown>>).map((m) =>
    columns
      .map((c) =>
        csvCell(typeof m[c] === 'boolean' ? String(m[c]) : ((m[c] ?? undefined) as string | number | undefined)),
      )
      .join(','),
  );
  return `# crs: ${report.crs ?? 'undefined'}\n${columns.join(',')}\n${rows.join('\n')}\n`;
}

const surface: Command = {
  options: {
    cloud: 'string',
    cell: 'string',
    class: 'string',
    out: 'string',
    asc: 'string',
    contours: 'string',
    'contours-out': 'string',
    dxf: 'string',
    landxml: 'string',
    'max-gap': 'string',
    crs: 'string',
    lonlat: 'boolean',
  },
  async run(o, watch) {
    const cloud = o.must('cloud');
    const contoursM = o.number('contours', 0.001, 1000);
    if (!contoursM && (o.text('contours-out') || o.text('dxf')))
      throw new Problem('Contours are to be written but no interval is given.', {
        code: 'option',
        remedy: 'Add --contours 0.25.',
      });
    o.must('cell');
    const report = await surfaceFile(
      {
        cloudPath: cloud,
        cellM: o.number('cell', 0.001, 1e5)!,
        class: o.number('class', 0, 255),
        maxGapM: o.number('max-gap', 0) ?? 3,
        crs: o.text('crs'),
        contoursM,
        outPath: o.output('out', [cloud]),
        ascPath: o.output('asc', [cloud]),
        contoursPath: o.output('contours-out', [cloud]),
        dxfPath: o.output('dxf', [cloud]),
        landXmlPath: o.output('landxml', [cloud]),
        lonLat: o.flag('lonlat'),
      },
      watch,
    );
    return {
      report,
      lines: [
        `${report.points} points, ${report.triangles} triangles; ${report.cells} cells, ${report.empty_cells} empty; heights ${Number(report.height_min_m).toFixed(2)} to ${Number(report.height_max_m).toFixed(2)} m; ${report.contours} contours.`,
      ],
    };
  },
};

const site: Command = {
  options: { out: 'string', size: 'string', seed: 'string', noise: 'string' },
  async run(o, watch) {
    const folder = o.must('out');
    const size = (o.text('size') ?? 'full') as SiteOptions['size'];
    const level = (o.text('noise') ?? 'medium') as SiteOptions['level'];
    if (!['full', 'small'].includes(size) || !['none', 'low', 'medium', 'high'].includes(level))
      throw new Problem('--size is full or small, --noise none, low, medium or high.', {
        code: 'option',
        remedy: 'See --help.',
      });
    const options: SiteOptions = { seed: o.number('seed', 0) ?? 20260616, size, level };
    const builder = new ReportBuilder('site', { ...options });
    const system = parseSystem(SITE_SYSTEM);
    await mkdir(folder, { recursive: true });
    await makeSmallFiles(folder, system, siteWriters, options);
    await makeGnssFiles(folder, system, siteWriters, options);
    for (const [i, head] of HEADS.entries())
      await makeHeadFile(folder, head, system, siteWriters, options, (f) =>
        watch.progress?.((i + f) / 2, `Casting ${head}`),
      );
    await writeManifest(folder, options);
    return { report: builder.finish(SITE_SYSTEM, { folder }), lines: [`The demo site's files are in ${folder}.`] };
  },
};

export const COMMANDS: Record<string, Command> = {
  inspect,
  convert,
  merge,
  reproject,
  position,
  trajectory,
  join,
  events,
  stops,
  network,
  place,
  classify,
  check,
  surface,
  site,
};
