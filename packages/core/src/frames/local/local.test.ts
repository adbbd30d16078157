import { describe, expect, it } from 'vitest';
import { ELLIPSOIDAL } from '../geoid';
import { DEG } from '../ellipsoid';
import {
  correctedGeoid,
  correctionAt,
  evaluationPoint,
  fitHeights,
  fitPlan,
  fromLocalPlan,
  toLocalPlan,
  type Plan,
  type PlanSimilarity,
  type TwoHeights,
} from '.';

const out = new Float64Array(2);

/** EPSG Guidance Note 7-2, similarity transformation, method 9621. */
const PUBLISHED: PlanSimilarity = {
  fromM: [0, 0],
  toM: [-129.549, -208.185],
  scale: 1.00000155,
  turnRad: (1.56504 / 3600) * DEG,
};

describe('a similarity in plan', () => {
  it('gives the published worked example', () => {
    toLocalPlan(PUBLISHED, 300000, 4500000, out);
    expect(out[0]).toBeCloseTo(299905.06, 2);
    expect(out[1]).toBeCloseTo(4499796.515, 2);
  });

  it('goes back to where it came from', () => {
    toLocalPlan(PUBLISHED, 467010.1234, 6215020.5678, out);
    fromLocalPlan(PUBLISHED, out[0], out[1], out);
    expect(Math.abs(out[0] - 467010.1234)).toBeLessThan(1e-8);
    expect(Math.abs(out[1] - 6215020.5678)).toBeLessThan(1e-8);
  });

  it('is the same from its own middle as from the origin of the projection', () => {
    const near: PlanSimilarity = { fromM: [467000, 6215000], toM: [5000, 2000], scale: 1.0004, turnRad: 0.2 };
    const [eastM, northM] = evaluationPoint(near);
    toLocalPlan(near, 467100, 6215300, out);
    const [e, n] = out;
    toLocalPlan({ fromM: [0, 0], toM: [eastM, northM], scale: 1.0004, turnRad: 0.2 }, 467100, 6215300, out);
    expect([out[0] - e, out[1] - n].every((v) => Math.abs(v) < 1e-8)).toBe(true);
  });
});

describe('a correction of heights', () => {
  /** EPSG Guidance Note 7-2, vertical offset and slope, method 1046: 473.0 m becomes 472.69 m. */
  const published = {
    lat0Rad: (46 + 55 / 60) * DEG,
    lon0Rad: (8 + 11 / 60) * DEG,
    offsetM: -0.245,
    slopeNorth: (-0.21 / 3600) * DEG,
    slopeEast: (-0.032 / 3600) * DEG,
  };

  it('gives the published worked example', () => {
    const at = correctionAt(published, (47 + 20 / 60) * DEG, (9 + 40 / 60) * DEG);
    // to more digits by an independent implementation of the method
    expect(473 + at).toBeCloseTo(472.690447883, 8);
  });

  it('lowers the surface that heights count from by as much as it raises heights', () => {
    const surface = correctedGeoid(ELLIPSOIDAL, published, 'local', 'by marks');
    const [lat, lon] = [46.95 * DEG, 8.2 * DEG];
    expect(surface.undulation(lat, lon)).toBe(-correctionAt(published, lat, lon));
    expect(surface.statement).toBe('by marks');
  });

  it('knows the short way over the date line', () => {
    const c = { lat0Rad: 0, lon0Rad: 179.9 * DEG, offsetM: 0, slopeNorth: 0, slopeEast: 1e-5 };
    expect(correctionAt(c, 0, -179.9 * DEG)).toBeCloseTo(1e-5 * 6378137 * 0.2 * DEG, 9);
  });
});

const FROM: Plan[] = [
  [467010.2, 6215020.4],
  [467310.8, 6215480.1],
  [466820.5, 6215710.9],
  [467120, 6214650.3],
  [466700.7, 6214900.6],
  [467405.1, 6214980.2],
];
const TO: Plan[] = [
  [4927.7948, 1910.1084],
  [5320.9212, 2293.9934],
  [4892.0252, 2625.5742],
  [4954.8991, 1524.871],
  [4599.567, 1860.1089],
  [5304.7874, 1785.3401],
];
const FREE = { turn: 'free', scale: 'free' } as const;

describe('a fit in plan', () => {
  // figures by a general least squares (numpy.linalg.lstsq) on the four unknowns
  it('agrees with a general least squares in parameters, residuals and deviations', () => {
    const fit = fitPlan(FROM, TO, FREE);
    expect(fit.scale).toBeCloseTo(1.0003901208870758, 11);
    expect(fit.turnRad).toBeCloseTo(0.21816252861779536, 11);
    expect(fit.toM[0]).toBeCloseTo(4999.99911667, 8);
    expect(fit.redundancy).toBe(8);
    expect(fit.sdM).toBeCloseTo(0.005120499809330465, 10);
    expect(fit.sdShiftM).toBeCloseTo(0.0020904352934796987, 10);
    expect(fit.sdScale).toBeCloseTo(4.771796991676559e-6, 12);
    expect(fit.sdTurnRad).toBeCloseTo(4.771796991676559e-6 / 1.0003901208870758, 12);
    const east = [0.0000832, -0.0025327, 0.0013409, 0.0007508, 0.0069887, -0.0066309];
    const north = [-0.0025489, 0.0051095, 0.00152, -0.0075049, 0.0040641, -0.0006398];
    fit.residuals.forEach((r, i) => {
      expect(r.eM).toBeCloseTo(east[i], 6);
      expect(r.nM).toBeCloseTo(north[i], 6);
    });
    const misses = [0.0031032, 0.0085248, 0.0041912, 0.0118653, 0.0119377, 0.0093466];
    fit.missesM.forEach((m, i) => expect(m).toBeCloseTo(misses[i], 6));
    expect(fit.outstanding).toBeUndefined();
  });

  it('names the mark that is a decimetre off, and no other', () => {
    for (let wrong = 0; wrong < 6; wrong++) {
      const to = TO.map(([e, n], i): Plan => (i === wrong ? [e + 0.06, n - 0.08] : [e, n]));
      const fit = fitPlan(FROM, to, FREE);
      expect(fit.outstanding).toBe(wrong);
      expect(Math.abs(fit.missesM[wrong]! - 0.1)).toBeLessThan(0.015);
    }
  });

  it('holds what it is told to hold', () => {
    const held = fitPlan(FROM, TO, { turn: 'free', scale: 1 });
    expect(held.scale).toBe(1);
    expect(held.turnRad).toBeCloseTo(0.2181625, 6);
    expect(held.sdScale).toBe(0);
    const straight = fitPlan([FROM[0]], [TO[0]], { turn: 'none', scale: 1.0004 });
    expect([straight.turnRad, straight.scale, straight.redundancy, straight.sdM]).toEqual([0, 1.0004, 0, null]);
    expect(straight.residuals[0].allM).toBe(0);
    expect(straight.missesM).toEqual([null]);
  });

  it('says nothing of one that stands out where nothing is left to say it by', () => {
    const fit = fitPlan(FROM.slice(0, 2), TO.slice(0, 2), FREE);
    expect([fit.redundancy, fit.sdM, fit.outstanding]).toEqual([0, null, undefined]);
  });

  it('refuses too few marks and marks at one place', () => {
    expect(() => fitPlan([FROM[0]], [TO[0]], FREE)).toThrow(/takes two marks/);
    expect(() => fitPlan([], [], { turn: 'none', scale: 1 })).toThrow(/takes a mark/);
    expect(() => fitPlan([FROM[0], FROM[0]], [TO[0], TO[0]], FREE)).toThrow(/at one place/);
  });
});

const LAT = [56.071, 56.083, 56.095, 56.078, 56.088, 56.066];
const LON = [8.452, 8.471, 8.466, 8.493, 8.488, 8.479];
const LOW = [3.214, 5.871, 2.99, 7.443, 4.12, 6.305];
const HIGH = [2.8003, 5.4589, 2.6015, 7.0244, 3.7047, 5.8695];
const MARKS: TwoHeights[] = LAT.map((lat, i) => ({
  latRad: lat * DEG,
  lonRad: LON[i] * DEG,
  fromM: LOW[i],
  toM: HIGH[i],
}));

describe('a fit of heights', () => {
  it('agrees with a general least squares', () => {
    const fit = fitHeights(MARKS, true);
    expect(fit.offsetM).toBeCloseTo(-0.4139501427801537, 9);
    expect(fit.slopeNorth).toBeCloseTo(1.1145046458395449e-5, 11);
    expect(fit.slopeEast).toBeCloseTo(-7.347227936545126e-6, 11);
    expect(fit.sdM).toBeCloseTo(0.00554269345149642, 8);
    expect(fit.sdOffsetM).toBeCloseTo(0.0022627951267259533, 8);
    expect(fit.sdSlopeNorth).toBeCloseTo(2.0773564007519874e-6, 11);
    expect(fit.sdSlopeEast).toBeCloseTo(2.652895972150711e-6, 11);
    const residuals = [-0.0011773731, 0.0034192996, -0.0030036916, -0.0063498892, 0.0050483863, 0.002063268];
    fit.residualsM.forEach((v, i) => expect(v).toBeCloseTo(residuals[i], 8));
    expect(fit.outstanding).toBeUndefined();
  });

  it('of an amount alone is the mean of the differences', () => {
    const fit = fitHeights(MARKS, false);
    const mean = HIGH.reduce((s, h, i) => s + h - LOW[i], 0) / HIGH.length;
    expect(fit.offsetM).toBeCloseTo(mean, 12);
    expect([fit.slopeNorth, fit.slopeEast, fit.sdSlopeNorth]).toEqual([0, 0, 0]);
  });

  it('names the mark with a height that does not go with the others', () => {
    const wrong = MARKS.map((m, i) => (i === 4 ? { ...m, toM: m.toM + 0.3 } : m));
    expect(fitHeights(wrong, false).outstanding).toBe(4);
    expect(fitHeights(MARKS, false).outstanding).toBeUndefined();
  });

  it('refuses slopes across a line of marks', () => {
    const line = MARKS.map((m, i) => ({ ...m, latRad: (56 + i * 0.01) * DEG, lonRad: (8.4 + i * 0.01) * DEG }));
    expect(() => fitHeights(line, true)).toThrow(/lie in one line/);
    expect(() => fitHeights(MARKS.slice(0, 2), true)).toThrow(/three marks/);
    expect(fitHeights(line, false).redundancy).toBe(5);
  });
});
