import { type KeptSight, type Pick, type PlanFigures } from '@longheron/contract/kinds/plan-check';
import {
  asprs2014Horizontal,
  asprs2024Horizontal,
  checkDistance,
  FLAGGED_BEYOND_M,
  FLAGGED_T,
  planStatistics,
  planTrend,
  type FoundPlace,
  type PlanDistance,
  type PlanMark,
  type PlanTrend,
} from '@longheron/core/accuracy';
import { type ReferenceSystem } from '@longheron/core/frames';
import { median } from '@longheron/core/numeric';
import { type Notice } from '@longheron/core/shared';
import { type Measurement } from '@longheron/formats/measurements';
import { finite } from '../shared/words';

/** A pick on the given place itself proves nothing, metres. */
const EXACT_M = 1e-4;
const EARTH_M = 6_380_000;

/** Residuals, statistics, statements and distances of what was found and picked. */
export function planFigures(
  sights: KeptSight[],
  picks: Pick[],
  measured: Measurement[],
  cloudSdM: number,
  cloudSdHM: number,
  toleranceM: number,
  system: ReferenceSystem,
): { figures: PlanFigures; notices: Notice[] } {
  const marks = sights.map((s) =>
    planMark(
      s,
      picks.find((p) => p.name === s.mark.name),
      cloudSdM,
      toleranceM,
    ),
  );
  judge(marks, Math.min(toleranceM, FLAGGED_BEYOND_M));
  const used = marks.filter((m) => m.used);
  const statistics = planStatistics(
    used.map((m) => m.dE!),
    used.map((m) => m.dN!),
  );
  const markSd = used.length
    ? Math.sqrt(
        used.reduce((sum, m) => {
          const { mark } = sights.find((s) => s.mark.name === m.name)!;
          return sum + ((mark.sdEM ?? 0) ** 2 + (mark.sdNM ?? 0) ** 2) / 2;
        }, 0) / used.length,
      )
    : 0;
  const distances = compareDistances(marks, measured, cloudSdM, cloudSdHM, system);
  const figures: PlanFigures = {
    marks,
    statistics: plainStatistics(statistics),
    statements: used.length
      ? [asprs2014Horizontal(statistics), asprs2024Horizontal(statistics, markSd)].map((a) => ({
          ...a,
          p95M: a.p95M ?? null,
          caveat: a.caveat ?? null,
        }))
      : [],
    trend: planTrend(
      used.map((m) => m.given[0]),
      used.map((m) => m.given[1]),
      used.map((m) => m.dE!),
      used.map((m) => m.dN!),
    ),
    markSdM: markSd,
    cloudSdM,
    toleranceM,
    within: used.length ? statistics.rmseR <= toleranceM : null,
    distances,
  };
  return { figures, notices: [...notices(marks, statistics, distances, sights), ...trendNotices(figures.trend)] };
}

/** Statistics as JSON holds them: null for what is no number. */
function plainStatistics(s: ReturnType<typeof planStatistics>): PlanFigures['statistics'] {
  const { count, rmseE, rmseN, sdE, sdN, biasTE, biasTN, meanE, meanN, rmseR, maxM, p95M, biasSignificant, p95Note } =
    s;
  return {
    count,
    rmseE: finite(rmseE),
    rmseN: finite(rmseN),
    sdE: finite(sdE),
    sdN: finite(sdN),
    biasTE: finite(biasTE),
    biasTN: finite(biasTN),
    meanE: finite(meanE),
    meanN: finite(meanN),
    rmseR: finite(rmseR),
    maxM: finite(maxM),
    biasSignificant,
    p95Note,
    ...(p95M === undefined ? {} : { p95M: finite(p95M) }),
  };
}

function trendNotices(t: PlanTrend | null | undefined): Notice[] {
  if (!t || !(t.scaleSignificant || t.turnSignificant)) return [];
  const found = [
    ...(t.scaleSignificant ? [`a scale of ${t.scalePpm.toFixed(0)} ± ${t.sdScalePpm.toFixed(0)} ppm`] : []),
    ...(t.turnSignificant ? [`a turn of ${t.turnArcsec.toFixed(0)} ± ${t.sdTurnArcsec.toFixed(0)}″`] : []),
  ];
  return [
    {
      code: 'plan-trend',
      severity: 'warning',
      text: `The residuals of plan show ${found.join(' and ')}, more than chance explains (1 SD, two-sided, 5 %).`,
      effect: 'The cloud does not lie as the marks do; an RMSE hides it.',
      remedy: 'Check the coordinate systems of cloud and marks, the scale of the plan, and the heading at the start.',
    },
  ];
}

function planMark(s: KeptSight, pick: Pick | undefined, cloudSdM: number, toleranceM: number): PlanMark {
  const { mark } = s;
  const given: PlanMark['given'] = [mark.eastingM, mark.northingM, mark.heightM];
  const at = pick
    ? { dE: pick.eastingM - mark.eastingM, dN: pick.northingM - mark.northingM, sdE: pick.sdM, sdN: pick.sdM }
    : s.fit;
  const heightOf = (dE: number, dN: number) =>
    s.fit?.dH !== undefined && !pick
      ? mark.heightM + s.fit.dH
      : s.plane
        ? s.plane.heightM + s.plane.slopeE * dE + s.plane.slopeN * dN
        : null;
  const h = at ? heightOf(at.dE, at.dN) : null;
  // a place no better than that says nothing of the tolerance
  const weak = !!at && Math.max(at.sdE, at.sdN) > toleranceM / 2;
  const apart = mark.leftOutReason
    ? 'left out'
    : mark.role !== 'check'
      ? 'role'
      : s.usedFor
        ? 'not independent'
        : weak
          ? 'too weak'
          : null;
  const markSd = Math.sqrt(((mark.sdEM ?? 0) ** 2 + (mark.sdNM ?? 0) ** 2) / 2);
  return {
    name: mark.name,
    role: mark.role,
    given,
    points: s.points,
    picture: s.picture ?? null,
    found: at ? [mark.eastingM + at.dE, mark.northingM + at.dN, h] : null,
    how: pick ? 'pick' : at ? 'fit' : null,
    dE: at?.dE ?? null,
    dN: at?.dN ?? null,
    dH: h === null ? null : h - mark.heightM,
    sdE: at?.sdE ?? null,
    sdN: at?.sdN ?? null,
    expectedSdM: at ? Math.hypot(markSd, cloudSdM, Math.sqrt((at.sdE ** 2 + at.sdN ** 2) / 2)) : null,
    testT: null,
    flagged: false,
    used: !!at && apart === null,
    apart: at ? apart : null,
    note: mark.leftOutReason
      ? `left out: ${mark.leftOutReason}`
      : s.usedFor
        ? `not independent: ${s.usedFor}`
        : weak
          ? `too weak to prove with: half the tolerance is ${(50 * toleranceM).toFixed(1)} cm; ${pick ? 'picked' : (s.fit?.note ?? '')}`
          : pick
            ? `picked by hand, ${(100 * pick.sdM).toFixed(1)} cm`
            : (s.fit?.note ?? s.reason ?? ''),
    leftOut: mark.leftOutReason ?? null,
  };
}

function judge(marks: PlanMark[], mattersM: number): void {
  const used = marks.filter((m) => m.used);
  if (used.length === 0) return;
  const mE = median(used.map((m) => m.dE!));
  const mN = median(used.map((m) => m.dN!));
  const off = (m: PlanMark) => Math.hypot(m.dE! - mE, m.dN! - mN);
  const spread = used.length >= 3 ? 1.4826 * median(used.map(off)) : 0;
  for (const m of marks) {
    if (m.dE === null) continue;
    const s = Math.max(spread, Math.SQRT2 * (m.expectedSdM ?? 0), 1e-6);
    m.testT = off(m) / s;
    m.flagged = m.testT > FLAGGED_T && off(m) > mattersM;
  }
}

/** What was taped and levelled between marks against their places in the cloud. */
function compareDistances(
  marks: PlanMark[],
  measured: Measurement[],
  cloudSdM: number,
  cloudSdHM: number,
  system: ReferenceSystem,
): PlanDistance[] {
  const place = (name: string): FoundPlace | undefined => {
    const m = marks.find((x) => x.name === name);
    if (!m?.found || m.found[2] === null) return undefined;
    // what both ends share of the cloud's error falls out over a few tens of metres; its own noise stays
    return {
      at: m.found as [number, number, number],
      sd: [Math.hypot(m.sdE!, cloudSdM), Math.hypot(m.sdN!, cloudSdM), cloudSdHM],
    };
  };
  return measured.flatMap((x): PlanDistance[] => {
    const known = [x.from, x.to].filter((n) => marks.some((m) => m.name === n));
    if (known.length === 0) return [];
    const [a, b] = [place(x.from), place(x.to)];
    const base = { from: x.from, to: x.to, kind: x.kind, measuredM: x.valueM };
    if (!a || !b) {
      const missing = [x.from, x.to].filter((n) => !place(n));
      return [
        {
          ...base,
          foundM: null,
          differenceM: null,
          expectedSdM: null,
          testT: null,
          agrees: null,
          note: `${missing.join(' and ')} not found in the cloud`,
        },
      ];
    }
    if (x.kind === 'height') {
      const foundM = b.at[2] - a.at[2];
      const expectedSdM = Math.hypot(a.sd[2], b.sd[2], x.sdM);
      const testT = Math.abs(foundM - x.valueM) / expectedSdM;
      return [
        { ...base, foundM, differenceM: foundM - x.valueM, expectedSdM, testT, agrees: testT <= 3, note: x.note ?? '' },
      ];
    }
    const geo = new Float64Array(3);
    system.unproject((a.at[0] + b.at[0]) / 2, (a.at[1] + b.at[1]) / 2, (a.at[2] + b.at[2]) / 2, geo);
    const { scale } = system.convergenceAndScale(geo[0], geo[1]);
    const d = checkDistance(x, a, b, (1 + geo[2] / EARTH_M) / scale);
    const { foundM, differenceM, expectedSdM, testT, agrees } = d;
    return [{ ...base, foundM, differenceM, expectedSdM, testT, agrees, note: x.note ?? '' }];
  });
}

function notices(
  marks: PlanMark[],
  s: ReturnType<typeof planStatistics>,
  distances: PlanDistance[],
  sights: KeptSight[],
): Notice[] {
  const out: Notice[] = [];
  const cm = (m: number) => `${(100 * m).toFixed(1)} cm`;
  for (const m of marks.filter((x) => x.flagged))
    out.push({
      code: 'plan-flagged',
      severity: 'warning',
      place: m.name,
      text: `Mark ${m.name} (${m.role}) lies ${cm(Math.hypot(m.dE!, m.dN!))} from its given place, ${m.testT!.toFixed(1)} times what the others let expect.`,
      effect: m.used ? 'It enters the statistics as it is.' : 'It does not enter the statistics.',
      remedy: 'Look at its picture: another thing may have been taken for it. Leave it out only with a reason.',
    });
  for (const m of marks)
    if (m.how === 'pick' && Math.hypot(m.dE!, m.dN!) < EXACT_M)
      out.push({
        code: 'pick-exact',
        severity: 'warning',
        place: m.name,
        text: `The pick of ${m.name} lies exactly on its given place.`,
        effect: 'A pick on the plotted place proves nothing.',
        remedy: 'Pick the centre of the target as it is seen.',
      });
  if (s.biasSignificant)
    out.push({
      code: 'plan-bias',
      severity: 'warning',
      text: `The cloud lies ${cm(s.meanE)} east and ${cm(s.meanN)} north of the check marks on average, more than chance explains.`,
      effect: 'The cloud is shifted in plan.',
      remedy: 'Check the base, the lever arms and the mounting.',
    });
  if (s.count > 0 && s.count < 20)
    out.push({
      code: 'few-plan-marks',
      severity: 'info',
      text: `Plan is tested with only ${s.count} check marks; the standards ask for 20 (2014) and 30 (2024).`,
      effect: 'No verdict of conformity is given.',
    });
  for (const d of distances.filter((x) => x.agrees === false))
    out.push({
      code: 'distance-differs',
      severity: 'warning',
      place: `${d.from} to ${d.to}`,
      text: `${d.from} to ${d.to}: ${d.foundM!.toFixed(3)} m in the cloud, ${d.measuredM.toFixed(3)} m ${d.kind === 'height' ? 'levelled' : 'taped'}; ${cm(Math.abs(d.differenceM!))} apart, ${d.testT!.toFixed(1)} times the expected SD.`,
      effect: 'Scale, or one of the two marks, is wrong.',
    });
  const shared = sights.filter((x) => x.usedFor && x.mark.role === 'check');
  if (shared.length)
    out.push({
      code: 'not-independent',
      severity: 'warning',
      text: `${shared.map((x) => x.mark.name).join(', ')}: used to make this cloud, so they cannot prove it.`,
      effect: 'They stand apart and do not enter the statistics.',
      remedy: 'Prove with marks that were not used.',
    });
  return out;
}
