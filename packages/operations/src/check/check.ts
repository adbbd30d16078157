import {
  asprs2014Vegetated,
  asprs2014Vertical,
  asprs2024Vertical,
  heightTrend,
  SEARCH_RADIUS_M,
  smallestContourIntervalM,
  type Mark,
  type MarkCheck,
  type Neighbourhood,
} from '@longheron/core/accuracy';
import { type CheckFigures, type TrendFigures } from '@longheron/contract/kinds/residuals';
import { type PointSet } from '@longheron/core/cloud';
import { median } from '@longheron/core/numeric';
import { type Notice } from '@longheron/core/shared';
import { decodeExtra, type LasFile } from '@longheron/formats/las';

/** Ground points around each mark, by one pass over the points. */
export function neighbourhoods(set: PointSet, indices: Int32Array, marks: Mark[]): Map<Mark, Neighbourhood> {
  const cell = SEARCH_RADIUS_M;
  const near = new Map<string, number[]>();
  marks.forEach((m, k) => {
    const cx = Math.floor((m.eastingM - set.origin[0]) / cell),
      cy = Math.floor((m.northingM - set.origin[1]) / cell);
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++) {
        const key = `${cx + i},${cy + j}`;
        const list = near.get(key);
        if (list) list.push(k);
        else near.set(key, [k]);
      }
  });
  const cells = new Map<number, number[]>();
  for (const [key, list] of near) {
    const [cx, cy] = key.split(',').map(Number);
    cells.set(cx * 4194304 + cy, list);
  }
  const found: number[][] = marks.map(() => []);
  for (let n = 0; n < indices.length; n++) {
    const i = indices[n];
    const list = cells.get(Math.floor(set.x[i] / cell) * 4194304 + Math.floor(set.y[i] / cell));
    if (!list) continue;
    for (const k of list) {
      const dx = set.x[i] - (marks[k].eastingM - set.origin[0]),
        dy = set.y[i] - (marks[k].northingM - set.origin[1]);
      if (dx * dx + dy * dy <= SEARCH_RADIUS_M * SEARCH_RADIUS_M) found[k].push(i);
    }
  }
  return new Map(
    marks.map((m, k) => [
      m,
      {
        dx: Float64Array.from(found[k], (i) => set.x[i] - (m.eastingM - set.origin[0])),
        dy: Float64Array.from(found[k], (i) => set.y[i] - (m.northingM - set.origin[1])),
        z: Float64Array.from(found[k], (i) => set.z[i] + set.origin[2]),
      },
    ]),
  );
}

/** The cloud's own statement of its height precision: median of sd_h over a sample; 0 when it has none. */
export async function statedHeightSdM(file: LasFile): Promise<number> {
  const dimension = file.extraDimensions().find((d) => d.name === 'sd_h');
  if (!dimension) return 0;
  const sample: number[] = [];
  const out = new Float32Array(1 << 16);
  let batches = 0;
  for await (const batch of file.records()) {
    if (batches++ % 8 !== 0) continue;
    decodeExtra(file.header, batch.bytes, batch.count, dimension, out, 0);
    for (let i = 0; i < batch.count; i += 997) sample.push(out[i]);
  }
  return sample.length ? median(sample) : 0;
}

/** Residuals and statistics as the report gives them. */
export function checkFigures(check: MarkCheck): CheckFigures {
  const s = check.statistics;
  const finite = (v: number) => (Number.isFinite(v) ? v : null);
  const { hard, soft } = check;
  // classes of non-vegetated accuracy are by marks on hard ground; with none of these by all
  const judged = hard.count ? hard : s;
  const a14 = asprs2014Vertical(judged.rmseM, judged.count);
  const a24 = asprs2024Vertical(judged.rmseM, check.markSdM, judged.count);
  const statements = s.count ? [a14, a24] : [];
  if (soft.count) statements.push(asprs2014Vegetated(soft.p95M, soft.rmseM, soft.count));
  const brief = (x: typeof s) => ({
    count: x.count,
    mean_m: finite(x.meanM),
    sd_m: finite(x.sdM),
    rmse_m: finite(x.rmseM),
    min_m: finite(x.minM),
    max_m: finite(x.maxM),
    p95_m: finite(x.p95M),
  });
  return {
    marks: check.residuals.map((r) => ({
      name: r.mark.name,
      role: r.mark.role,
      cover: r.cover,
      used: r.used,
      easting_m: r.mark.eastingM,
      northing_m: r.mark.northingM,
      height_m: r.mark.heightM,
      surface_m: finite(r.surface.heightM),
      residual_m: finite(r.residualM),
      method: r.surface.method,
      points: r.surface.points,
      quadrants: r.surface.quadrants,
      plane_m: r.surface.planeM ?? null,
      triangle_m: r.surface.triangleM ?? null,
      density_per_m2: r.surface.densityPerM2,
      slope_percent: r.surface.slopePercent ?? null,
      nearest_m: finite(r.surface.nearestM),
      expected_sd_m: r.expectedSdM,
      test_t: finite(r.testT),
      flagged: r.flagged,
      left_out: r.mark.leftOutReason ?? null,
      used_for: r.mark.usedFor ?? null,
      reason: r.reason ?? null,
    })),
    hard: brief(hard),
    soft: brief(soft),
    count: s.count,
    mean_m: finite(s.meanM),
    median_m: finite(s.medianM),
    sd_m: finite(s.sdM),
    rmse_m: finite(s.rmseM),
    min_m: finite(s.minM),
    max_m: finite(s.maxM),
    p95_m: finite(s.p95M),
    nmad_m: finite(s.nmadM),
    bias_t: finite(s.biasT),
    bias_significant: s.biasSignificant,
    trend: trendFigures(check),
    class_2014_cm: finite(a14.classCm),
    class_2024_cm: finite(a24.classCm),
    contour_interval_m: s.count ? (smallestContourIntervalM(s.rmseM) ?? null) : null,
    statements: statements.map((a) => ({
      standard: a.standard,
      class_cm: a.classCm,
      rmse_m: a.rmseM,
      p95_m: a.p95M ?? null,
      caveat: a.caveat ?? null,
    })),
  };
}

/** The tilt that the check marks show, metres on 100 m; null for too few of them. */
function trendFigures(check: MarkCheck): TrendFigures | null {
  const used = check.residuals.filter((r) => r.used && r.cover === 'hard');
  const of = (pick: (r: (typeof used)[number]) => number) => used.map(pick);
  const t = heightTrend(
    of((r) => r.mark.eastingM),
    of((r) => r.mark.northingM),
    of((r) => r.residualM),
  );
  return (
    t && {
      marks: t.count,
      east_m_per_100m: t.east,
      north_m_per_100m: t.north,
      sd_east_m_per_100m: t.sdEast,
      sd_north_m_per_100m: t.sdNorth,
      chance: t.chance,
      significant: t.significant,
      sd_after_m: t.sdAfterM,
    }
  );
}

export function checkNotices(check: MarkCheck): Notice[] {
  const out: Notice[] = [];
  for (const r of check.residuals.filter((x) => x.flagged))
    out.push({
      code: 'mark-flagged',
      severity: 'warning',
      place: r.mark.name,
      text: `Mark ${r.mark.name} (${r.mark.role}) does not agree: ${r.reason}.`,
      effect: r.used ? 'It enters the statistics as it is.' : 'It does not enter the statistics.',
      remedy: 'Visit the mark or its record; leave it out only with a reason.',
    });
  const missing = check.residuals.filter((r) => r.mark.role === 'check' && r.surface.method === 'none');
  if (missing.length)
    out.push({
      code: 'mark-not-found',
      severity: 'info',
      text: `${missing.length} check marks have no ground points: ${missing.map((r) => r.mark.name).join(', ')}.`,
    });
  if (check.statistics.biasSignificant)
    out.push({
      code: 'bias',
      severity: 'warning',
      text: `The mean residual of ${(100 * check.statistics.meanM).toFixed(1)} cm is larger than chance explains (t = ${check.statistics.biasT.toFixed(1)}).`,
      effect: 'The cloud lies systematically high or low.',
    });
  const tilt = trendFigures(check);
  if (tilt?.significant)
    out.push({
      code: 'tilt',
      severity: 'warning',
      text: `The residuals rise by ${(1000 * tilt.east_m_per_100m).toFixed(1)} mm per 100 m to the east and ${(1000 * tilt.north_m_per_100m).toFixed(1)} mm to the north; chance shows as much in ${(100 * tilt.chance).toFixed(1)} % of cases.`,
      effect: 'The cloud is tilted against the marks; an RMSE hides it.',
      remedy: 'Look at the map of residuals; check the base, the geoid and the trajectory at its ends.',
    });
  if (check.statistics.count < 20)
    out.push({
      code: 'few-marks',
      severity: 'info',
      text: `Tested with only ${check.statistics.count} check marks; the standards ask for 20 (2014) and 30 (2024).`,
      effect: 'No verdict of conformity is given.',
    });
  const shared = check.residuals.filter((r) => r.mark.usedFor && r.mark.role === 'check');
  if (shared.length)
    out.push({
      code: 'not-independent',
      severity: 'warning',
      text: `${shared.map((r) => r.mark.name).join(', ')}: used to make this cloud, so they cannot prove it.`,
      effect: 'They stand apart and do not enter the statistics.',
      remedy: 'Prove with marks that were not used.',
    });
  out.push(...spreadNotices(check), ...consistencyNotices(check));
  return out;
}

/** Check marks should lie in every quarter of the ground they speak for. */
function spreadNotices(check: MarkCheck): Notice[] {
  const used = check.residuals.filter((r) => r.used);
  if (used.length < 4) return [];
  const e = used.map((r) => r.mark.eastingM);
  const n = used.map((r) => r.mark.northingM);
  const middle = (v: number[]) => (Math.min(...v) + Math.max(...v)) / 2;
  const quarters = [0, 0, 0, 0];
  for (const r of used) quarters[(r.mark.eastingM >= middle(e) ? 1 : 0) + (r.mark.northingM >= middle(n) ? 2 : 0)]++;
  const least = Math.min(...quarters) / used.length;
  if (least >= 0.2) return [];
  return [
    {
      code: 'marks-spread',
      severity: 'info',
      text: `The check marks are spread unevenly: ${quarters.map((q) => `${Math.round((100 * q) / used.length)} %`).join(', ')} in the quarters of their extent.`,
      effect:
        'The figures speak mostly for the ground where the marks are; the 2014 standard asks for 20 % in each quarter.',
      remedy: 'Survey check marks where they are missing, where the site allows it.',
    },
  ];
}

/** The cloud's own statement of its precision against what the marks say. */
function consistencyNotices(check: MarkCheck): Notice[] {
  const used = check.residuals.filter((r) => r.used && r.cover === 'hard');
  if (used.length < 3) return [];
  const expected = Math.sqrt(used.reduce((sum, r) => sum + r.expectedSdM ** 2, 0) / used.length);
  const found = check.hard.rmseM;
  if (!(expected > 0) || found < 2 * expected || found < 0.02) return [];
  return [
    {
      code: 'precision-claim',
      severity: 'warning',
      text: `The residuals on hard ground are ${(100 * found).toFixed(1)} cm RMSE; trajectory, scanner and marks together promise ${(100 * expected).toFixed(1)} cm.`,
      effect:
        'Something the stated precision knows nothing of is at work: a height reference, a lever arm, a boresight.',
      remedy: 'Look for a pattern on the map before trusting the stated precision of points.',
    },
  ];
}
