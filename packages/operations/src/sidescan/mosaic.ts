import { tick, type Watch } from '@longheron/core/shared';
import {
  angleDeg,
  flatSpread,
  GainTable,
  gridSpread,
  Mosaic,
  worthOf,
  type Overlap,
  type PingGround,
  type Spread,
} from '@longheron/core/sonar';
import { type HeightGrid } from '@longheron/core/surface';
import { type ScannedLine } from './lines';

/** Brightness of even bed in the file. */
const EVEN = 8000;
/** Every so many pings and samples teach the gains. */
const [LEARN_PINGS, LEARN_SAMPLES] = [5, 3];

export interface MosaicRequest {
  lines: readonly ScannedLine[];
  cellM: number;
  overlap: Overlap;
  bed?: HeightGrid;
}

/** Two arrays for one side of a ping. */
class Side {
  readonly across: Float64Array;
  readonly down: Float64Array;
  constructor(samples: number) {
    this.across = new Float64Array(samples);
    this.down = new Float64Array(samples);
  }
}

/** Puts all lines into cells: gains learnt first, then line after line, the later on top where the order rules. */
export function mosaicOf({ lines, cellM, overlap, bed }: MosaicRequest, watch?: Watch) {
  const spread: Spread = bed ? gridSpread(bed) : flatSpread;
  const gain = learn(lines, spread, watch);
  const mosaic = new Mosaic(boxOf(lines), cellM, overlap);
  lines.forEach((line, at) => {
    tick(watch, 0.3 + (0.6 * at) / lines.length, `Placing ${line.name}`);
    put(line, spread, gain, mosaic, cellM);
    mosaic.endLine();
  });
  const grid = mosaic.finish();
  const scale = EVEN / gain.evenBed;
  const values = new Uint16Array(grid.heightM.length);
  for (let i = 0; i < values.length; i++) {
    const v = grid.heightM[i];
    if (!Number.isNaN(v)) values[i] = Math.max(1, Math.min(65535, Math.round(v * scale)));
  }
  return { grid, values };
}

/** West, south, east, north of what the lines may reach. */
function boxOf(lines: readonly ScannedLine[]): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { ground, rows } of lines)
    for (const g of ground) {
      if (!g) continue;
      const far = g.rangeFirstM + rows.samples * g.rangeStepM;
      box[0] = Math.min(box[0], g.e - far);
      box[1] = Math.min(box[1], g.n - far);
      box[2] = Math.max(box[2], g.e + far);
      box[3] = Math.max(box[3], g.n + far);
    }
  return box;
}

function learn(lines: readonly ScannedLine[], spread: Spread, watch?: Watch): GainTable {
  const gain = new GainTable();
  lines.forEach(({ ground, rows }, at) => {
    tick(watch, (0.3 * at) / lines.length, 'Learning gains');
    const side = new Side(rows.samples);
    for (let i = 0; i < ground.length; i += LEARN_PINGS) {
      const g = ground[i];
      if (!g) continue;
      for (const [sign, of] of [
        [-1, rows.port],
        [1, rows.starboard],
      ] as const) {
        spread(g, sign, rows.samples, side.across, side.down);
        for (let k = 0; k < rows.samples; k += LEARN_SAMPLES) {
          const a = side.across[k];
          if (a !== a) continue;
          gain.add(angleDeg(a, side.down[k]), g.rangeFirstM + k * g.rangeStepM, of[i * rows.samples + k]);
        }
      }
    }
  });
  gain.settle();
  return gain;
}

function put({ ground, rows }: ScannedLine, spread: Spread, gain: GainTable, mosaic: Mosaic, cellM: number): void {
  const { samples } = rows;
  const [side, next] = [new Side(samples), new Side(samples)];
  const factor = new Float64Array(samples);
  const worth = new Float64Array(samples);
  for (const [sign, of] of [
    [-1, rows.port],
    [1, rows.starboard],
  ] as const) {
    let known = -1;
    for (let i = 0; i < ground.length; i++) {
      const g = ground[i];
      if (!g) continue;
      if (known !== i) spread(g, sign, samples, side.across, side.down);
      const h = ground[i + 1];
      if (h) spread(h, sign, samples, next.across, next.down);
      const far = g.rangeFirstM + samples * g.rangeStepM;
      for (let k = 0; k < samples; k++) {
        const range = g.rangeFirstM + (k + 0.5) * g.rangeStepM;
        const angle = angleDeg(side.across[k], side.down[k]);
        factor[k] = gain.factor(angle, range);
        worth[k] = worthOf(angle, range, far);
      }
      for (let k = 0; k < samples; k++) {
        const a = side.across[k];
        if (a !== a) continue;
        const amplitude = of[i * samples + k] * factor[k];
        const [e, n] = placeOf(g, sign, a, side.down[k]);
        mosaic.put(e, n, amplitude, worth[k]);
        // between this ping and the next the bed is as bright as here, then as there
        if (!h || next.across[k] !== next.across[k]) continue;
        const [e2, n2] = placeOf(h, sign, next.across[k], next.down[k]);
        const steps = Math.ceil(Math.hypot(e2 - e, n2 - n) / (0.7 * cellM));
        if (steps < 2 || steps > MOST_STEPS) continue;
        const other = of[(i + 1) * samples + k] * factor[k];
        for (let s = 1; s < steps; s++) {
          const u = s / steps;
          mosaic.put(e + u * (e2 - e), n + u * (n2 - n), u < 0.5 ? amplitude : other, worth[k]);
        }
      }
      if (h) {
        side.across.set(next.across);
        side.down.set(next.down);
        known = i + 1;
      }
    }
  }
}

/** Wider gaps between two pings stay open, in steps. */
const MOST_STEPS = 40;

function placeOf(g: PingGround, sign: number, across: number, down: number): [number, number] {
  const along = down * g.lean;
  return [g.e + sign * across * g.side[0] + along * g.ahead[0], g.n + sign * across * g.side[1] + along * g.ahead[1]];
}

/** How far pings lie apart along the lines, and samples across, metres: medians. */
export function spacings(lines: readonly ScannedLine[]): { pingM: number; sampleM: number } {
  const steps: number[] = [];
  let sampleM = Number.NaN;
  for (const { ground } of lines)
    for (let i = 1; i < ground.length; i++) {
      const [a, b] = [ground[i - 1], ground[i]];
      if (!a || !b) continue;
      steps.push(Math.hypot(b.e - a.e, b.n - a.n));
      sampleM = a.rangeStepM;
    }
  steps.sort((a, b) => a - b);
  return { pingM: steps[steps.length >> 1] ?? Number.NaN, sampleM };
}
