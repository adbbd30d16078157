import { bandColumns, systemOf, type BandColumns, type Observations } from './observations';
import { BAND_ORDER, type System } from './signals';

/** How good a recording is by itself: no orbit and no other receiver is needed. */
export interface ObservationQuality {
  /** Rows with code and phase on both bands, and all rows of GPS and Galileo. */
  complete: number;
  rows: number;
  /** Phases that lost count while the satellite stayed in view. */
  slips: number;
  /** Noise and multipath of the codes by system, RMS of both bands, metres; undefined with one band. */
  multipathM: Partial<Record<System, [number, number]>>;
  /** Mean signal strength of the first band, dB-Hz; NaN when not recorded. */
  strengthDbHz: number;
  /** Satellites with both bands at a time: fewest over a minute's worth of epochs, and mean. */
  fewest: number;
  mean: number;
}

/** The difference of both phases may change by this between epochs, metres. */
const MAX_CHANGE_M = 0.05;
/** A jump is what exceeds this many of a satellite's own usual changes, which follow it over some twenty epochs. */
const JUMP = 6;
const FOLLOW = 0.05;
const USUAL_STEP2 = 0.015 ** 2;
/** A longer pause begins a new arc, in epochs and seconds. */
const PAUSE_STEPS = 1.6;
/** Shorter arcs say nothing of multipath, observations. */
const SHORTEST_ARC = 30;

interface Arc {
  sow: number;
  difference: number;
  /** Running sums of both combinations: count, sum, sum of squares. */
  n: number;
  /** First value of both combinations, which the others are counted from. */
  zero: [number, number];
  /** How much the difference of both phases changes between epochs, mean square, metres²: low satellites are noisy. */
  step2: number;
  sum: [number, number];
  square: [number, number];
}

/**
 * Slips and multipath from the observations alone. The code less a combination of both phases that has the same
 * ionosphere leaves noise and multipath, and a constant for each arc, which falls out.
 */
export function observationQuality(obs: Observations): ObservationQuality {
  const pairs = new Map<System, [BandColumns, BandColumns] | undefined>();
  for (const s of ['G', 'E'] as const) {
    const found = (BAND_ORDER[s] ?? [])
      .map((b) => bandColumns(obs.types[s] ?? [], s, b))
      .filter((b) => b !== undefined);
    pairs.set(s, found.length > 1 ? [found[0], found[1]] : undefined);
  }
  const step = nominal(obs);
  const arcs = new Map<string, Arc>();
  const totals: Partial<Record<System, { n: number; square: [number, number] }>> = {};
  const out = { complete: 0, rows: 0, slips: 0 };
  let strength = 0;
  let strengths = 0;
  const perEpoch = new Uint16Array(obs.sow.length);
  const close = (satellite: string) => {
    const a = arcs.get(satellite);
    if (!a || a.n < SHORTEST_ARC) return;
    const total = (totals[systemOf(satellite)] ??= { n: 0, square: [0, 0] });
    total.n += a.n - 1;
    for (const k of [0, 1]) total.square[k] += a.square[k] - a.sum[k] ** 2 / a.n;
  };
  for (let epoch = 0; epoch < obs.sow.length; epoch++)
    for (let row = obs.start[epoch]; row < obs.start[epoch + 1]; row++) {
      const satellite = obs.satellites[obs.satellite[row]];
      const system = systemOf(satellite);
      const pair = pairs.get(system);
      if (!pairs.has(system)) continue;
      out.rows++;
      if (!pair) continue;
      const at = row * obs.width;
      const [p1, p2] = pair.map((b) => obs.values[at + b.code]);
      const [l1, l2] = pair.map((b) => obs.values[at + b.phase] * b.wavelengthM);
      if (![p1, p2, l1, l2].every(Number.isFinite)) continue;
      out.complete++;
      perEpoch[epoch]++;
      const s = pair[0].strength < 0 ? Number.NaN : obs.values[at + pair[0].strength];
      if (Number.isFinite(s)) {
        strength += s;
        strengths++;
      }
      const before = arcs.get(satellite);
      const pause = !before || obs.sow[epoch] - before.sow > Math.max(PAUSE_STEPS * step, PAUSE_STEPS);
      const flagged = pair.some((b) => (obs.lost[at + b.phase] & 1) === 1);
      const change = before ? l1 - l2 - before.difference : 0;
      const jump = before !== undefined && Math.abs(change) > Math.max(MAX_CHANGE_M, JUMP * Math.sqrt(before.step2));
      if (before && !pause && !flagged && !jump) before.step2 += FOLLOW * (change * change - before.step2);
      if (!pause && (flagged || jump)) out.slips++;
      let arc = before;
      if (pause || flagged || jump) {
        close(satellite);
        arcs.set(
          satellite,
          (arc = {
            sow: 0,
            difference: 0,
            n: 0,
            zero: [0, 0],
            step2: before?.step2 ?? USUAL_STEP2,
            sum: [0, 0],
            square: [0, 0],
          }),
        );
      }
      const alpha = (pair[0].frequencyHz / pair[1].frequencyHz) ** 2;
      const g = 2 / (alpha - 1);
      // large constants cost digits: counted from the first value of the arc
      const m: [number, number] = [p1 - (1 + g) * l1 + g * l2, p2 - g * alpha * l1 + (g * alpha - 1) * l2];
      if (arc!.n++ === 0) arc!.zero = m;
      for (const k of [0, 1]) {
        const v = m[k] - arc!.zero[k];
        arc!.sum[k] += v;
        arc!.square[k] += v * v;
      }
      arc!.sow = obs.sow[epoch];
      arc!.difference = l1 - l2;
    }
  for (const satellite of arcs.keys()) close(satellite);
  const multipathM: ObservationQuality['multipathM'] = {};
  for (const [s, t] of Object.entries(totals) as Array<[System, { n: number; square: [number, number] }]>)
    multipathM[s] = [Math.sqrt(t.square[0] / t.n), Math.sqrt(t.square[1] / t.n)];
  return {
    ...out,
    multipathM,
    strengthDbHz: strengths ? strength / strengths : Number.NaN,
    fewest: minOver(perEpoch, Math.max(1, Math.round(60 / step))),
    mean: perEpoch.reduce((a, b) => a + b, 0) / Math.max(1, perEpoch.length),
  };
}

function nominal(obs: Observations): number {
  const steps = Array.from(obs.sow.subarray(1, 200), (t, k) => t - obs.sow[k]).sort((a, b) => a - b);
  return steps[steps.length >> 1] || 1;
}

/** The fewest that a run of epochs has on the mean: a single hole is no weak minute. */
function minOver(counts: Uint16Array, run: number): number {
  let sum = 0;
  let least = Infinity;
  for (let i = 0; i < counts.length; i++) {
    sum += counts[i] - (i >= run ? counts[i - run] : 0);
    if (i >= run - 1) least = Math.min(least, sum / run);
  }
  return Number.isFinite(least) ? least : sum / Math.max(1, counts.length);
}
