import { describe, expect, it } from 'vitest';
import { DEG, ecefToGeodetic, ecefToNed, geodeticToEcef, makeReferenceSystem, rotationFromAngles } from '../../frames';
import { multiply3, Random } from '../../numeric';
import { type Trajectory } from '../../trajectory';
import { type Pings, type Vessel } from '../pings';
import { speedAt, type Cast } from '../water';
import { levelAt, pathOfNavigation, SoundingReducer, VesselPath, type Soundings } from '.';

const SYSTEM = makeReferenceSystem({
  horizontalCode: 25832,
  horizontalName: 'zone 32',
  proj4: '+proj=utm +zone=32 +ellps=GRS80 +units=m +no_defs',
  metresPerUnit: 1,
  verticalCode: 5773,
  verticalName: '',
  verticalMetresPerUnit: 1,
});
const [LAT, LON, WEEK] = [56.08 * DEG, 8.47 * DEG, 2423];
/** The waterline above the ellipsoid, and below the reference point; the bed under it. */
const [WATER_ELL, WATERLINE, BED_M] = [41.1, 1.35, 18];
const CAST: Cast = {
  name: 'A',
  week: WEEK,
  sow: 0,
  latRad: LAT,
  lonRad: LON,
  depthM: Float64Array.of(0, 2.5, 4, 7, 12, 25),
  speedMps: Float64Array.of(1489.2, 1488.9, 1480.1, 1471.4, 1470.8, 1471.6),
  sdMps: 0.1,
};
const VESSEL: Vessel = {
  sensor: {
    leverArmM: [0.4, -0.9, 2.1],
    orientationDeg: { roll: 0, pitch: 0, heading: 0 },
    boresightDeg: { roll: 0.6, pitch: -1.1, heading: 1.4 },
    leverArmSdM: 0.004,
    boresightSdDeg: { roll: 0.01, pitch: 0.03, heading: 0.04 },
  },
  latencyS: 0.12,
  latencySdS: 0.002,
  waterlineM: WATERLINE,
};

const roll = (t: number) => DEG * (3 * Math.sin(1.76 * t) + 0.8 * Math.sin(2.83 * t + 2));
const pitch = (t: number) => DEG * (1 + 1.4 * Math.sin(1.5 * t + 0.7));
const heading = (t: number) => DEG * (37 + 2 * Math.sin(0.7 * t));
const heave = (t: number) => 0.2 * Math.sin(1.3 * t);
const SPEED = 2.5;

/** The vessel on a straight course at even speed, with waves, as closed forms; ECEF of its reference point. */
function truePlace(t: number): Float64Array {
  const axes = ecefToNed(LAT, LON);
  const origin = geodeticToEcef(SYSTEM.ellipsoid, LAT, LON, WATER_ELL + WATERLINE);
  const [n, e] = [SPEED * t * Math.cos(37 * DEG), SPEED * t * Math.sin(37 * DEG)];
  return origin.map((o, k) => o + axes[k] * n + axes[3 + k] * e - axes[6 + k] * heave(t));
}

function trajectory(rate = 100, seconds = 20): Trajectory {
  const n = rate * seconds + 1;
  const at = Array.from({ length: n }, (_, i) => i / rate);
  const geo = at.map((t) => {
    const p = truePlace(t);
    return ecefToGeodetic(SYSTEM.ellipsoid, p[0], p[1], p[2]);
  });
  const column = (of: (t: number, i: number) => number) => Float64Array.from(at, of);
  return {
    week: WEEK,
    sow: Float64Array.from(at),
    latRad: column((_, i) => geo[i][0]),
    lonRad: column((_, i) => geo[i][1]),
    hEllM: column((_, i) => geo[i][2]),
    rollRad: column(roll),
    pitchRad: column(pitch),
    headingRad: column(heading),
    sdNM: column(() => 0.01),
    sdEM: column(() => 0.015),
    sdDM: column(() => 0.02),
    sdRollRad: column(() => 0.02 * DEG),
    sdPitchRad: column(() => 0.02 * DEG),
    sdHeadingRad: column(() => 0.05 * DEG),
  };
}

/** One-way time to a depth below the beginning and way across, by Simpson's rule over depth. */
function bySimpson(cast: Cast, fromM: number, slowness: number, downM: number): { timeS: number; acrossM: number } {
  const n = 2000;
  let [timeS, acrossM] = [0, 0];
  for (let i = 0; i <= n; i++) {
    const c = speedAt(cast, fromM + (downM * i) / n);
    const sin = slowness * c;
    const cos = Math.sqrt(1 - sin * sin);
    const w = ((i === 0 || i === n ? 1 : i % 2 ? 4 : 2) * downM) / (3 * n);
    timeS += w / (c * cos);
    acrossM += (w * sin) / cos;
  }
  return { timeS, acrossM };
}

interface Errors {
  /** Added to what is true, each drawn by the caller. */
  rollRad: number;
  pitchRad: number;
  headingRad: number;
  boresightDeg: [number, number, number];
  latencyS: number;
  castMps: number;
  surfaceMps: number;
  place: [number, number, number];
}
const NONE: Errors = {
  rollRad: 0,
  pitchRad: 0,
  headingRad: 0,
  boresightDeg: [0, 0, 0],
  latencyS: 0,
  castMps: 0,
  surfaceMps: 0,
  place: [0, 0, 0],
};

const rotate = (r: Float64Array, v: ArrayLike<number>) =>
  [0, 1, 2].map((k) => r[3 * k] * v[0] + r[3 * k + 1] * v[1] + r[3 * k + 2] * v[2]);
const dot = (a: ArrayLike<number>, b: ArrayLike<number>) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Beams that meet a bed 18 m under the waterline, and where: angles across in the head's own axes, to both sides. */
function survey(leansDeg: number[], pings: number, errors: Errors = NONE) {
  const beams = leansDeg.length;
  const out: Pings = {
    week: WEEK,
    first: 0,
    beams,
    sow: new Float64Array(pings),
    tiltDeg: new Float64Array(pings),
    surfaceMps: new Float64Array(pings),
    angleDeg: new Float32Array(pings * beams),
    travelS: new Float64Array(pings * beams),
    quality: new Uint8Array(pings * beams).fill(3),
  };
  const truth = new Float64Array(3 * pings * beams);
  const { roll: br, pitch: bp, heading: bh } = VESSEL.sensor.boresightDeg;
  const mount = rotationFromAngles(
    (br + errors.boresightDeg[0]) * DEG,
    (bp + errors.boresightDeg[1]) * DEG,
    (bh + errors.boresightDeg[2]) * DEG,
  );
  const axes = ecefToNed(LAT, LON);
  const wrong = rotationFromAngles(errors.rollRad, 0, 0);
  const turn = (t: number) => {
    // errors of the attitude that the trajectory states: the truth lies beside it
    const r = rotationFromAngles(roll(t), pitch(t) + errors.pitchRad, heading(t) + errors.headingRad);
    return multiply3(r, wrong);
  };
  const cast = { ...CAST, speedMps: CAST.speedMps.map((v) => v + errors.castMps) };
  for (let i = 0; i < pings; i++) {
    const t = 2 + i * 0.31;
    out.sow[i] = t + VESSEL.latencyS + errors.latencyS;
    const r = turn(t);
    const arm = rotate(r, VESSEL.sensor.leverArmM);
    const depth = arm[2] - WATERLINE - heave(t);
    const head = multiply3(r, mount);
    out.tiltDeg[i] = 1.3 * Math.sin(i);
    const trueSpeed = speedAt(cast, depth);
    out.surfaceMps[i] = trueSpeed + errors.surfaceMps;
    leansDeg.forEach((lean, b) => {
      // a direction in the head's own axes at transmission, which has the tilt; its receive angle is seen on return
      const [x, y] = [Math.sin(out.tiltDeg[i] * DEG), Math.sin(lean * DEG)];
      const dir = rotate(head, [x, y, Math.sqrt(1 - x * x - y * y)]);
      const sin = Math.hypot(dir[0], dir[1]);
      const k = i * beams + b;
      const ray = bySimpson(cast, depth, sin / trueSpeed, BED_M - depth);
      out.travelS[k] = 2 * ray.timeS;
      const side = rotate(multiply3(turn(t + 2 * ray.timeS), mount), [0, 1, 0]);
      // the head works with the speed it measured: its angle has the sine that the time across the array gives
      const steered = (dot(dir, side) * out.surfaceMps[i]) / trueSpeed;
      out.angleDeg[k] = Math.asin(steered) / DEG;
      const flat = sin > 1e-12 ? ray.acrossM / sin : 0;
      const p = truePlace(t).map((v, j) => {
        const n = arm[0] + dir[0] * flat + errors.place[0];
        const e = arm[1] + dir[1] * flat + errors.place[1];
        const down = arm[2] + BED_M - depth + errors.place[2];
        return v + axes[j] * n + axes[3 + j] * e + axes[6 + j] * down;
      });
      const geo = ecefToGeodetic(SYSTEM.ellipsoid, p[0], p[1], p[2]);
      SYSTEM.project(geo[0], geo[1], geo[2], geo);
      truth.set(geo, 3 * k);
    });
  }
  return { pings: out, truth };
}

const NOISE = { rangeSdM: 0.015, angleSdDeg: 0.05, surfaceSpeedSdMps: 0.05 };
const motion = () => {
  const sow = Float64Array.from({ length: 2001 }, (_, i) => i / 100);
  return { week: WEEK, sow, heaveM: sow.map(heave) };
};
const reducer = (t = trajectory(), cast = CAST) =>
  new SoundingReducer(new VesselPath(t, SYSTEM), VESSEL, [cast], 'time', NOISE, motion());

const LEANS = [-65, -50, -35, -20, -8, 0.5, 12, 28, 41, 55, 65];

describe('soundings without noise', () => {
  it('lie where sound through layers put them: 10 mm below the head, 20 mm at 65 degrees, 18 m of water', () => {
    const { pings, truth } = survey(LEANS, 40);
    const r = reducer();
    const s = r.reduce(pings);
    expect([s.count, r.outsidePings, r.turned]).toEqual([40 * LEANS.length, 0, 0]);
    let [nadir, outer] = [0, 0];
    for (let i = 0; i < s.count; i++) {
      const k = 3 * (s.ping[i] * LEANS.length + s.beam[i]);
      const off = Math.hypot(s.eastingM[i] - truth[k], s.northingM[i] - truth[k + 1], s.heightM[i] - truth[k + 2]);
      if (Math.abs(LEANS[s.beam[i]]) < 20) nadir = Math.max(nadir, off);
      else outer = Math.max(outer, off);
    }
    expect(nadir).toBeLessThan(0.003);
    expect(outer).toBeLessThan(0.01);
  });

  it('come from real-time navigation, motion and a gauge as well', () => {
    const t = trajectory();
    const nav = {
      week: WEEK,
      sow: t.sow,
      latRad: t.latRad,
      lonRad: t.lonRad,
      hEllM: t.hEllM,
      headingRad: t.headingRad!,
      planSdM: 0.4,
      heightSdM: 0.8,
    };
    const each = { rollSdRad: 0, pitchSdRad: 0, headingSdRad: 0, heaveSdM: 0.05 };
    const m = { ...motion(), rollRad: t.rollRad!, pitchRad: t.pitchRad!, headingRad: t.headingRad!, ...each };
    const gpsS = Float64Array.of(WEEK * 604_800 - 600, WEEK * 604_800 + 600);
    const levels = { gpsS, levelM: Float64Array.of(0.3, 0.5), datumEllM: WATER_ELL - 0.4, sdM: 0.01 };
    const path = pathOfNavigation(nav, m, levels, WATERLINE, 0.02);
    expect(path.sdDM![0]).toBeCloseTo(Math.hypot(0.05, 0.02, 0.01), 9);
    const { pings, truth } = survey(LEANS, 40);
    const s = reducer(path).reduce(pings);
    let worst = 0;
    for (let i = 0; i < s.count; i++) {
      const k = 3 * (s.ping[i] * LEANS.length + s.beam[i]);
      worst = Math.max(worst, Math.abs(s.heightM[i] - truth[k + 2]), Math.abs(s.eastingM[i] - truth[k]));
    }
    expect(worst).toBeLessThan(0.015);
    // nobody knows the level before the gauge began: no height, no sounding
    const late = { ...levels, gpsS: gpsS.map((v) => v + 605) };
    expect(levelAt(late, WEEK * 604_800)).toBeNaN();
    const r = reducer(pathOfNavigation(nav, m, late, WATERLINE, 0.02));
    expect(r.reduce(pings).count).toBeLessThan(40 * LEANS.length);
    expect(r.noHeightPings).toBeGreaterThan(5);
  });
});

describe('what is missing', () => {
  it('is counted: pings outside the trajectory, beams without an echo, a head without its speed', () => {
    const { pings } = survey(LEANS, 40);
    pings.sow[39] = 500;
    pings.travelS[3] = Number.NaN;
    pings.quality[4] = 0;
    pings.surfaceMps[5] = Number.NaN;
    const r = reducer();
    const s: Soundings = r.reduce(pings);
    expect([s.count, r.outsidePings, r.noSurfacePings, r.pingsByCast[0]]).toEqual([39 * LEANS.length - 2, 1, 1, 39]);
  });
});

describe('the stated uncertainty', () => {
  it('is that of the errors, by ten degrees of beam angle and in all three directions', () => {
    const random = new Random(21, 'sonar errors');
    const normal = () => random.normal();
    const sums = new Map<string, { sum: number; n: number }>();
    for (let run = 0; run < 260; run++) {
      const errors: Errors = {
        rollRad: 0.02 * DEG * normal(),
        pitchRad: 0.02 * DEG * normal(),
        headingRad: 0.05 * DEG * normal(),
        boresightDeg: [0.01 * normal(), 0.03 * normal(), 0.04 * normal()],
        latencyS: 0.002 * normal(),
        castMps: 0.1 * normal(),
        surfaceMps: 0.05 * normal(),
        place: [0.01 * normal(), 0.015 * normal(), 0.02 * normal()],
      };
      const { pings, truth } = survey(LEANS, 3, errors);
      for (let k = 0; k < pings.travelS.length; k++) {
        pings.travelS[k] += (2 * 0.015 * normal()) / 1475;
        pings.angleDeg[k] += 0.05 * normal();
      }
      const s = reducer().reduce(pings);
      for (let i = 0; i < s.count; i++) {
        const k = 3 * (s.ping[i] * LEANS.length + s.beam[i]);
        const bin = Math.floor(Math.abs(s.angleDeg[i]) / 10);
        const t = [
          (s.eastingM[i] - truth[k]) / s.sdEM[i],
          (s.northingM[i] - truth[k + 1]) / s.sdNM[i],
          (s.heightM[i] - truth[k + 2]) / s.sdHM[i],
        ];
        t.forEach((v, axis) => {
          const key = `${'ENH'[axis]} ${bin}`;
          const at = sums.get(key) ?? { sum: 0, n: 0 };
          sums.set(key, { sum: at.sum + v * v, n: at.n + 1 });
        });
      }
    }
    for (const [key, { sum, n }] of sums) {
      const rms = Math.sqrt(sum / n);
      expect([key, rms > 0.85 && rms < 1.15, rms]).toEqual([key, true, rms]);
    }
  });
});
