import { type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../../api/client';
import { useLoaded } from '../../ui/loaded';

/** The sky of a computation: directions and phase residuals of satellites, slips, stretches of one solution. */
export interface Sky {
  satellites: string[];
  /** Samples, GPS seconds. */
  time: number[];
  /** By satellite, then sample. */
  elevation: Array<Array<number | null>>;
  azimuth: Array<Array<number | null>>;
  residualMm: Array<Array<number | null>>;
  slips: Array<Slip>;
  solution: Array<{ from: number; to: number; kind: number }>;
}

/** A lost count; band and sign are missing in results of earlier versions. */
export interface Slip {
  time: number;
  satellite: string;
  band?: number;
  at: 'rover' | 'base' | 'either';
  sign?: 'told' | 'two bands' | 'other satellites';
}

const SIGNS = {
  told: 'as the receiver says',
  'two bands': 'seen between the two bands',
  'other satellites': 'seen against the other satellites',
};

/** A slip in words. */
export function slipWords(slip: Slip): string {
  const where = slip.at === 'either' ? '' : ` at the ${slip.at}`;
  const band = slip.band === undefined ? '' : ` on the ${slip.band === 0 ? 'first' : 'second'} band`;
  return `slip${where}${band}${slip.sign ? `, ${SIGNS[slip.sign]}` : ''}`;
}

/** Colour and words of each kind of solution. */
export const SOLUTIONS: Record<number, { word: string; colour: string }> = {
  1: { word: 'fixed', colour: '#3f7350' },
  2: { word: 'float', colour: '#d9a441' },
  3: { word: 'codes alone', colour: '#a8402e' },
  4: { word: 'inertial alone', colour: '#7a4b8c' },
  0: { word: 'not stated', colour: '#9fb3b8' },
};
/** Residuals from this on have the strongest colour, millimetres. */
export const STRONG_MM = 20;

/** Figures of one satellite over a span. */
export interface SatelliteFigures {
  satellite: string;
  rmsMm: number | null;
  maxMm: number | null;
  elevation: [number, number];
  slips: number;
  /** Share of the span's samples in which it was seen. */
  seen: number;
}

export function figuresOf(sky: Sky, span: [number, number]): SatelliteFigures[] {
  const inside = sky.time.map((t) => t >= span[0] && t <= span[1]);
  const all = inside.filter(Boolean).length;
  return sky.satellites.flatMap((satellite, s) => {
    let count = 0;
    let seen = 0;
    let sum = 0;
    let most = 0;
    const elevation: [number, number] = [90, 0];
    sky.time.forEach((_, k) => {
      const e = sky.elevation[s][k];
      if (!inside[k] || e === null) return;
      seen++;
      if (e < elevation[0]) elevation[0] = e;
      if (e > elevation[1]) elevation[1] = e;
      const r = sky.residualMm[s][k];
      if (r === null) return;
      count++;
      sum += r * r;
      most = Math.max(most, Math.abs(r));
    });
    if (seen === 0) return [];
    const slips = sky.slips.filter((p) => p.satellite === satellite && p.time >= span[0] && p.time <= span[1]).length;
    const rmsMm = count ? Math.sqrt(sum / count) : null;
    return [{ satellite, rmsMm, maxMm: count ? most : null, elevation, slips, seen: seen / Math.max(1, all) }];
  });
}

/** The sky of a computed trajectory; null for one that was taken in. */
export function useSky(dataset: () => DatasetOf<'trajectory'> | undefined) {
  return useLoaded<string, Sky | null>(() => dataset()?.revision.content.sky ?? undefined, objectJson<Sky>, null);
}
