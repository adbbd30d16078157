import { type SiteContent, type SiteMark } from '@longheron/contract/kinds';
import { type SettingsOf } from '@longheron/contract/declare';
import type declaration from '@longheron/contract/operations/local-system';
import { type Mark } from '@longheron/core/accuracy';
import {
  correctionAt,
  fitHeights,
  fitPlan,
  planFactor,
  toLocalPlan,
  type HeightFit,
  type Plan,
  type PlanFit,
  type ReferenceSystem,
  type TwoHeights,
} from '@longheron/core/frames';
import { Problem, type Notice } from '@longheron/core/shared';
import { modelOfSystem, parseSystem, type SystemWkt } from '@longheron/formats/crs';

type Settings = SettingsOf<(typeof declaration)['settings']>;

interface Pair {
  name: string;
  local: Mark;
  control: Mark;
}

const RAD_SEC = (180 / Math.PI) * 3600;
/** Feet that were taken for others, and for metres, as the scale that they leave. */
const FEET: ReadonlyArray<readonly [factor: number, within: number, words: string]> = [
  [0.3048, 2e-3, 'as if one list were in feet and read as metres'],
  [1 / 0.3048, 2e-3, 'as if one list were in feet and read as metres'],
  [1 + 2e-6, 4e-7, 'as between the US survey foot and the international foot'],
  [1 - 2e-6, 4e-7, 'as between the international foot and the US survey foot'],
];

/** A system fitted to marks known twice. @param crs of the control marks. @throws Problem when the marks do not do. */
export function fitSite(local: Mark[], control: Mark[], crs: string, settings: Settings) {
  const system = parseSystem(crs);
  const base = modelOfSystem(crs);
  refuseTwice(base, settings);
  const pairs = pairsOf(local, control);
  const out = new Set(settings.leftOut);
  const used = pairs.filter((p) => !out.has(p.name));
  const plan = settings.plan === 'none' ? undefined : planOf(used, system, settings.plan);
  const heights = settings.heights === 'none' ? undefined : heightsOf(used, system, settings.heights === 'slopes');
  const marks = pairs.map((p) => markOf(p, used.indexOf(p), system, plan, heights));
  return {
    model: modelOf(base, settings.name, plan, heights),
    site: contentOf(settings, crs, plan, heights, marks, used.length),
    notices: noticesOf(local, control, pairs, used, system, plan, heights, settings),
  };
}

function refuseTwice(base: SystemWkt, { plan, heights }: Settings): void {
  const what =
    plan !== 'none' && base.plan?.site ? 'plan' : heights !== 'none' && base.heights?.correction ? 'heights' : '';
  if (what)
    throw new Problem(`The ${what} of the system ${base.name} are fitted to marks already.`, {
      code: 'site-twice',
      remedy: 'Choose the projection and the geoid that it was made from, and fit anew.',
    });
}

function pairsOf(local: Mark[], control: Mark[]): Pair[] {
  const plainName = (m: Mark) => m.name.trim().toUpperCase();
  const known = new Map(control.map((m) => [plainName(m), m]));
  const pairs = local.flatMap((m) => {
    const c = known.get(plainName(m));
    return c ? [{ name: m.name, local: m, control: c }] : [];
  });
  if (pairs.length) return pairs;
  throw new Problem('No mark stands in both lists under the same name.', {
    code: 'site-marks',
    remedy: 'Give the same names to the same marks.',
  });
}

const planPoint = (m: Mark): Plan => [m.eastingM, m.northingM];

function planOf(used: Pair[], system: ReferenceSystem, kind: Exclude<Settings['plan'], 'none'>): PlanFit {
  const from = used.map((p) => planPoint(p.control));
  const to = used.map((p) => planPoint(p.local));
  const turn = kind === 'shift' ? 'none' : 'free';
  const scale = kind === 'similarity' ? 'free' : kind === 'ground' && used.length ? 1 / groundFactor(used, system) : 1;
  return fitPlan(from, to, { turn, scale });
}

/** What lengths on the ground are multiplied with in the projection, in the middle of the marks. */
function groundFactor(used: Pair[], system: ReferenceSystem): number {
  const mean = (of: (m: Mark) => number) => used.reduce((s, p) => s + of(p.control), 0) / used.length;
  return planFactor(system, [mean((m) => m.eastingM), mean((m) => m.northingM), mean((m) => m.heightM)]);
}

function twoHeights({ local, control }: Pair, system: ReferenceSystem): TwoHeights {
  const geo = new Float64Array(3);
  system.unproject(control.eastingM, control.northingM, control.heightM, geo);
  return { latRad: geo[0], lonRad: geo[1], fromM: control.heightM, toM: local.heightM };
}

const heightsOf = (used: Pair[], system: ReferenceSystem, slopes: boolean): HeightFit =>
  fitHeights(
    used.map((p) => twoHeights(p, system)),
    slopes,
  );

/** A mark's row; one that was left out is shown with what the fit misses it by. */
function markOf(pair: Pair, at: number, system: ReferenceSystem, plan?: PlanFit, heights?: HeightFit): SiteMark {
  const place = new Float64Array(2);
  if (plan) toLocalPlan(plan, pair.control.eastingM, pair.control.northingM, place);
  const [eM, nM] = [place[0] - pair.local.eastingM, place[1] - pair.local.northingM];
  const two = heights && twoHeights(pair, system);
  const hM = heights && two ? two.fromM + correctionAt(heights, two.latRad, two.lonRad) - two.toM : null;
  const says = [
    ...(at < 0 ? ['left out'] : []),
    ...(at >= 0 && plan?.outstanding === at ? ['stands out in plan'] : []),
    ...(at >= 0 && heights?.outstanding === at ? ['stands out in height'] : []),
  ].join(', ');
  return {
    name: pair.name,
    eM: plan ? eM : null,
    nM: plan ? nM : null,
    planM: plan ? Math.hypot(eM, nM) : null,
    hM,
    missPlanM: plan && at >= 0 ? plan.missesM[at] : null,
    missHeightM: heights && at >= 0 ? heights.missesM[at] : null,
    says,
  };
}

function modelOf(base: SystemWkt, name: string, plan?: PlanFit, heights?: HeightFit): SystemWkt {
  const own =
    base.heights && heights
      ? { ...base.heights, name: `${name}, heights`, correction: heightPart(heights) }
      : base.heights;
  if (!plan) return { name, heights: own };
  const { fromM, toM, scale, turnRad } = plan;
  return { name, plan: { ...base.plan!, site: { name, similarity: { fromM, toM, scale, turnRad } } }, heights: own };
}

const heightPart = ({ lat0Rad, lon0Rad, offsetM, slopeNorth, slopeEast }: HeightFit) => ({
  lat0Rad,
  lon0Rad,
  offsetM,
  slopeNorth,
  slopeEast,
});

function contentOf(
  settings: Settings,
  crs: string,
  plan: PlanFit | undefined,
  heights: HeightFit | undefined,
  marks: SiteMark[],
  used: number,
): SiteContent {
  const out: SiteContent = {
    name: settings.name,
    kind: 'calibration',
    marks,
    facts: [
      ['On', crs],
      ['Marks used', String(used)],
    ],
  };
  const mm = (v: number | null) => (v === null ? 'nothing to tell it by' : `${(1000 * v).toFixed(1)} mm`);
  if (plan) {
    const [scalePpm, turnSec] = [(plan.scale - 1) * 1e6, plan.turnRad * RAD_SEC];
    out.plan = {
      scalePpm,
      turnSec,
      shiftM: [plan.toM[0] - plan.fromM[0], plan.toM[1] - plan.fromM[1]],
      sdM: plan.sdM,
      sdShiftM: plan.sdShiftM,
      sdTurnSec: plan.sdTurnRad === null ? null : plan.sdTurnRad * RAD_SEC,
      sdScalePpm: plan.sdScale === null ? null : plan.sdScale * 1e6,
      redundancy: plan.redundancy,
    };
    const sd = (v: number | null | undefined, unit: string) => (v ? ` ± ${v.toFixed(2)}${unit}` : '');
    out.facts.push(
      ['Scale against the projection', `${scalePpm.toFixed(2)}${sd(out.plan.sdScalePpm, '')} ppm`],
      ['Turn, clockwise', `${(turnSec / 3600).toFixed(6)}°${sd(out.plan.sdTurnSec, '″')}`],
      ['Shift in the middle of the marks', `${out.plan.shiftM.map((v) => v.toFixed(4)).join(', ')} m (E, N)`],
      ['Deviation of a coordinate in plan', mm(plan.sdM)],
    );
  }
  if (heights) {
    out.heights = {
      offsetM: heights.offsetM,
      slopeNorthMmKm: heights.slopeNorth * 1e6,
      slopeEastMmKm: heights.slopeEast * 1e6,
      sdM: heights.sdM,
      sdOffsetM: heights.sdOffsetM,
      redundancy: heights.redundancy,
      depths: false,
    };
    out.facts.push(
      ['Correction of heights in the middle', `${heights.offsetM.toFixed(4)} m`],
      ...(settings.heights === 'slopes'
        ? ([
            [
              'Slopes to north and east',
              `${out.heights.slopeNorthMmKm.toFixed(2)} and ${out.heights.slopeEastMmKm.toFixed(2)} mm per km`,
            ],
          ] as Array<[string, string]>)
        : []),
      ['Deviation of a height', mm(heights.sdM)],
    );
  }
  return out;
}

function noticesOf(
  local: Mark[],
  control: Mark[],
  pairs: Pair[],
  used: Pair[],
  system: ReferenceSystem,
  plan: PlanFit | undefined,
  heights: HeightFit | undefined,
  settings: Settings,
): Notice[] {
  const out: Notice[] = [];
  const say = (code: string, severity: Notice['severity'], text: string, effect?: string, remedy?: string) =>
    out.push({ code, severity, text, effect, remedy });
  const alone = local.length + control.length - 2 * pairs.length;
  if (alone)
    say('site-alone', 'info', `${alone} ${alone === 1 ? 'mark stands' : 'marks stand'} in one of the lists alone.`);
  const unknown = settings.leftOut.filter((name) => !pairs.some((p) => p.name === name));
  if (unknown.length)
    say(
      'site-left-out',
      'warning',
      `To be left out, but in none of the lists: ${unknown.join(', ')}.`,
      undefined,
      'Check the names.',
    );
  for (const [fit, what] of [
    [plan, 'plan'],
    [heights, 'height'],
  ] as const) {
    if (!fit) continue;
    const at = fit.outstanding;
    const miss = at === undefined ? null : fit.missesM[at];
    if (at !== undefined && miss !== null)
      say(
        'site-stands-out',
        'warning',
        `${used[at].name} does not go with the other marks in ${what}: they miss it by ${(1000 * Math.abs(miss)).toFixed(0)} mm.`,
        'The system is bent towards it.',
        `Check its coordinates in both lists, or leave ${used[at].name} out.`,
      );
    if (fit.redundancy <= 0)
      say(
        'site-unchecked',
        'warning',
        `Nothing checks the fit of ${what}: it takes all ${used.length} marks.`,
        'A wrong coordinate goes unnoticed.',
        'Add a mark, or fit less.',
      );
  }
  if (plan && settings.plan === 'similarity') {
    const ground = 1 / groundFactor(used, system);
    const found = FEET.flatMap(([factor, within, words]) =>
      [1, ground].some((k) => Math.abs(plan.scale / (factor * k) - 1) < Math.min(within, 5 * (plan.sdScale ?? within)))
        ? [words]
        : [],
    )[0];
    const likely = [1, ground].some((k) => Math.abs(plan.scale / k - 1) < Math.max(5e-7, 3 * (plan.sdScale ?? 0)));
    if (found && !likely)
      say(
        'site-feet',
        'warning',
        `Local lengths are ${((plan.scale - 1) * 1e6).toFixed(1)} ppm longer than in the projection, ${found}.`,
        'Coordinates of a million feet are 2 feet off between the two kinds of foot.',
        'Check the unit of both lists.',
      );
  }
  return out;
}
