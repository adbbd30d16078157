import { type SkyRecord, type SlipSign } from '@longheron/core/gnss';
import { type Trajectory } from '@longheron/core/trajectory';

/** What a screen needs to show the sky of a computation; times are GPS seconds. */
export interface SkyView {
  satellites: string[];
  time: number[];
  /** By satellite, then sample: degrees, null where not seen. */
  elevation: Array<Array<number | null>>;
  azimuth: Array<Array<number | null>>;
  /** Phase residual, the larger of both bands, millimetres. */
  residualMm: Array<Array<number | null>>;
  /** Where and how a lost count was noticed, and on which band: 0 the first. */
  slips: Array<{ time: number; satellite: string; band: number; at: 'rover' | 'base' | 'either'; sign: SlipSign }>;
  /** Stretches of one kind of solution, in order: 1 fixed, 2 float, 3 code, 4 inertial alone. */
  solution: Array<{ from: number; to: number; kind: number }>;
}

/** Rows further apart than this belong to two stretches, seconds. */
const LONGEST_STEP_S = 2;

export function skyOf(record: SkyRecord, trajectory: Trajectory, week: number): SkyView {
  const { satellites, sow } = record;
  const n = satellites.length;
  const gps = (s: number) => Number((week * 604800 + s).toFixed(3));
  const table = (value: (at: number) => number, digits: number) =>
    satellites.map((_, s) =>
      Array.from(sow, (_t, e) => {
        const v = value(e * n + s);
        return Number.isNaN(v) ? null : Number(v.toFixed(digits));
      }),
    );
  return {
    satellites,
    time: Array.from(sow, gps),
    elevation: table((at) => record.elevationDeg[at], 1),
    azimuth: table((at) => record.azimuthDeg[at], 1),
    residualMm: table((at) => {
      const [a, b] = [record.residualM[2 * at], record.residualM[2 * at + 1]];
      return 1000 * (Math.abs(b) > Math.abs(a) || Number.isNaN(a) ? b : a);
    }, 1),
    slips: record.slips.map(({ sow, ...slip }) => ({ time: gps(sow), ...slip })),
    solution: stretches(trajectory),
  };
}

function stretches(t: Trajectory): SkyView['solution'] {
  const out: SkyView['solution'] = [];
  for (let i = 0; i < t.sow.length; i++) {
    const time = Number((t.week * 604800 + t.sow[i]).toFixed(3));
    const kind = t.solution?.[i] ?? 0;
    const last = out[out.length - 1];
    if (last && last.kind === kind && time - last.to <= LONGEST_STEP_S) last.to = time;
    else out.push({ from: time, to: time, kind });
  }
  return out;
}
