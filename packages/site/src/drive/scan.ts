import { DEG, ecefToNed, type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { multiply3, Random, transpose3, type Matrix3 } from '@longheron/core/numeric';
import { type LaserReturns } from '@longheron/core/laser';
import { Caster, Ray } from '../casting';
import { targetBrightness } from '../marks/targets';
import { attitude, nearby, sensorAxes, type Nearby } from '../platform';
import { KIND } from '../objects';
import { groundAt, ROAD_HALF_WIDTH_M, roadCentreX, SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { GPS_WEEK, NOISE, NOISE_FACTOR, type NoiseLevel } from './noise';
import { type TrueDrive } from './path';

export interface ScanPlan {
  profilesPerS: number;
  beamsPerTurn: number;
  maxRangeM: number;
  /** Azimuths that a profile sweeps, degrees; a whole turn when not given. */
  fromDeg?: number;
  toDeg?: number;
  /** Spread of the beam and largest number of echoes; those of the vehicle's scanner when not given. */
  beamRad?: number;
  mostEchoes?: number;
  /** Range up to which echoes are as bright as they can be; beyond it they fade. */
  brightToM?: number;
  /** Recording spans. */
  spans: Array<{ startSow: number; endSow: number }>;
  strays: boolean;
  /** Keep only returns for which this says so, by site coordinates. */
  keep?: (x: number, y: number) => boolean;
}

/** True returns: what a perfect scanner would have measured, with where and what each one hit. */
export interface TrueReturns {
  count: number;
  sow: Float64Array;
  rangeM: Float64Array;
  azimuthDeg: Float64Array;
  intensity: Uint16Array;
  returnNumber: Uint8Array;
  returnCount: Uint8Array;
  kind: Uint8Array;
  /** 0 for no stray, else the size of its group. */
  strayGroup: Uint8Array;
  /** Place of the echo in the project's system. */
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
}

const REFLECTANCE: Record<number, number> = {
  [KIND.meadow]: 0.35,
  [KIND.road]: 0.18,
  [KIND.kerb]: 0.4,
  [KIND.slab]: 0.3,
  [KIND.grass]: 0.5,
  [KIND.footway]: 0.32,
  [KIND.building]: 0.55,
  [KIND.pole]: 0.6,
  [KIND.wire]: 0.25,
  [KIND.vegetation]: 0.45,
  [KIND.heap]: 0.28,
  [KIND.bridge]: 0.4,
  [KIND.stray]: 0.05,
};

/** Part of beams that come back too weak to be recorded. */
const DROPOUT = 0.06;
const NODE_REACH_M = 50;
/** Beams between two looks at convergence and level. */
const LEVEL_EVERY = 50;

class Store {
  private readonly columns: TrueReturns;
  constructor(private capacity: number) {
    this.columns = {
      count: 0,
      sow: new Float64Array(capacity),
      rangeM: new Float64Array(capacity),
      azimuthDeg: new Float64Array(capacity),
      intensity: new Uint16Array(capacity),
      returnNumber: new Uint8Array(capacity),
      returnCount: new Uint8Array(capacity),
      kind: new Uint8Array(capacity),
      strayGroup: new Uint8Array(capacity),
      eastingM: new Float64Array(capacity),
      northingM: new Float64Array(capacity),
      heightM: new Float64Array(capacity),
    };
  }

  next(): number {
    if (this.columns.count === this.capacity) this.resize(this.capacity * 2);
    return this.columns.count++;
  }

  private resize(capacity: number): void {
    for (const [key, value] of Object.entries(this.columns)) {
      if (!ArrayBuffer.isView(value)) continue;
      const old = value as Float64Array;
      const grown = new (old.constructor as Float64ArrayConstructor)(capacity);
      grown.set(capacity < old.length ? old.subarray(0, capacity) : old);
      Object.assign(this.columns, { [key]: grown });
    }
    this.capacity = capacity;
  }

  get(): TrueReturns {
    return this.columns;
  }

  finish(): TrueReturns {
    this.resize(this.columns.count);
    return this.columns;
  }
}

/** Casts the beams of one head along the true drive. */
export function scanDrive(
  drive: TrueDrive,
  system: ReferenceSystem,
  mounting: SensorMounting,
  plan: ScanPlan,
  seed: number,
  progress?: (fraction: number) => void,
): TrueReturns {
  const caster = new Caster(plan.maxRangeM, plan.beamRad ?? NOISE.beamRad, plan.mostEchoes);
  const leavesRandom = new Random(seed, 'leaves');
  const random = new Random(seed, 'scan');
  const store = new Store(1 << 18);
  const ray = new Ray();
  const mount = sensorAxes(mounting);
  const [lx, ly, lz] = mounting.leverArmM;
  const { fromDeg = 0, toDeg = 360, brightToM = 14 } = plan;
  const sweepDeg = toDeg - fromDeg;
  const beamStep = 1 / (plan.profilesPerS * plan.beamsPerTurn);
  const geo = new Float64Array(3);
  let map: Nearby | undefined;
  let mapX = 0,
    mapY = 0,
    convergence = 0,
    fresh = true;
  let turn: Matrix3 = new Float64Array(9);
  let j11 = 0,
    j12 = 0,
    j21 = 0,
    j22 = 0;
  const pose = new PoseReader(drive);
  const strays = new StrayMaker(seed);
  const total = plan.spans.reduce((sum, s) => sum + s.endSow - s.startSow, 0);
  let done = 0;
  for (const span of plan.spans) {
    const beams = Math.floor((span.endSow - span.startSow) / beamStep);
    for (let k = 0; k < beams; k++) {
      const sow = span.startSow + k * beamStep;
      if ((k & 0xffff) === 0) progress?.((done + k * beamStep) / total);
      pose.read(sow);
      if (plan.keep && !plan.keep(pose.x, pose.y)) continue;
      if (!map || Math.hypot(pose.x - mapX, pose.y - mapY) > NODE_REACH_M) {
        system.unproject(pose.x + SITE_ORIGIN_E, pose.y + SITE_ORIGIN_N, pose.h, geo);
        map = nearby(system, geo[0], geo[1], geo[2]);
        mapX = pose.x;
        mapY = pose.y;
        fresh = true;
        const c = map.c;
        const det = c[1] * c[12] - c[2] * c[11];
        [j11, j12, j21, j22] = [c[12] / det, -c[2] / det, -c[11] / det, c[1] / det];
      }
      // the platform in the node's north, east, down: invert the plan part of the map, two steps suffice
      const c = map.c;
      let n = 0,
        e = 0,
        d = 0;
      for (let i = 0; i < 4; i++) {
        const rE = pose.x + SITE_ORIGIN_E - quad(c, 0, n, e, d);
        const rN = pose.y + SITE_ORIGIN_N - quad(c, 10, n, e, d);
        const rH = pose.h - quad(c, 20, n, e, d);
        n += j11 * rE + j12 * rN;
        e += j21 * rE + j22 * rN;
        d -= rH;
      }
      if (k % LEVEL_EVERY === 0 || fresh) {
        // level and convergence change by less than 1e-7 rad over a few centimetres of the drive
        system.unproject(pose.x + SITE_ORIGIN_E, pose.y + SITE_ORIGIN_N, pose.h, geo);
        convergence = system.convergenceAndScale(geo[0], geo[1]).convergenceRad;
        turn = multiply3(map.axes, transpose3(ecefToNed(geo[0], geo[1])));
        fresh = false;
      }
      const body = multiply3(turn, attitude(pose.roll, pose.pitch, pose.bearing + convergence));
      const azimuthDeg = fromDeg + ((k % plan.beamsPerTurn) * sweepDeg) / plan.beamsPerTurn;
      const az = azimuthDeg * DEG;
      const sx = Math.cos(az),
        sy = Math.sin(az);
      const bx = mount[0] * sx + mount[1] * sy,
        by = mount[3] * sx + mount[4] * sy,
        bz = mount[6] * sx + mount[7] * sy;
      const dn = body[0] * bx + body[1] * by + body[2] * bz;
      const de = body[3] * bx + body[4] * by + body[5] * bz;
      const dd = body[6] * bx + body[7] * by + body[8] * bz;
      ray.fromMap(
        c,
        n + body[0] * lx + body[1] * ly + body[2] * lz,
        e + body[3] * lx + body[4] * ly + body[5] * lz,
        d + body[6] * lx + body[7] * ly + body[8] * lz,
        dn,
        de,
        dd,
        SITE_ORIGIN_E,
        SITE_ORIGIN_N,
      );
      const echoes = caster.cast(ray, leavesRandom);
      const stray = plan.strays ? strays.offer(ray, echoes.count ? echoes.s[0] : -1) : 0;
      const dropped = random.uniform() < DROPOUT;
      if (stray > 0) {
        write(store, sow, azimuthDeg, ray, stray, KIND.stray, 1, 1, 40, strays.group);
        continue;
      }
      if (dropped) continue;
      for (let i = 0; i < echoes.count; i++) {
        const s = echoes.s[i];
        write(
          store,
          sow,
          azimuthDeg,
          ray,
          s,
          echoes.kind[i],
          i + 1,
          echoes.count,
          brightness(ray, s, echoes.kind[i], echoes.count, brightToM, random),
          0,
        );
      }
    }
    done += span.endSow - span.startSow;
  }
  return store.finish();
}

function quad(c: Float64Array, b: number, n: number, e: number, d: number): number {
  return (
    c[b] +
    n * (c[b + 1] + c[b + 4] * n + c[b + 7] * e + c[b + 8] * d) +
    e * (c[b + 2] + c[b + 5] * e + c[b + 9] * d) +
    d * (c[b + 3] + c[b + 6] * d)
  );
}

class PoseReader {
  x = 0;
  y = 0;
  h = 0;
  roll = 0;
  pitch = 0;
  bearing = 0;
  constructor(private readonly drive: TrueDrive) {}

  read(sow: number): void {
    const d = this.drive;
    const at = (sow - d.startSow) / d.stepS;
    const i = Math.min(d.x.length - 2, Math.max(0, Math.floor(at)));
    const u = at - i;
    const mix = (v: Float64Array) => v[i] + (v[i + 1] - v[i]) * u;
    this.x = mix(d.x);
    this.y = mix(d.y);
    this.h = mix(d.heightM);
    this.roll = mix(d.rollRad);
    this.pitch = mix(d.pitchRad);
    this.bearing = mix(d.bearingRad);
  }
}

function write(
  store: Store,
  sow: number,
  azimuthDeg: number,
  ray: Ray,
  s: number,
  kind: number,
  number: number,
  count: number,
  intensity: number,
  group: number,
): void {
  const i = store.next();
  const c = store.get();
  c.sow[i] = sow;
  c.azimuthDeg[i] = azimuthDeg;
  c.rangeM[i] = s;
  c.kind[i] = kind;
  c.returnNumber[i] = number;
  c.returnCount[i] = count;
  c.intensity[i] = intensity;
  c.strayGroup[i] = group;
  c.eastingM[i] = ray.x(s) + SITE_ORIGIN_E;
  c.northingM[i] = ray.y(s) + SITE_ORIGIN_N;
  c.heightM[i] = ray.z(s);
}

function brightness(ray: Ray, s: number, kind: number, count: number, brightToM: number, random: Random): number {
  const x = ray.x(s),
    y = ray.y(s);
  let reflectance = REFLECTANCE[kind] ?? 0.3;
  if (kind === KIND.road) {
    const u = Math.abs(x - roadCentreX(y));
    const centreDash = u < 0.06 && y % 12 < 6;
    const edge = Math.abs(u - ROAD_HALF_WIDTH_M + 0.25) < 0.06;
    if (centreDash || edge) reflectance = 0.85;
  }
  if (kind <= KIND.footway) reflectance = targetBrightness(x, y) ?? reflectance;
  const signal = (reflectance / count) * Math.min(1, brightToM / Math.max(4, s));
  return Math.max(1, Math.min(65535, Math.round(40000 * signal * (1 + 0.06 * random.normal()))));
}

/** A stray along the beam is at least this far above the ground. */
const STRAY_ABOVE_GROUND_M = 1;

/** 0.15 % 5–60 m above, 0.10 % 1–15 m below, 0.05 % along the beam before the surface; one in ten in groups. */
class StrayMaker {
  private readonly random: Random;
  private left = 0;
  private held = 0;
  /** Size of the group of the stray just offered. */
  group = 1;
  constructor(seed: number) {
    this.random = new Random(seed, 'strays');
  }

  /** Range of a stray on this beam, 0 for none. @param first range of the beam's first echo, −1 for none. */
  offer(ray: Ray, first: number): number {
    const r = this.random;
    if (this.left > 0) {
      this.left--;
      return this.held + r.between(-0.05, 0.05);
    }
    const draw = r.uniform();
    let s = 0;
    if (first < 0) {
      // about as many sky beams as answered ones: the rate above holds for the sum of both
      if (draw < 0.0015 && ray.z1 > 0.2) {
        const rise = r.between(5, 60);
        s = rise / ray.z1;
        const x = ray.x(s),
          y = ray.y(s);
        if (s > 90 || x < 1 || y < 1 || x > 419 || y > 639 || ray.z(s) - groundAt(x, y) < 5) s = 0;
      }
    } else if (draw < 0.001 && ray.z1 < -0.25) {
      s = first + r.between(1, 15) / -ray.z1;
      if (s > 90) s = 0;
    } else if (draw < 0.0018 && first > 4) {
      // alike in every part of the space that the beam sweeps
      s = 1.5 + (first - 3) * Math.cbrt(r.uniform());
      const x = ray.x(s),
        y = ray.y(s);
      // nearer to the ground it could not be told from grass
      if (ray.z(s) - groundAt(x, y) < STRAY_ABOVE_GROUND_M) s = 0;
    }
    if (s > 0) {
      this.group = 1;
      if (r.uniform() < 0.04) {
        this.group = 2 + Math.floor(r.uniform() * 3);
        this.left = this.group - 1;
        this.held = s;
      }
    }
    return s;
  }
}

/** What the instrument records of true returns: noise on range and angles; the same geometry for every seed. */
export function recordReturns(
  truth: TrueReturns,
  seed: number,
  level: NoiseLevel = 'medium',
  { rangeM, angleDeg }: { rangeM: number; angleDeg: number } = NOISE,
): LaserReturns {
  const factor = NOISE_FACTOR[level];
  const random = new Random(seed, 'laser');
  const n = truth.count;
  const out: LaserReturns = {
    week: GPS_WEEK,
    sow: truth.sow,
    rangeM: new Float32Array(n),
    azimuthDeg: new Float32Array(n),
    elevationDeg: new Float32Array(n),
    intensity: truth.intensity,
    returnNumber: truth.returnNumber,
    returnCount: truth.returnCount,
  };
  for (let i = 0; i < n; i++) {
    out.rangeM[i] = truth.rangeM[i] + factor * rangeM * random.normal();
    out.azimuthDeg[i] = truth.azimuthDeg[i] + factor * angleDeg * random.normal();
    out.elevationDeg[i] = factor * angleDeg * random.normal();
  }
  return out;
}
