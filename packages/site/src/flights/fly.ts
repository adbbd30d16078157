import { ecefToNed, type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { multiply3, Random, transpose3 } from '@longheron/core/numeric';
import { type LaserReturns } from '@longheron/core/laser';
import { type Trajectory } from '@longheron/core/trajectory';
import { Ray } from '../casting';
import { attitude, nearby, sensorAxes } from '../platform';
import { landHeight } from '../scenes/land';
import { type FlightPlan } from './plan';

/** A flight with its truth: what the instruments wrote, and how things are. */
export interface Flight {
  plan: FlightPlan;
  /** As delivered: no boresight, which it truly has. */
  mounting: SensorMounting;
  trueMounting: SensorMounting;
  trajectory: Trajectory;
  trueTrajectory: Trajectory;
  returns: LaserReturns;
  /** Height of land and roofs at a place of the projection. */
  heightAt(eastingM: number, northingM: number): number;
}

const WEEK = 2423;
const START_SOW = 200_000;
const RATE_HZ = 100;
const DEG = Math.PI / 180;
const NODE_S = 1;

/** @param origin middle of the area in the system, metres. */
export function flyPlan(plan: FlightPlan, system: ReferenceSystem, origin: [number, number]): Flight {
  const surface = (x: number, y: number) => surfaceAt(plan, x, y);
  const orientationDeg = { roll: 90, pitch: 0, heading: 90 };
  const base = { leverArmM: plan.leverArmM, orientationDeg, leverArmSdM: 0.003, boresightSdDeg: 0 };
  const trueMounting: SensorMounting = { ...base, boresightDeg: plan.boresightDeg };
  const poses = posesOf(plan, system, origin);
  return {
    plan,
    mounting: { ...base, boresightDeg: { roll: 0, pitch: 0, heading: 0 } },
    trueMounting,
    trueTrajectory: poses.truth,
    trajectory: worsened(plan, poses.truth, poses.spans),
    returns: scan(plan, system, origin, poses, trueMounting, surface),
    heightAt: (e, n) => surface(e - origin[0], n - origin[1]),
  };
}

interface Poses {
  truth: Trajectory;
  spans: Array<{ startS: number; endS: number }>;
}

/** The true path: straight lines, swaying and banking a little, with nothing recorded between them. */
function posesOf(plan: FlightPlan, system: ReferenceSystem, origin: [number, number]): Poses {
  const r = new Random(plan.seed, 'poses');
  const phase = Array.from({ length: 8 }, () => r.between(0, 6.28));
  const rows: number[][] = [];
  const spans: Poses['spans'] = [];
  let t = START_SOW;
  const geo = new Float64Array(3);
  for (const { from, to } of plan.lines) {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    const seconds = length / plan.speedMps;
    const bearing = Math.atan2(to[0] - from[0], to[1] - from[1]);
    const n = Math.floor(seconds * RATE_HZ);
    spans.push({ startS: t, endS: t + n / RATE_HZ });
    for (let k = 0; k <= n; k++) {
      const s = k / RATE_HZ;
      const u = s / seconds;
      const wave = (hz: number, i: number) => Math.sin(2 * Math.PI * hz * s + phase[i]);
      const x = from[0] + u * (to[0] - from[0]);
      const y = from[1] + u * (to[1] - from[1]);
      const h = plan.heightM + plan.land.baseM + 1.2 * wave(0.03, 0) + 0.2 * wave(0.2, 1);
      system.unproject(origin[0] + x, origin[1] + y, h, geo);
      const { convergenceRad } = system.convergenceAndScale(geo[0], geo[1]);
      rows.push([
        t + s,
        geo[0],
        geo[1],
        geo[2],
        DEG * (1.5 * wave(0.21, 2) + 0.3 * wave(0.8, 3)),
        DEG * (2 + 0.8 * wave(0.17, 4) + 0.2 * wave(1.1, 5)),
        bearing + convergenceRad + DEG * (3 + 0.6 * wave(0.12, 6)),
      ]);
    }
    t = spans.at(-1)!.endS + plan.turnS;
  }
  const column = (k: number) => Float64Array.from(rows, (row) => row[k]);
  const truth: Trajectory = {
    week: WEEK,
    sow: column(0),
    latRad: column(1),
    lonRad: column(2),
    hEllM: column(3),
    rollRad: column(4),
    pitchRad: column(5),
    headingRad: column(6).map((v) => (v + 4 * Math.PI) % (2 * Math.PI)),
    crs: 'EPSG:4937',
    point: 'imu',
  };
  return { truth, spans };
}

/** Errors drawn from the stated deviations; between lines they go on wandering. */
function worsened(plan: FlightPlan, truth: Trajectory, spans: Poses['spans']): Trajectory {
  const n = truth.sow.length;
  const series = (name: string, sd: number, tau: number) => {
    const r = new Random(plan.seed, `error ${name}`);
    const out = new Float64Array(n);
    let value = r.normal();
    for (let i = 0; i < n; i++) {
      if (i > 0) {
        const keep = Math.exp(-(truth.sow[i] - truth.sow[i - 1]) / tau);
        value = keep * value + Math.sqrt(1 - keep * keep) * r.normal();
      }
      out[i] = sd * value;
    }
    return out;
  };
  const [sn, se, sd] = plan.positionSdM;
  const [sr, sp, sh] = plan.attitudeSdDeg.map((v) => v * DEG);
  const { positionTauS: tp, attitudeTauS: ta } = plan;
  const north = series('north', sn, tp);
  const east = series('east', se, tp);
  const down = series('down', sd, tp);
  const a = 6378137;
  const all = (v: number) => new Float64Array(n).fill(v);
  const add = (v: Float64Array, e: Float64Array) => v.map((x, i) => x + e[i]);
  const drift = Float64Array.from(truth.sow, (t) => {
    const span = plan.drift && spans[plan.drift.line - 1];
    if (!span || t < span.startS || t > span.endS) return 0;
    const u = (t - span.startS) / (span.endS - span.startS);
    return plan.drift!.heightM * (0.5 - 0.5 * Math.cos(Math.PI * u));
  });
  return {
    ...truth,
    latRad: truth.latRad.map((v, i) => v + north[i] / a),
    lonRad: truth.lonRad.map((v, i) => v + east[i] / (a * Math.cos(truth.latRad[i]))),
    hEllM: truth.hEllM.map((v, i) => v - down[i] + drift[i]),
    rollRad: add(truth.rollRad!, series('roll', sr, ta)),
    pitchRad: add(truth.pitchRad!, series('pitch', sp, ta)),
    headingRad: add(truth.headingRad!, series('heading', sh, ta)),
    sdNM: all(sn),
    sdEM: all(se),
    sdDM: all(sd),
    sdRollRad: all(sr),
    sdPitchRad: all(sp),
    sdHeadingRad: all(sh),
    solution: new Uint8Array(n).fill(1),
    satellites: new Uint8Array(n).fill(14),
  };
}

function surfaceAt({ land, houses }: FlightPlan, x: number, y: number): number {
  let h = landHeight(land, x, y);
  for (let k = 0; k < houses.length; k++) {
    const b = houses[k];
    const dx = x - b.x;
    const dy = y - b.y;
    if (dx * dx + dy * dy > 400) continue;
    const along = dx * Math.sin(b.bearingRad) + dy * Math.cos(b.bearingRad);
    const aside = dx * Math.cos(b.bearingRad) - dy * Math.sin(b.bearingRad);
    if (Math.abs(along) > b.halfLengthM || Math.abs(aside) > b.halfWidthM) continue;
    const foot = landHeight(land, b.x, b.y);
    h = Math.max(h, foot + b.eavesM + b.ridgeM * (1 - Math.abs(aside) / b.halfWidthM));
  }
  return h;
}

function scan(
  plan: FlightPlan,
  system: ReferenceSystem,
  origin: [number, number],
  { truth, spans }: Poses,
  mounting: SensorMounting,
  surface: (x: number, y: number) => number,
): LaserReturns {
  const r = new Random(plan.seed, 'pulses');
  const axes = sensorAxes(mounting);
  const rows: number[][] = [];
  const perScan = Math.round(plan.pulsesPerS / plan.scansPerS);
  const step = 1 / (perScan * plan.scansPerS);
  const ray = new Ray();
  let at = 0;
  for (const span of spans) {
    let node: ReturnType<typeof nearby> | undefined;
    let nodeFrom = -Infinity;
    let turn = new Float64Array(9);
    let nodeEcef = [0, 0, 0];
    const count = Math.floor((span.endS - span.startS) / step) - 1;
    for (let k = 0; k < count; k++) {
      const t = span.startS + k * step;
      while (truth.sow[at + 1] <= t) at++;
      const u = (t - truth.sow[at]) / (truth.sow[at + 1] - truth.sow[at]);
      const mix = (v: Float64Array) => v[at] + u * (v[at + 1] - v[at]);
      const [lat, lon, h] = [mix(truth.latRad), mix(truth.lonRad), mix(truth.hEllM)];
      if (!node || t - nodeFrom > NODE_S) {
        node = nearby(system, lat, lon, h);
        nodeFrom = t;
        nodeEcef = ecefOf(lat, lon, h);
        turn = multiply3(node.axes, transpose3(ecefToNed(lat, lon))) as Float64Array<ArrayBuffer>;
      }
      const here = ecefOf(lat, lon, h).map((v, i) => v - nodeEcef[i]);
      const [n, e, d] = [0, 1, 2].map((i) => [0, 1, 2].reduce((s, j) => s + node!.axes[3 * i + j] * here[j], 0));
      const body = multiply3(turn, attitude(mix(truth.rollRad!), mix(truth.pitchRad!), mix(truth.headingRad!)));
      const sweep = (k % perScan) / perScan;
      const azimuth = 90 - plan.halfAngleDeg + 2 * plan.halfAngleDeg * sweep;
      const s = [Math.cos(azimuth * DEG), Math.sin(azimuth * DEG), 0];
      const b = [0, 1, 2].map((i) => axes[3 * i] * s[0] + axes[3 * i + 1] * s[1]);
      const out = [0, 1, 2].map((i) => body[3 * i] * b[0] + body[3 * i + 1] * b[1] + body[3 * i + 2] * b[2]);
      const l = mounting.leverArmM;
      const arm = [0, 1, 2].map((i) => body[3 * i] * l[0] + body[3 * i + 1] * l[1] + body[3 * i + 2] * l[2]);
      ray.fromMap(node.c, n + arm[0], e + arm[1], d + arm[2], out[0], out[1], out[2], origin[0], origin[1]);
      const range = meet(ray, surface, plan.heightM);
      if (!(range > 0)) continue;
      const [x, y] = [ray.x(range), ray.y(range)];
      if (Math.max(Math.abs(x), Math.abs(y)) > plan.halfAreaM) continue;
      const crown = plan.groves.find((g) => (g.x - x) ** 2 + (g.y - y) ** 2 < g.radiusM ** 2);
      const before = crown && r.uniform() < 0.7 ? r.uniform() * crown.heightM : 0;
      const echoes = before > 0 && r.uniform() < 0.6 ? 2 : 1;
      if (before > 0) rows.push([t, range - before, azimuth, 1, echoes]);
      if (before === 0 || echoes === 2) rows.push([t, range, azimuth, echoes, echoes]);
    }
  }
  const column = (k: number) => Float64Array.from(rows, (row) => row[k]);
  const noisy = (v: number, sd: number) => v + sd * r.normal();
  return {
    week: WEEK,
    sow: column(0),
    rangeM: Float32Array.from(rows, (row) => noisy(row[1], plan.rangeSdM)),
    azimuthDeg: Float32Array.from(rows, (row) => noisy(row[2], plan.angleSdDeg)),
    elevationDeg: Float32Array.from(rows, () => noisy(0, plan.angleSdDeg)),
    intensity: new Uint16Array(rows.length).fill(1000),
    returnNumber: Uint8Array.from(rows, (row) => row[3]),
    returnCount: Uint8Array.from(rows, (row) => row[4]),
  };
}

/** Slant distance at which a beam comes to the surface: steps of most of the gap, then secants between above and below. */
function meet(ray: Ray, surface: (x: number, y: number) => number, heightM: number): number {
  const gapAt = (s: number) => ray.z(s) - surface(ray.x(s), ray.y(s));
  let low = (heightM - 40) / -ray.z1;
  let above = gapAt(low);
  let high = low;
  let below = above;
  for (let k = 0; k < 100 && below > 0; k++) {
    low = high;
    above = below;
    high = low + Math.max(0.3, 0.85 * above);
    below = gapAt(high);
  }
  if (below > 0) return Number.NaN;
  for (let k = 0; k < 40 && high - low > 1e-5; k++) {
    const middle = k % 3 === 2 ? (low + high) / 2 : low + ((high - low) * above) / (above - below);
    const gap = gapAt(middle);
    if (Math.abs(gap) < 1e-6) return middle;
    if (gap > 0) {
      low = middle;
      above = gap;
    } else {
      high = middle;
      below = gap;
    }
  }
  return (low + high) / 2;
}

/** Earth-centred place on GRS 80, written out. */
function ecefOf(lat: number, lon: number, h: number): number[] {
  const a = 6378137;
  const f = 1 / 298.257222101;
  const e2 = f * (2 - f);
  const n = a / Math.sqrt(1 - e2 * Math.sin(lat) ** 2);
  return [
    (n + h) * Math.cos(lat) * Math.cos(lon),
    (n + h) * Math.cos(lat) * Math.sin(lon),
    (n * (1 - e2) + h) * Math.sin(lat),
  ];
}
