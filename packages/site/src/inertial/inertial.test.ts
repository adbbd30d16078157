import { beforeAll, describe, expect, it } from 'vitest';
import { DEG, ecefToNed, geodeticToEcef, GRS80, rotationFromAngles } from '@longheron/core/frames';
import {
  gravityEcef,
  inertialDefaults,
  inertialTrajectory,
  navigate,
  separationOf,
  STATE_WIDTH,
  type AidingPosition,
  type InertialData,
  type Separation,
} from '@longheron/core/inertial';
import { gaussMarkov, Random } from '@longheron/core/numeric';
import { type Trajectory } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { deliveredMounting, outages, trueTrajectory } from '../drive';
import { siteDrive } from '../files';
import { gravityNed, INERTIAL_RATE_HZ, measureDrive } from '.';

const system = parseSystem('EPSG:25832+5773');
const LEVER = deliveredMounting().gnssLeverArmM!;
let truth: Trajectory;
let from: number;
let to: number;
let noisy: InertialData;

beforeAll(() => {
  const drive = siteDrive();
  from = drive.startSow + 30;
  to = drive.passes[1].endSow + 20;
  truth = trueTrajectory(drive, system, INERTIAL_RATE_HZ, from, to);
  noisy = unit(7, 1);
});

const SD_M = 0.005;

/** Positions of the antenna at 5 Hz: the truth, and errors of which most last a minute; none inside the outages. */
function antenna(seed: number, factor: number): AidingPosition[] {
  const gaps = outages(siteDrive());
  const out: AidingPosition[] = [];
  const every = INERTIAL_RATE_HZ / 5;
  const count = Math.ceil(truth.sow.length / every);
  const lasting = [0, 1, 2].map((k) => gaussMarkov(new Random(seed, k), count, 0.2, 60));
  const random = new Random(seed, 'white');
  for (let i = 0; i < truth.sow.length; i += every) {
    const sow = truth.sow[i];
    const white = [random.normal(), random.normal(), random.normal()];
    if (gaps.some((g) => sow >= g.startSow && sow < g.endSow)) continue;
    const r = rotationFromAngles(truth.rollRad![i], truth.pitchRad![i], truth.headingRad![i]);
    const axes = ecefToNed(truth.latRad[i], truth.lonRad[i]);
    const ned = [0, 1, 2].map((k) => r[3 * k] * LEVER[0] + r[3 * k + 1] * LEVER[1] + r[3 * k + 2] * LEVER[2]);
    const p = geodeticToEcef(GRS80, truth.latRad[i], truth.lonRad[i], truth.hEllM[i]);
    const xyzM = p.map((v, k) => {
      const error = Math.sqrt(0.7) * lasting[k][i / every] + Math.sqrt(0.3) * white[k];
      return v + axes[k] * ned[0] + axes[3 + k] * ned[1] + axes[6 + k] * ned[2] + factor * SD_M * error;
    });
    const v = SD_M ** 2;
    const covariance = Float64Array.of(v, 0, 0, 0, v, 0, 0, 0, v);
    out.push({ sow, xyzM, covariance, solution: 'fixed', satellites: 20 });
  }
  return out;
}

/** RMS of north, east, down (metres), roll, pitch, heading (degrees) while moving, and over their deviations. */
function compare(t: Trajectory): { rms: number[]; normalised: number[]; worstM: number } {
  const squares = new Array<number>(6).fill(0);
  const shares = new Array<number>(6).fill(0);
  let worstM = 0;
  let n = 0;
  for (let i = 0; i < t.sow.length; i++) {
    const j = Math.round((t.sow[i] - truth.sow[0]) * INERTIAL_RATE_HZ);
    const axes = ecefToNed(truth.latRad[j], truth.lonRad[j]);
    const p = geodeticToEcef(GRS80, t.latRad[i], t.lonRad[i], t.hEllM[i]);
    const q = geodeticToEcef(GRS80, truth.latRad[j], truth.lonRad[j], truth.hEllM[j]);
    const along = (k: number) => [0, 1, 2].reduce((s, c) => s + axes[3 * k + c] * (p[c] - q[c]), 0);
    const turn = (a: number, b: number) => Math.atan2(Math.sin(a - b), Math.cos(a - b)) / DEG;
    const error = [
      along(0),
      along(1),
      along(2),
      turn(t.rollRad![i], truth.rollRad![j]),
      turn(t.pitchRad![i], truth.pitchRad![j]),
      turn(t.headingRad![i], truth.headingRad![j]),
    ];
    const sd = [t.sdNM!, t.sdEM!, t.sdDM!].map((v) => v[i]);
    sd.push(...[t.sdRollRad!, t.sdPitchRad!, t.sdHeadingRad!].map((v) => v[i] / DEG));
    worstM = Math.max(worstM, Math.hypot(error[0], error[1], error[2]));
    if (Math.hypot(truth.vnMps![j], truth.veMps![j]) < 1) continue;
    n++;
    for (let k = 0; k < 6; k++) {
      squares[k] += error[k] ** 2;
      shares[k] += (error[k] / sd[k]) ** 2;
    }
  }
  const root = (v: number) => Math.sqrt(v / n);
  return { rms: squares.map(root), normalised: shares.map(root), worstM };
}

const settings = { ...inertialDefaults('vehicle'), leverArmM: LEVER, leverArmSdM: 0.003 };
const unit = (seed: number, factor: number) =>
  measureDrive(siteDrive(), system, { seed, factor, fromSow: from, toSow: to });

describe('the unit and the solver, which share no formula', () => {
  it('agree on gravity to half a µg', () => {
    const g = new Float64Array(3);
    for (const lat of [0, 30, 56.08, 80])
      for (const h of [-20, 45, 1500]) {
        const r = geodeticToEcef(GRS80, lat * DEG, 0.15, h);
        gravityEcef(r[0], r[1], r[2], g);
        const axes = ecefToNed(lat * DEG, 0.15);
        const [north, down] = gravityNed(lat * DEG, h);
        expect(axes[0] * g[0] + axes[1] * g[1] + axes[2] * g[2]).toBeCloseTo(north, 5);
        expect(axes[6] * g[0] + axes[7] * g[1] + axes[8] * g[2]).toBeCloseTo(down, 5);
      }
  });

  it('find the drive again without noise, outages under the bridge included', () => {
    const aiding = antenna(1, 0);
    const data = unit(1, 0);
    const { rms, worstM } = compare(inertialTrajectory(navigate(data, aiding, settings), data, aiding));
    expect(worstM).toBeLessThan(0.0005);
    expect(Math.max(...rms.slice(3))).toBeLessThan(0.001);
  });

  it('find the same from the end to the beginning, reversed and in the mirror', () => {
    const aiding = antenna(1, 0);
    const data = unit(1, 0);
    const s = separationOf(navigate(data, aiding, settings), data, aiding, settings);
    const { metres, degrees } = settled(s);
    expect(Math.max(...metres)).toBeLessThan(0.001);
    expect(Math.max(...degrees)).toBeLessThan(0.005);
  });
});

/** Largest separations on each axis once both filters have run for a minute. */
function settled(s: Separation): { metres: number[]; degrees: number[] } {
  const [first, last] = [s.sow[0] + 60, s.sow[s.sow.length - 1] - 60];
  const rows = Array.from(s.sow.keys()).filter((k) => s.sow[k] > first && s.sow[k] < last);
  expect(rows.length).toBeGreaterThan(60);
  const most = (v: Float64Array, c: number) => Math.max(...rows.map((k) => Math.abs(v[3 * k + c])));
  return {
    metres: [0, 1, 2].map((c) => most(s.nedM, c)),
    degrees: [0, 1, 2].map((c) => most(s.attitudeRad, c) / DEG),
  };
}

describe('a noisy unit', () => {
  it('whose gyro jumps in the middle shows it between both passes', () => {
    const aiding = antenna(7, 1);
    const jumped = { ...noisy, gyroRadps: noisy.gyroRadps.slice() };
    for (let i = noisy.sow.length >> 1; i < noisy.sow.length; i++) jumped.gyroRadps[3 * i + 2] += (60 * DEG) / 3600;
    const heading = (data: InertialData) =>
      settled(separationOf(navigate(data, aiding, settings), data, aiding, settings)).degrees[2];
    const clean = heading(noisy);
    expect(clean).toBeLessThan(0.1);
    expect(heading(jumped)).toBeGreaterThan(4 * clean);
  });

  it('meets its targets, with deviations that hold, and finds its own biases', () => {
    const aiding = antenna(7, 1);
    const data = noisy;
    const solution = navigate(data, aiding, settings);
    const { rms, normalised, worstM } = compare(inertialTrajectory(solution, data, aiding));
    expect(rms[3]).toBeLessThan(0.008);
    expect(rms[4]).toBeLessThan(0.008);
    expect(rms[5]).toBeLessThan(0.02);
    expect(worstM).toBeLessThan(0.05);
    // one seed: errors last a minute, so only gross mistakes of the deviations show
    for (const v of normalised) {
      expect(v).toBeGreaterThan(0.25);
      expect(v).toBeLessThan(2.2);
    }
    expect(solution.innovations.every((i) => i.used)).toBe(true);
    expect(solution.alignment.by).toBe('motion');
  });

  it('is the same to the last digit when smoothed in stretches', () => {
    const aiding = antenna(7, 1);
    const [whole, pieces] = [navigate(noisy, aiding, settings), navigate(noisy, aiding, settings, undefined, 70)];
    expect(pieces.nodes).toEqual(whole.nodes);
    expect(pieces.nodes.length).toBeGreaterThan(20 * 70);
    expect(pieces.covariance).toEqual(whole.covariance);
    expect([pieces.unit, pieces.unitSd, pieces.filtered]).toEqual([whole.unit, whole.unitSd, whole.filtered]);
    expect(pieces.innovations).toEqual(whole.innovations);
    for (let k = 0; k < whole.count; k += 97) expect(pieces.states.at(k)).toEqual(whole.states.at(k));
    const [t, u] = [whole, pieces].map((s, k) => inertialTrajectory(s, noisy, aiding, 1, k === 1));
    expect(u).toEqual(t);
    // what was read was given back, all but the last piece
    expect(pieces.states.at(0)).toEqual(new Float64Array(STATE_WIDTH));
  });

  it('is bridged over missing samples, with larger deviations there', () => {
    const aiding = antenna(7, 1);
    const whole = noisy;
    const cut = Math.round(whole.sow.length / 2);
    const keep = (i: number) => i < cut || i >= cut + 40;
    const data: InertialData = {
      ...whole,
      sow: whole.sow.filter((_, i) => keep(i)),
      gyroRadps: whole.gyroRadps.filter((_, i) => keep(Math.floor(i / 3))),
      accelMps2: whole.accelMps2.filter((_, i) => keep(Math.floor(i / 3))),
    };
    const solution = navigate(data, aiding, settings);
    expect(solution.bridged).toHaveLength(1);
    expect(solution.bridged[0].lengthS).toBeCloseTo(41 / 200, 6);
    const t = inertialTrajectory(solution, data, aiding);
    const { rms, worstM } = compare(t);
    expect(worstM).toBeLessThan(0.06);
    expect(rms[5]).toBeLessThan(0.05);
  });

  it('tells of a wrong lever arm', () => {
    const aiding = antenna(7, 1);
    const data = noisy;
    const wrong = {
      ...settings,
      leverArmM: [LEVER[0], LEVER[1] + 0.06, LEVER[2]] as [number, number, number],
      leverArmSdM: 0.05,
    };
    const { unit: found, unitNodes } = navigate(data, aiding, wrong);
    const last = 18 * (unitNodes.length - 1);
    expect(Math.abs(found[last + 16] - LEVER[1])).toBeLessThan(0.01);
  });

  it('cannot be used with positions of another time', () => {
    const data = noisy;
    const later = antenna(7, 1).map((a) => ({ ...a, sow: a.sow + 3600 }));
    expect(() => navigate(data, later, settings)).toThrow(/do not overlap/);
  });
});

/** Rows called fixed that are more than ten centimetres and five of their deviations off, and largest error of any row. */
function wrongRows(t: Trajectory): { wrong: number; fixed: number; worstFixedM: number } {
  const out = { wrong: 0, fixed: 0, worstFixedM: 0 };
  for (let i = 0; i < t.sow.length; i++) {
    if (t.solution![i] !== 1) continue;
    out.fixed++;
    const j = Math.round((t.sow[i] - truth.sow[0]) * INERTIAL_RATE_HZ);
    const p = geodeticToEcef(GRS80, t.latRad[i], t.lonRad[i], t.hEllM[i]);
    const q = geodeticToEcef(GRS80, truth.latRad[j], truth.lonRad[j], truth.hEllM[j]);
    const off = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
    out.worstFixedM = Math.max(out.worstFixedM, off);
    const sd = Math.hypot(t.sdNM![i], t.sdEM![i], t.sdDM![i]);
    if (off > 0.1 && off > 5 * sd) out.wrong++;
  }
  return out;
}

/** Positions whose truth is changed between two times of the drive. */
function spoilt(
  change: (a: AidingPosition, k: number) => Partial<AidingPosition>,
  startS: number,
  endS: number,
): AidingPosition[] {
  return antenna(7, 1).map((a, k) => {
    const t = a.sow - truth.sow[0];
    return t >= startS && t < endS ? { ...a, ...change(a, k) } : a;
  });
}
const moved = (a: AidingPosition, by: number[]) => a.xyzM.map((v, k) => v + by[k]);
const variance = (sdM: number) => Float64Array.of(sdM ** 2, 0, 0, 0, sdM ** 2, 0, 0, 0, sdM ** 2);
const run = (aiding: AidingPosition[]) => {
  const solution = navigate(noisy, aiding, settings);
  return wrongRows(inertialTrajectory(solution, noisy, aiding));
};

describe('positions that are not what they say', () => {
  it('float at the start, metres off, leave no wrong velocity and no wrong attitude', () => {
    const aiding = spoilt(
      (a) => ({ xyzM: moved(a, [2, -1.5, 1]), covariance: variance(1.6), solution: 'float' }),
      0,
      20,
    );
    const { wrong, fixed, worstFixedM } = run(aiding);
    expect(wrong).toBe(0);
    expect(fixed).toBeGreaterThan(0.5 * noisy.sow.length);
    expect(worstFixedM).toBeLessThan(0.1);
  });
  it('a single float before fixed ones is no speed of five metres a second', () => {
    const aiding = antenna(7, 1);
    aiding[0] = { ...aiding[0], xyzM: moved(aiding[0], [5, 0, 0]), covariance: variance(3), solution: 'float' };
    expect(run(aiding).worstFixedM).toBeLessThan(0.1);
  });
  it('fixed, but eight metres off for half a minute, are refused, and their rows are called inertial', () => {
    const { wrong, fixed } = run(spoilt((a) => ({ xyzM: moved(a, [5, 5, -4]) }), 100, 130));
    expect(wrong).toBe(0);
    expect(fixed).toBeGreaterThan(0.5 * noisy.sow.length);
  });
  it('fixed, but wrong for the first minute, give way to the longer span that contradicts them', () => {
    const { wrong, fixed } = run(spoilt((a) => ({ xyzM: moved(a, [-3, 2, 2]) }), 0, 60));
    expect(wrong).toBe(0);
    expect(fixed).toBeGreaterThan(0.4 * noisy.sow.length);
  });
  it('float with jumps of half a metre do not keep the unit from being aligned', () => {
    const random = new Random(3, 'jumps');
    const aiding = spoilt(
      (a) => ({
        xyzM: moved(
          a,
          [0, 1, 2].map(() => 0.5 * random.normal()),
        ),
        covariance: variance(0.6),
        solution: 'float',
      }),
      0,
      40,
    );
    const { wrong, worstFixedM } = run(aiding);
    expect(wrong).toBe(0);
    expect(worstFixedM).toBeLessThan(0.1);
  });
});
