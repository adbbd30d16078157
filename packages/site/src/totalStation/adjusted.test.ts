import { describe, expect, it } from 'vitest';
import {
  adjustJob,
  reduceFaces,
  traversesOf,
  type ControlPoint,
  type TerrestrialJob,
} from '@longheron/core/terrestrial';
import { parseSystem } from '@longheron/formats/crs';
import { Random } from '@longheron/core/numeric';
import { geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '../terrain';
import { totalStationRun, type RunFaults, type TotalStationRun } from '.';

const system = parseSystem(SITE_SYSTEM);
const DEG = Math.PI / 180;

const jobOf = (run: TotalStationRun): TerrestrialJob => ({
  setUps: run.setUps,
  readings: run.readings.map((r) => ({
    ...r,
    horizontalRad: r.circleDeg * DEG,
    zenithRad: r.zenithDeg * DEG,
  })),
  points: [],
  files: [],
});

/** Known marks, drawn from what they state. */
const controlOf = (
  run: TotalStationRun,
  seed: number,
  names: readonly string[] = ['C6', 'C7', 'C5'],
): ControlPoint[] => {
  const r = new Random(seed, 'control');
  return run.points
    .filter((p) => names.includes(p.name))
    .map((p) => ({
      name: p.name,
      eastingM: SITE_ORIGIN_E + p.x + 0.003 * r.normal(),
      northingM: SITE_ORIGIN_N + p.y + 0.003 * r.normal(),
      heightM: p.heightM + 0.004 * r.normal(),
      sdM: [0.003, 0.003, 0.004],
    }));
};

function adjusted(seed: number, faults: RunFaults = {}, names?: readonly string[]) {
  const run = totalStationRun(seed, 'medium', system, faults);
  const job = jobOf(run);
  const { sightings, instrument } = reduceFaces(job);
  const control = controlOf(run, seed, names);
  const sd = { angleRad: 0.0006 * DEG, distanceM: 0.0015, distanceShare: 2e-6 };
  const request = { setUps: job.setUps, sightings, rough: [], control, instrument: sd, system };
  return { run, job, sightings, instrument, control, sd, a: adjustJob(request) };
}

/** Found less true, in deviations, of all points that were looked for. */
function errors({ run, a }: ReturnType<typeof adjusted>): number[] {
  const geo = new Float64Array(3);
  return a.adjustment.points.flatMap((p) => {
    const truth = run.points.find((t) => t.name === p.name)!;
    system.unproject(SITE_ORIGIN_E + truth.x, SITE_ORIGIN_N + truth.y, truth.heightM, geo);
    const at = geodeticToEcef(GRS80, geo[0], geo[1], geo[2]);
    const d = [0, 1, 2].map((k) => p.xyzM[k] - at[k]);
    const [sinLat, cosLat, sinLon, cosLon] = [Math.sin(geo[0]), Math.cos(geo[0]), Math.sin(geo[1]), Math.cos(geo[1])];
    const ned = [
      -sinLat * cosLon * d[0] - sinLat * sinLon * d[1] + cosLat * d[2],
      -sinLon * d[0] + cosLon * d[1],
      -(cosLat * cosLon * d[0] + cosLat * sinLon * d[1] + sinLat * d[2]),
    ];
    return ned.map((v, k) => v / p.sdM[k]);
  });
}

const rms = (v: number[]) => Math.sqrt(v.reduce((s, x) => s + x * x, 0) / v.length);
const SEEDS = Array.from({ length: 50 }, (_, k) => k + 1);

describe('fifty runs with what an instrument does', () => {
  const runs = SEEDS.map((s) => adjusted(s));

  it('have errors as large as their deviations', () => {
    const all = runs.flatMap(errors);
    expect(rms(all)).toBeGreaterThan(0.7);
    expect(rms(all)).toBeLessThan(1.4);
  });

  it('lose next to nothing that is good', () => {
    expect(runs.flatMap((r) => r.a.rejected).length).toBeLessThan(2);
  });
});

describe('what is planted', () => {
  const named = (faults: (seed: number) => RunFaults, what: string) =>
    SEEDS.map((seed) => {
      const fault = faults(seed);
      const { a, run } = adjusted(seed, fault);
      const [first] = a.rejected;
      const planted = run.planted[0];
      const right = first?.what === what && first.setUp === planted.setUp && first.target === planted.target;
      return { right, offM: first?.offM, more: a.rejected.length - (right ? 1 : 0), planted };
    });

  it('is named first: a target height 0.1 m off, by its size', () => {
    const places = ['S2 T2', 'S3 T1', 'S3 T3', 'S4 T2', 'S4 T4', 'S5 T5', 'S6 T4', 'S7 C6'];
    const found = named((s) => {
      const [setUp, target] = places[s % places.length].split(' ');
      return { targetHeight: { setUp, target, offM: 0.1 } };
    }, 'target height');
    expect(found.filter((f) => f.right).length).toBeGreaterThanOrEqual(48);
    for (const f of found) if (f.right) expect(Math.abs(f.offM - 0.1)).toBeLessThan(0.012);
    expect(found.reduce((n, f) => n + f.more, 0)).toBeLessThan(3);
  });

  it('is said to be one of two where only two rays meet', () => {
    const [first] = adjusted(4, { targetHeight: { setUp: 'S4', target: 'P3', offM: 0.1 } }).a.rejected;
    const both = [first, ...first.instead].map((r) => `${r.what} ${r.setUp} ${r.target}`);
    expect(both).toContain('target height S4 P3');
    expect(both).toContain('target height S5 P3');
  });

  it('is named first: a backsight to another point', () => {
    const cases = ['S2 C6 C7', 'S3 T1 C6', 'S4 T2 P8', 'S5 T3 P4', 'S6 T4 T3', 'S1 C7 C5'];
    const found = named((s) => {
      const [setUp, target, sighted] = cases[s % cases.length].split(' ');
      return { backsight: { setUp, target, sighted } };
    }, 'sighting');
    expect(found.filter((f) => f.right).length).toBeGreaterThanOrEqual(48);
    expect(found.reduce((n, f) => n + f.more, 0)).toBeLessThan(3);
  });
});

describe('control that does not see itself', () => {
  it('holds a run all the same: set-ups are placed among each other first', () => {
    const far = adjusted(5, {}, ['C7', 'K13', 'T6']);
    expect(far.a.unplaced.setUps).toEqual([]);
    expect(far.a.rejected).toEqual([]);
    expect(rms(errors(far))).toBeLessThan(2);
    // a single known point tells no bearing
    expect(() => adjusted(5, {}, ['K13'])).toThrow(/No set-up could be brought to the known marks/);
  });
});

describe('the traverse of a run', () => {
  const { job, sightings, control, sd, instrument } = adjusted(3);
  const [traverse] = traversesOf(job.setUps, sightings, control, { ...sd, placeM: 0.001 }, system);

  it('closes on its beginning within what the instrument states', () => {
    expect(traverse.kind).toBe('closed');
    expect(traverse.stations).toEqual(['C6', 'T1', 'T2', 'T3', 'T4', 'T5', 'T6', 'C6']);
    expect(Math.abs(traverse.angleRad!)).toBeLessThan(3 * traverse.sdAngleRad!);
    expect(Math.hypot(...traverse.planM!)).toBeLessThan(3 * traverse.sdPlanM);
    expect(Math.abs(traverse.heightM!)).toBeLessThan(3 * traverse.sdHeightM);
  });

  it('leaves over in height what a target was noted wrongly by', () => {
    const bad = adjusted(3, { targetHeight: { setUp: 'S4', target: 'T4', offM: 0.1 } });
    const [t] = traversesOf(bad.job.setUps, bad.sightings, bad.control, { ...sd, placeM: 0.001 }, system);
    // seen from both ends, half of it is left
    expect(t.heightM! - traverse.heightM!).toBeCloseTo(-0.05, 2);
    expect(t.bothWaysM!.height).toBeGreaterThan(0.09);
  });

  it('is told by an instrument whose axes are found from both faces', () => {
    expect(Math.abs(instrument.collimationRad / DEG - 0.0021)).toBeLessThan(0.0003);
    expect(Math.abs(instrument.indexRad / DEG + 0.0034)).toBeLessThan(0.0003);
    expect(instrument.pointingRad.direction / DEG).toBeGreaterThan(0.0004);
    expect(instrument.pointingRad.direction / DEG).toBeLessThan(0.0008);
  });
});
