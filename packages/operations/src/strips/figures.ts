import {
  type AdjustmentFigures,
  type PairFigures,
  type ParameterFigures,
  type PieceFigures,
} from '@longheron/contract/kinds/adjustment';
import { KNOT_SIZE, pairsOf, type Adjustment } from '@longheron/core/laser';
import { DEG, type SensorMounting } from '@longheron/core/frames';
import { type StripPlan } from '@longheron/core/trajectory';
import { finite } from '../shared/words';
import { heldOf } from './held';

/** All figures of an adjustment. @param heads names of the sensors. @param given their mountings as they came. */
export function figuresOf(
  a: Adjustment,
  plan: StripPlan,
  heads: readonly string[],
  given: readonly SensorMounting[],
): AdjustmentFigures {
  return {
    before_m: a.before.rmsM,
    after_m: a.after.rmsM,
    noise_m: a.after.noiseM,
    plan_before_m: finite(a.before.planRmsM),
    plan_after_m: finite(a.after.planRmsM),
    plan_places: a.after.plan.length,
    cell_m: a.cellM,
    patches: a.patches,
    rough: a.rough,
    patch_sd_m: a.patchSdM,
    down_weighted_share: a.downWeighted,
    rounds: a.rounds,
    returns_in_strips: a.inLine.reduce((s, v) => s + v, 0),
    returns_outside: a.outside,
    range_m: a.rangeM,
    strips: plan.strips.map((s, i) => ({
      id: s.id,
      start_sow: s.startSow,
      end_sow: s.endSow,
      length_m: s.lengthM,
      heading_deg: s.headingRad / DEG,
      points: a.inLine[i],
    })),
    left_out: plan.leftOut.map((s, i) => ({
      start_sow: s.startSow,
      end_sow: s.endSow,
      length_m: s.lengthM,
      reason: s.leftOut ?? '',
      points: a.inLeftOut[i],
    })),
    parameters: parametersOf(a, heads, given),
    correlation: a.correlation,
    drift: driftOf(a),
    overlaps: overlapsOf(a, heads),
    held: heldOf(a, heads, plan.strips),
    control: a.control.map((m) => ({
      name: m.name,
      used: m.used,
      before_m: finite(m.beforeM),
      after_m: finite(m.afterM),
      strips: m.lines,
    })),
  };
}

function valueOf(s: SensorMounting, name: ParameterFigures['name']): number {
  const { boresightDeg: b, leverArmM: l } = s;
  return {
    roll: b.roll,
    pitch: b.pitch,
    heading: b.heading,
    'lever x': l[0],
    'lever y': l[1],
    'lever z': l[2],
    range: s.rangeOffsetM ?? 0,
  }[name];
}

const parametersOf = (a: Adjustment, heads: readonly string[], given: readonly SensorMounting[]): ParameterFigures[] =>
  a.parameters.map((p) => ({
    head: heads[p.head],
    name: p.name,
    solved: p.solved,
    held: p.held ?? null,
    before: valueOf(given[p.head], p.name),
    after: valueOf(a.mountings[p.head], p.name),
    sd: finite(p.sd),
    sd_from_lines: finite(p.sdFromLines),
  }));

/** Corrections of heights at the moments between which they run straight; none where none was made. */
function driftOf({ correction, knots, errors }: Adjustment): AdjustmentFigures['drift'] {
  if (!correction.value.some((v) => v !== 0)) return [];
  return Array.from({ length: knots.count }, (_, k) => ({
    strip: knots.line[k],
    gps_sow: knots.timeS[k],
    dh_m: -correction.value[KNOT_SIZE * k + 2],
    sd_m: errors.sd[KNOT_SIZE * k + 2],
  }));
}

function overlapsOf(a: Adjustment, heads: readonly string[]): PairFigures[] {
  const after = new Map(pairsOf(a.after.differences).map((p) => [`${p.first} ${p.second}`, p]));
  const piece = (i: number): PieceFigures => ({ strip: a.pieces[i].line, head: heads[a.pieces[i].head] });
  return pairsOf(a.before.differences).map((p) => {
    const now = after.get(`${p.first} ${p.second}`);
    return {
      first: piece(p.first),
      second: piece(p.second),
      patches: p.patches,
      before_mean_m: p.meanM,
      before_rms_m: p.rmsM,
      after_mean_m: now?.meanM ?? null,
      after_rms_m: now?.rmsM ?? null,
      noise_m: now?.noiseM ?? p.noiseM,
    };
  });
}
