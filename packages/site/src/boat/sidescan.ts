import { type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { type TrueDrive } from '../drive';
import { BED, bedAt, lastBed } from './bed';
import { LATENCY_S, TrueBoat } from './head';
import { trueSpeed, waterLevelM, type Tide } from './water';

/** The two pairs of side-scan channels. */
export const CHANNELS = [
  { name: 'low', frequencyHz: 100_000, samples: 1000, sampleS: 8e-5, noise: 0.25, weak: 1 },
  { name: 'high', frequencyHz: 400_000, samples: 1600, sampleS: 4e-5, noise: 0.32, weak: 1.6 },
] as const;
export type Channel = (typeof CHANNELS)[number];

const PINGS_PER_S = 10;
/** Strength by what lies there, amplitude. */
const STRENGTH: { [kind: number]: number } = {
  [BED.sand]: 1,
  [BED.stone]: 2.6,
  [BED.pipe]: 4,
  [BED.pier]: 4.5,
  [BED.frame]: 6,
  [BED.anchor]: 6,
  [BED.tyre]: 2.8,
  [BED.land]: 0.4,
};
/** Steps across in which the bed is lit, metres, and as far out. */
const STEP_M = 0.04;
/** Amplitude that even sand gives under 45° at ten metres. */
const LEVEL = 3200;
const WATER_NOISE = 45;

/** A side-scan recording with the true slant range of the first return from the bed of each ping, port and starboard. */
export interface TrueSidescan {
  channel: Channel;
  sow: Float64Array;
  port: Uint16Array;
  starboard: Uint16Array;
  /** Seconds there and back to the first return from the bed, the nearer of both sides. */
  bottomS: Float64Array;
}

/** Fish: shoals under the boat for a while, above the bed; times as shares of the line. */
const SHOALS = [
  { from: 0.31, to: 0.34, depth: 0.55, thickM: 0.7, strength: 0.9 },
  { from: 0.72, to: 0.735, depth: 0.7, thickM: 0.5, strength: 1.4 },
];

/** Records a line with one pair of channels. @param factor of the noise; 0: none, and no fish. */
export function scanLine(
  drive: TrueDrive,
  system: ReferenceSystem,
  span: { startSow: number; endSow: number },
  tide: Tide,
  channel: Channel,
  seed: number,
  factor: number,
  progress?: (f: number) => void,
): TrueSidescan {
  const random = new Random(seed, `side-scan ${channel.name} ${span.startSow}`);
  const boat = new TrueBoat(drive, system);
  const { samples, sampleS } = channel;
  const n = Math.floor((span.endSow - span.startSow) * PINGS_PER_S);
  const out: TrueSidescan = {
    channel,
    sow: new Float64Array(n),
    port: new Uint16Array(n * samples),
    starboard: new Uint16Array(n * samples),
    bottomS: new Float64Array(n).fill(Number.NaN),
  };
  const energy = new Float64Array(samples);
  const hits = new Float64Array(samples);
  for (let i = 0; i < n; i++) {
    if (i % 20 === 0) progress?.(i / n);
    const t = span.startSow + (i + 0.3) / PINGS_PER_S;
    const since = t - drive.startSow;
    const at = boat.place(t);
    const body = boat.body(t);
    const arm = boat.arm(body);
    const head = boat.head(body);
    // the fan stands across the head's x axis; directions in site coordinates
    const { near } = boat.surroundings(t);
    const grid = (north: number, east: number): [number, number] => [
      near.c[1] * north + near.c[2] * east,
      near.c[11] * north + near.c[12] * east,
    ];
    const [hx, hy] = grid(arm[0], arm[1]);
    // the fan stands square to the head, which leans: what lies deeper lies further ahead when the bow is up
    const [fx, fy] = grid(head[0], head[3]);
    const long = Math.hypot(fx, fy);
    const [sx, sy] = [fy, -fx];
    const ahead = -head[6] / Math.hypot(head[0], head[3]) / long;
    const from = [at[0] + hx, at[1] + hy, at[2] - arm[2]];
    const depth = waterLevelM(since) - from[2];
    const speed = meanSpeed(depth, since, tide);
    out.sow[i] = t + LATENCY_S;
    let first = Infinity;
    for (const side of [-1, 1]) {
      energy.fill(0);
      hits.fill(0);
      let steepest = -Infinity;
      let before = bedAt(from[0], from[1]);
      let deep = from[2] - before;
      const most = (samples * sampleS * 1500) / 2;
      for (let a = STEP_M / 2; a < most; a += STEP_M) {
        const x = from[0] + (side * a * sx) / long + deep * ahead * fx;
        const y = from[1] + (side * a * sy) / long + deep * ahead * fy;
        const h = bedAt(x, y);
        const kind = lastBed;
        const down = from[2] - h;
        deep = down;
        const range = Math.hypot(a, down);
        const slope = (h - before) / STEP_M;
        before = h;
        if (down <= 0.1) break;
        const up = -down / a;
        if (up <= steepest) continue;
        steepest = up;
        const time = (2 * range) / speed;
        const k = Math.floor(time / sampleS);
        if (k >= samples) break;
        if (time < first) first = time;
        // how squarely sound falls on: sine of the grazing angle on the slope that faces the head
        const graze = Math.max(0, (down + slope * a) / range / Math.sqrt(1 + slope * slope));
        const spread = 10 / range;
        energy[k] += STRENGTH[kind] * (0.08 + graze ** 1.5) * spread ** 0.6 * Math.exp(-channel.weak * 0.012 * range);
        hits[k]++;
      }
      const target = side < 0 ? out.port : out.starboard;
      const line = (t - span.startSow) / (span.endSow - span.startSow);
      for (let k = 0; k < samples; k++) {
        const time = (k + 0.5) * sampleS;
        let a = hits[k] ? (LEVEL * energy[k]) / hits[k] : 0;
        // close to straight below many steps fall into one sample, further out there is less than one
        if (!hits[k] && k > 0 && hits[k - 1] && time > first) a = target[i * samples + k - 1];
        if (factor > 0) {
          for (const s of SHOALS)
            if (line > s.from && line < s.to && Number.isFinite(first)) {
              const off = (time - s.depth * first) / ((2 * s.thickM) / speed);
              if (Math.abs(off) < 1 && random.uniform() < 0.7) a += LEVEL * s.strength * random.uniform();
            }
          // speckle: sound from many places at once adds up at random
          const speckle = Math.sqrt(-2 * Math.log(1 - random.uniform())) / 1.2533;
          a *= 1 + channel.noise * factor * (speckle - 1) * 2;
          a += WATER_NOISE * factor * Math.sqrt(-2 * Math.log(1 - random.uniform()));
          // the pulse itself, as it leaves
          if (time < 0.0004) a += 20_000 * (1 - time / 0.0004);
        }
        target[i * samples + k] = Math.max(0, Math.min(65535, Math.round(a)));
      }
    }
    out.bottomS[i] = first;
  }
  return out;
}

/** Speed of sound from the head to six metres below it: as long as the times through its slices ask for. */
function meanSpeed(depthM: number, since: number, tide: Tide): number {
  let slowness = 0;
  const slices = 60;
  for (let k = 0; k < slices; k++) slowness += 1 / trueSpeed(depthM + (6 * (k + 0.5)) / slices, since, tide);
  return slices / slowness;
}
