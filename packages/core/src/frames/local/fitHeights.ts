import { addObservation, solveNormal } from '../../numeric/leastSquares';
import { Problem } from '../../shared/problem';
import { outstanding } from './disagree';
import { correctionAt, offsetsFrom, type HeightCorrection } from './heightCorrection';

/** A mark whose height is known above two surfaces. */
export interface TwoHeights {
  latRad: number;
  lonRad: number;
  /** Above the surface to be corrected, and above the one wanted, metres. */
  fromM: number;
  toM: number;
}

export interface HeightFit extends HeightCorrection {
  /** Corrected less given, metres. */
  residualsM: number[];
  missesM: Array<number | null>;
  outstanding?: number;
  redundancy: number;
  /** 1 SD of a height, by what is left over; null where nothing is. */
  sdM: number | null;
  /** 1 SD of the amount in the middle of the marks, and of the slopes, metres per metre. */
  sdOffsetM: number | null;
  sdSlopeNorth: number | null;
  sdSlopeEast: number | null;
}

/** Marks in a strip narrower than this share of its length say nothing of the slope across it. */
const MIN_WIDTH = 0.02;

/**
 * A correction of heights by marks whose heights are known above both surfaces: an amount, and where asked for the
 * slopes to north and east, by least squares with all heights alike. It makes a hybrid surface of a geoid.
 * @throws Problem when the marks are too few, or lie in one line while slopes are wanted.
 */
export function fitHeights(marks: readonly TwoHeights[], slopes: boolean): HeightFit {
  const unknowns = slopes ? 3 : 1;
  const { fit, inverse } = solve(marks, slopes);
  const residualsM = marks.map((m) => m.fromM + correctionAt(fit, m.latRad, m.lonRad) - m.toM);
  const sum = residualsM.reduce((s, v) => s + v * v, 0);
  const missesM: HeightFit['missesM'] = [];
  const without: Array<number | null> = [];
  marks.forEach((m, k) => {
    const others = marks.filter((_, i) => i !== k);
    try {
      const part = solve(others, slopes).fit;
      const off = ({ fromM, toM, latRad, lonRad }: TwoHeights) => fromM + correctionAt(part, latRad, lonRad) - toM;
      missesM.push(off(m));
      without.push(others.reduce((s, o) => s + off(o) ** 2, 0));
    } catch {
      missesM.push(null);
      without.push(null);
    }
  });
  const redundancy = marks.length - unknowns;
  const sdM = redundancy > 0 ? Math.sqrt(sum / redundancy) : null;
  const sd = (k: number) => sdM && sdM * Math.sqrt(inverse[k]);
  return {
    ...fit,
    residualsM,
    missesM,
    outstanding: outstanding(sum, without, 1, redundancy),
    redundancy,
    sdM,
    sdOffsetM: sd(0),
    sdSlopeNorth: slopes ? sd(1) : 0,
    sdSlopeEast: slopes ? sd(2) : 0,
  };
}

function solve(marks: readonly TwoHeights[], slopes: boolean): { fit: HeightCorrection; inverse: number[] } {
  const least = slopes ? 3 : 1;
  if (marks.length < least)
    throw new Problem(
      `A fit of heights ${slopes ? 'with slopes takes three marks' : 'takes a mark'} with both heights.`,
      {
        code: 'site-marks',
        remedy: slopes ? 'Add marks, or leave the slopes out.' : 'Give the same names to the same marks in both lists.',
      },
    );
  const lat0Rad = marks.reduce((s, m) => s + m.latRad, 0) / marks.length;
  // about the first one, so that marks on both sides of the date line have a middle
  const first = marks[0].lonRad;
  const near = (lon: number) => lon - 2 * Math.PI * Math.round((lon - first) / (2 * Math.PI));
  const lon0Rad = marks.reduce((s, m) => s + near(m.lonRad), 0) / marks.length;
  const at = { lat0Rad, lon0Rad };
  const n = least;
  const normal = new Float64Array(n * n);
  const right = new Float64Array(n);
  const offsets = marks.map((m) => offsetsFrom(at, m.latRad, m.lonRad));
  if (slopes) refuseNarrow(offsets);
  // kilometres keep amount and slopes of one size
  marks.forEach((m, i) => {
    addObservation(normal, right, n, [1, offsets[i][0] / 1000, offsets[i][1] / 1000], m.toM - m.fromM, 1);
  });
  const all = solveNormal(normal, right, n)!;
  const inverse = Array.from({ length: n }, (_, k) => all[k * n + k]);
  return {
    fit: {
      ...at,
      offsetM: right[0],
      slopeNorth: slopes ? right[1] / 1000 : 0,
      slopeEast: slopes ? right[2] / 1000 : 0,
    },
    inverse: inverse.map((v, k) => (k === 0 ? v : v / 1e6)),
  };
}

function refuseNarrow(offsets: ReadonlyArray<readonly [number, number]>): void {
  let [nn, ee, ne] = [0, 0, 0];
  for (const [n, e] of offsets) {
    nn += n * n;
    ee += e * e;
    ne += n * e;
  }
  const half = (nn + ee) / 2;
  const root = Math.hypot((nn - ee) / 2, ne);
  if (!(half - root > MIN_WIDTH ** 2 * (half + root)))
    throw new Problem('The marks lie in one line: they do not say how heights slope across it.', {
      code: 'site-marks',
      remedy: 'Add a mark to the side, or leave the slopes out.',
    });
}
