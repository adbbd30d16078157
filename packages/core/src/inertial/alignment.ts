import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { anglesFromRotation, rotationFromAngles } from '../frames/attitude';
import { multiply3, transpose3, type Matrix3 } from '../numeric/matrix3';
import { symmetricEigen } from '../numeric/eigen';
import { median } from '../numeric/statistics';
import { Problem } from '../shared/problem';
import { EARTH_RATE_RADPS, gravityEcef } from './gravity';
import { type InertialData } from './inertialData';
import { type AidingPosition, type InertialSettings } from './settings';

/** Attitude with which the filter starts. */
export interface Alignment {
  /** Body to Earth at the first used sample. */
  c: Matrix3;
  headingSdRad: number;
  levelSdRad: number;
  /** How the heading was found. */
  by: 'given' | 'motion' | 'earth';
  /** Seconds of data it took. */
  seconds: number;
}

/** Changes of velocity are matched over spans of about this length, seconds. */
const SPAN_S = 1;
/** Sum of horizontal changes of velocity that suffices, m/s, and how long to look for it at most. */
const ENOUGH_MPS = 40;
const MAX_S = 600;
/** Less where a bias of the gyros would turn them by more than this meanwhile, degrees; but so long at least, seconds. */
const MAX_TURN_DEG = 3;
const MIN_S = 60;
/** Rounds that carry positions from the antenna to the unit with the attitude of the round before. */
const ROUNDS = 3;
/** What a span has besides the noise of its positions, m/s. */
const SPAN_NOISE_MPS = 0.02;
/** Share of a position's variance that is new from epoch to epoch. */
const FRESH_SHARE = 0.3;
/** Spans off by so many of their usual misfits count less, in so many rounds. */
const GROSS = 3;
const REWEIGHTINGS = 3;
/** Fixed positions that are enough to leave the others aside. */
const ENOUGH_FIXED = 30;
const DEG = Math.PI / 180;

interface Span {
  /** Change of velocity less gravity, Earth axes as they were at the start, m/s. */
  earth: [number, number, number];
  /** The same felt by the unit, body axes as they were at the start. */
  body: [number, number, number];
  horizontal: number;
  /** Noise that the positions bring into it, m/s, 1 SD; and how much it counts. */
  noiseMps: number;
  weight: number;
}

/**
 * Attitude at the first sample by matching changes of velocity that the antenna saw with those that the unit felt
 * (Wahba's problem, solved by Davenport's q-method): at rest they give the level and, from the Earth's turn, a rough
 * heading; in motion all three angles, whatever the platform and whichever way it drives.
 * @param first sample that the filter starts after.
 */
export function align(
  data: InertialData,
  first: number,
  aiding: AidingPosition[],
  settings: InertialSettings,
): Alignment {
  const tracks = followGyros(data, first, aiding, longestFollowed(settings));
  let c: Matrix3 | undefined;
  let spans: Span[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    spans = matchSpans(data, first, aiding, tracks, c, settings.leverArmM);
    if (spans.length < 3)
      throw new Problem('The inertial unit cannot be aligned: there are hardly any positions of the antenna.', {
        code: 'inertial-alignment',
        remedy: 'Choose a span in which positions are fixed for at least half a minute.',
      });
    for (const s of spans) s.weight = 1 / (SPAN_NOISE_MPS ** 2 + s.noiseMps ** 2);
    c = wahba(spans);
    for (let again = 0; again < REWEIGHTINGS; again++) {
      leaveGross(c, spans);
      c = wahba(spans);
    }
  }
  return judge(c!, spans, aiding, settings);
}

/** Rotation from the body to the body as it was at the start, every 0.1 s, and the specific force in it summed up. */
interface Tracks {
  sow: number[];
  rotation: Matrix3[];
  velocity: Array<[number, number, number]>;
}

/** How long gyros can be followed before their bias turns them too far, seconds. */
const longestFollowed = ({ noise }: InertialSettings) =>
  Math.min(MAX_S, Math.max(MIN_S, (3600 * MAX_TURN_DEG) / noise.gyroBiasDegPerHour));

function followGyros(data: InertialData, first: number, aiding: AidingPosition[], maxS: number): Tracks {
  const out: Tracks = { sow: [data.sow[first]], rotation: [identity()], velocity: [[0, 0, 0]] };
  const every = Math.max(1, Math.round(data.rateHz / 10));
  const last = Math.min(aiding[aiding.length - 1].sow, data.sow[first] + maxS);
  const b = identity();
  const next = new Float64Array(9);
  const v: [number, number, number] = [0, 0, 0];
  for (let i = first + 1; i < data.sow.length && data.sow[i] <= last; i++) {
    const dt = data.sow[i] - data.sow[i - 1];
    const g = 3 * i;
    const f = data.accelMps2;
    turnInto(next, b, data.gyroRadps[g] * dt, data.gyroRadps[g + 1] * dt, data.gyroRadps[g + 2] * dt);
    for (let r = 0; r < 3; r++)
      for (let k = 0; k < 3; k++) v[r] += ((b[3 * r + k] + next[3 * r + k]) / 2) * f[g + k] * dt;
    b.set(next);
    if ((i - first) % every === 0) {
      out.sow.push(data.sow[i]);
      out.rotation.push(b.slice());
      out.velocity.push([...v]);
    }
  }
  return out;
}

function matchSpans(
  data: InertialData,
  first: number,
  aiding: AidingPosition[],
  tracks: Tracks,
  c: Matrix3 | undefined,
  lever: ArrayLike<number>,
): Span[] {
  const start = data.sow[first];
  const g = new Float64Array(3);
  // places of the unit as far as they are known, in Earth axes
  const fixed = aiding.filter(
    (a) => a.sow >= start && a.sow <= tracks.sow[tracks.sow.length - 1] && a.solution === 'fixed',
  );
  const fixedAlone = fixed.length >= ENOUGH_FIXED && fixed[fixed.length - 1].sow - fixed[0].sow > ENOUGH_FIXED;
  const places: Array<{ sow: number; at: [number, number, number]; variance: number; kind: string }> = [];
  let k = 0;
  for (const a of aiding) {
    if (a.sow < start || a.solution === 'code' || (fixedAlone && a.solution !== 'fixed')) continue;
    if (a.sow > tracks.sow[tracks.sow.length - 1]) break;
    while (k + 1 < tracks.sow.length && tracks.sow[k + 1] <= a.sow) k++;
    const at: [number, number, number] = [a.xyzM[0], a.xyzM[1], a.xyzM[2]];
    if (c) {
      const arm = turned(multiply3(c, tracks.rotation[k]), lever);
      const back = aboutPole(-(a.sow - start), arm);
      for (let i = 0; i < 3; i++) at[i] -= back[i];
    }
    const variance = (FRESH_SHARE * (a.covariance[0] + a.covariance[4] + a.covariance[8])) / 3;
    places.push({ sow: a.sow, at, variance, kind: a.solution });
  }
  // velocities over one span, and their changes from one to the next
  const velocities: Array<{
    sow: number;
    v: [number, number, number];
    at: [number, number, number];
    variance: number;
  }> = [];
  let from = 0;
  for (let to = 1; to < places.length; to++) {
    const dt = places[to].sow - places[from].sow;
    if (dt < SPAN_S - 0.01) continue;
    const [p, q] = [places[from], places[to]];
    if (dt < 1.5 * SPAN_S && p.kind === q.kind)
      velocities.push({
        sow: (p.sow + q.sow) / 2,
        v: [0, 1, 2].map((i) => (q.at[i] - p.at[i]) / dt) as [number, number, number],
        at: [0, 1, 2].map((i) => (q.at[i] + p.at[i]) / 2) as [number, number, number],
        variance: (p.variance + q.variance) / dt ** 2,
      });
    from = to;
  }
  const out: Span[] = [];
  let total = 0;
  for (let j = 1; j < velocities.length && total < ENOUGH_MPS; j++) {
    const [p, q] = [velocities[j - 1], velocities[j]];
    const dt = q.sow - p.sow;
    if (dt > 1.5 * SPAN_S) continue;
    gravityEcef((p.at[0] + q.at[0]) / 2, (p.at[1] + q.at[1]) / 2, (p.at[2] + q.at[2]) / 2, g);
    const w = 2 * EARTH_RATE_RADPS;
    const u: [number, number, number] = [
      q.v[0] - p.v[0] - (g[0] + (w * (p.v[1] + q.v[1])) / 2) * dt,
      q.v[1] - p.v[1] - (g[1] - (w * (p.v[0] + q.v[0])) / 2) * dt,
      q.v[2] - p.v[2] - g[2] * dt,
    ];
    const d = [q.v[0] - p.v[0], q.v[1] - p.v[1], q.v[2] - p.v[2]];
    const size = Math.hypot(g[0], g[1], g[2]);
    const up = (d[0] * g[0] + d[1] * g[1] + d[2] * g[2]) / size;
    const horizontal = Math.sqrt(Math.max(0, d[0] ** 2 + d[1] ** 2 + d[2] ** 2 - up * up));
    const noiseMps = Math.sqrt(p.variance + q.variance);
    // what noise alone would make of a change says nothing of the heading
    total += Math.max(0, horizontal - 2 * noiseMps);
    const a = felt(tracks, p.sow);
    const b = felt(tracks, q.sow);
    out.push({
      earth: aboutPole((p.sow + q.sow) / 2 - start, u),
      body: [b[0] - a[0], b[1] - a[1], b[2] - a[2]],
      horizontal: Math.max(0, horizontal - 2 * noiseMps),
      noiseMps,
      weight: 1,
    });
  }
  return out;
}

/** Specific force summed up to a time, straight between its epochs. A velocity over a span stands for its middle. */
function felt(tracks: Tracks, sow: number): [number, number, number] {
  const mean: [number, number, number] = [0, 0, 0];
  // the antenna's velocity is the mean over a span; so is this
  const points = 10;
  for (let k = 0; k < points; k++) {
    const t = sow + ((k + 0.5) / points - 0.5) * SPAN_S;
    const n = tracks.sow.length;
    const step = (tracks.sow[n - 1] - tracks.sow[0]) / (n - 1);
    let i = Math.max(0, Math.min(n - 2, Math.floor((t - tracks.sow[0]) / step)));
    while (i > 0 && tracks.sow[i] > t) i--;
    while (i < n - 2 && tracks.sow[i + 1] < t) i++;
    const u = (t - tracks.sow[i]) / (tracks.sow[i + 1] - tracks.sow[i]);
    for (let a = 0; a < 3; a++)
      mean[a] += (tracks.velocity[i][a] + u * (tracks.velocity[i + 1][a] - tracks.velocity[i][a])) / points;
  }
  return mean;
}

/** Rotation that carries the body vectors onto those of the Earth with the least squares (Davenport 1968). */
function wahba(spans: Span[]): Matrix3 {
  const b = new Float64Array(9);
  for (const s of spans)
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) b[3 * i + j] += s.weight * s.earth[i] * s.body[j];
  const trace = b[0] + b[4] + b[8];
  const z = [b[7] - b[5], b[2] - b[6], b[3] - b[1]];
  const k = new Float64Array(16);
  k[0] = trace;
  for (let i = 0; i < 3; i++) {
    k[1 + i] = k[4 * (1 + i)] = z[i];
    for (let j = 0; j < 3; j++) k[4 * (1 + i) + 1 + j] = b[3 * i + j] + b[3 * j + i] - (i === j ? trace : 0);
  }
  const [w, x, y, q] = symmetricEigen(k, 4).vectors[0];
  const rows = [
    [1 - 2 * (y * y + q * q), 2 * (x * y - w * q), 2 * (x * q + w * y)],
    [2 * (x * y + w * q), 1 - 2 * (x * x + q * q), 2 * (y * q - w * x)],
    [2 * (x * q - w * y), 2 * (y * q + w * x), 1 - 2 * (x * x + y * y)],
  ];
  return Float64Array.from(rows.flat());
}

/** How far a span is off with an attitude, m/s. */
function misfit(c: Matrix3, s: Span): number {
  const [x, y, z] = turned(c, s.body);
  return Math.hypot(x - s.earth[0], y - s.earth[1], z - s.earth[2]);
}

/** Lets spans count less the further they are off: a position that jumps is no acceleration. */
function leaveGross(c: Matrix3, spans: Span[]): void {
  const size = spans.map((s) => misfit(c, s) / Math.hypot(SPAN_NOISE_MPS, s.noiseMps));
  const usual = Math.max(1, median(size));
  spans.forEach((s, k) => {
    const base = 1 / (SPAN_NOISE_MPS ** 2 + s.noiseMps ** 2);
    s.weight = base * Math.min(1, (GROSS * usual) / size[k]) ** 2;
  });
}

function judge(c: Matrix3, spans: Span[], aiding: AidingPosition[], settings: InertialSettings): Alignment {
  let sum = 0;
  let lever = 0;
  const full = spans.reduce((most, s) => Math.max(most, s.weight), 0);
  let count = 0;
  for (const s of spans) {
    const share = s.weight / full;
    sum += share * misfit(c, s) ** 2;
    lever += share * s.horizontal ** 2;
    count += share;
  }
  const residual = Math.sqrt(sum / (3 * count));
  const [lat, lon] = ecefToGeodetic(GRS80, aiding[0].xyzM[0], aiding[0].xyzM[1], aiding[0].xyzM[2]);
  const seconds = spans.length * SPAN_S;
  const { gyroBiasDegPerHour, gyroWalkDegPerRootHour } = settings.noise;
  const level = EARTH_RATE_RADPS * Math.cos(lat);
  const drift = Math.hypot(gyroBiasDegPerHour / 3600, gyroWalkDegPerRootHour / 60 / Math.sqrt(seconds)) * DEG;
  const byEarth = drift / level;
  // the level leans on the mean of all spans, the heading on how much the horizontal velocity changed
  const byMotion = lever > 0 ? (2 * residual) / Math.sqrt(lever) : Infinity;
  // the attitude is found for the middle of the spans; from there gyros lead back to the start
  const back = ((gyroBiasDegPerHour * DEG) / 3600) * (seconds / 2);
  const levelSdRad = Math.hypot(0.1 * DEG, residual / (9.8 * SPAN_S * Math.sqrt(spans.length)), back);
  if (settings.headingRad !== undefined) {
    const axes = ecefToNed(lat, lon);
    const { rollRad, pitchRad } = anglesFromRotation(multiply3(axes, c));
    const given = rotationFromAngles(rollRad, pitchRad, settings.headingRad);
    return { c: multiply3(transpose3(axes), given), headingSdRad: 2 * DEG, levelSdRad, by: 'given', seconds };
  }
  const headingSdRad = Math.max(0.3 * DEG, Math.hypot(back, 1 / Math.hypot(1 / byMotion, 1 / byEarth)));
  if (headingSdRad > 20 * DEG)
    throw new Problem('The heading cannot be found: the platform hardly changes its velocity in this span.', {
      code: 'inertial-heading',
      remedy: 'Choose a span with turns or starts and stops, or give the heading at the start.',
    });
  return { c, headingSdRad, levelSdRad, by: byMotion < byEarth ? 'motion' : 'earth', seconds };
}

const identity = (): Matrix3 => Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);

/** out = b turned by a small angle about its own axes, to the second order. */
function turnInto(out: Float64Array, b: Float64Array, x: number, y: number, z: number): void {
  const [xx, yy, zz] = [(x * x) / 2, (y * y) / 2, (z * z) / 2];
  const [xy, xz, yz] = [(x * y) / 2, (x * z) / 2, (y * z) / 2];
  for (let r = 0; r < 9; r += 3) {
    const [p, q, s] = [b[r], b[r + 1], b[r + 2]];
    out[r] = p * (1 - yy - zz) + q * (z + xy) + s * (xz - y);
    out[r + 1] = p * (xy - z) + q * (1 - xx - zz) + s * (x + yz);
    out[r + 2] = p * (y + xz) + q * (yz - x) + s * (1 - xx - yy);
  }
}

function turned(m: Matrix3, v: ArrayLike<number>): [number, number, number] {
  return [
    m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
    m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
    m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
  ];
}

/** A vector of Earth axes in those axes as they were `seconds` before. */
function aboutPole(seconds: number, v: ArrayLike<number>): [number, number, number] {
  const a = EARTH_RATE_RADPS * seconds;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  return [c * v[0] - s * v[1], s * v[0] + c * v[1], v[2]];
}
