import { groundAt, smoothStep } from '../terrain';

/**
 * The bed of the reach in closed form: height H (EGM96, metres) over site coordinates. Ground with a pool, scour at two of
 * three piers, an armoured pipeline across, and three things that lie on it.
 */

/** Cut-off piers of the old bridge; the second and third are scoured. */
export const PIERS = [
  { x: 377, y: 330, radiusM: 1.1, topM: -2.2, scourM: 0 },
  { x: 391, y: 330, radiusM: 1.1, topM: -2.2, scourM: 0.9 },
  { x: 405, y: 330, radiusM: 1.1, topM: -2.2, scourM: 0.7 },
];
const SCOUR_WIDTH_M = 2.6;
const POOL = { x: 405, y: 250, radiusM: 26, depthM: 2.4 };

/** The pipeline: along y = 394 + 0.12 (x − 398), under a mound of stone. */
export const PIPE = { x: 398, y: 394, slope: 0.12, moundM: 0.45, halfM: 1.8, pipeM: 0.22, radiusM: 0.35 };

/** A frame of steel, six by three metres, with two bars across. */
export const FRAME = { x: 399.5, y: 292, halfLengthM: 3, halfWidthM: 1.5, barM: 0.3, heightM: 1.3, turnRad: 0.5 };
/** An anchor: shank and arms. */
export const ANCHOR = { x: 388, y: 222, shankM: 2.4, armM: 1.5, thickM: 0.28, heightM: 0.35, turnRad: 1.1 };
/** Tyres that lie about. */
export const TYRES = [
  [408.0, 430.0],
  [409.3, 431.1],
  [407.1, 432.4],
  [410.2, 429.2],
  [408.6, 433.6],
  [406.4, 430.6],
].map(([x, y]) => ({ x, y, radiusM: 0.36, tubeM: 0.13, heightM: 0.24 }));

export const BED = { sand: 0, stone: 1, pipe: 2, pier: 3, frame: 4, anchor: 5, tyre: 6, land: 7 } as const;
/** What the last {@link bedAt} met. Read it at once. */
export let lastBed: number = BED.sand;

/** No water above this, metres. */
const SHORE_M = 0.3;

/** Bed without what lies on it. */
function bare(x: number, y: number): number {
  const ground = groundAt(x, y);
  const pool = Math.hypot(x - POOL.x, y - POOL.y);
  let h = ground - POOL.depthM * (1 - smoothStep(pool / POOL.radiusM));
  for (const p of PIERS) {
    if (p.scourM === 0) continue;
    const d2 = (x - p.x) ** 2 + (y - p.y) ** 2;
    if (d2 < 120) h -= p.scourM * Math.exp(-d2 / (2 * SCOUR_WIDTH_M ** 2));
  }
  return h;
}

/** Height of the bed at a place, with what lies on it; as seen from above. */
export function bedAt(x: number, y: number): number {
  let h = bare(x, y);
  lastBed = h > SHORE_M ? BED.land : BED.sand;
  const across = (y - PIPE.y - PIPE.slope * (x - PIPE.x)) / Math.hypot(1, PIPE.slope);
  if (Math.abs(across) < PIPE.halfM) {
    h += PIPE.moundM * Math.cos((Math.PI / 2) * (across / PIPE.halfM)) ** 2;
    lastBed = BED.stone;
    if (Math.abs(across) < PIPE.radiusM) {
      h += PIPE.pipeM * Math.sqrt(1 - (across / PIPE.radiusM) ** 2);
      lastBed = BED.pipe;
    }
  }
  if (y > 326 && y < 334)
    for (const p of PIERS)
      if ((x - p.x) ** 2 + (y - p.y) ** 2 < p.radiusM ** 2 && p.topM > h) {
        h = p.topM;
        lastBed = BED.pier;
      }
  const thing = onFrame(x, y) || onAnchor(x, y) || onTyre(x, y);
  return h + thing;
}

/** Turns site coordinates into those of a thing. */
function own(x: number, y: number, t: { x: number; y: number; turnRad: number }): [number, number] {
  const [dx, dy] = [x - t.x, y - t.y];
  const [c, s] = [Math.cos(t.turnRad), Math.sin(t.turnRad)];
  return [c * dx + s * dy, c * dy - s * dx];
}

function onFrame(x: number, y: number): number {
  if (Math.abs(x - FRAME.x) > 4 || Math.abs(y - FRAME.y) > 4) return 0;
  const [u, v] = own(x, y, FRAME);
  const { halfLengthM: l, halfWidthM: w, barM: b } = FRAME;
  if (Math.abs(u) > l || Math.abs(v) > w) return 0;
  const rim = Math.abs(u) > l - b || Math.abs(v) > w - b;
  const cross = Math.abs(Math.abs(u) - l / 3) < b / 2;
  if (!rim && !cross) return 0;
  lastBed = BED.frame;
  return FRAME.heightM;
}

function onAnchor(x: number, y: number): number {
  if (Math.abs(x - ANCHOR.x) > 3 || Math.abs(y - ANCHOR.y) > 3) return 0;
  const [u, v] = own(x, y, ANCHOR);
  const { shankM, armM, thickM, heightM } = ANCHOR;
  const shank = Math.abs(v) < thickM / 2 && Math.abs(u) < shankM / 2;
  // arms bend back from the crown
  const bend = u + shankM / 2 - 0.35 * v * v;
  const arms = Math.abs(v) < armM / 2 && Math.abs(bend) < thickM / 2;
  if (!shank && !arms) return 0;
  lastBed = BED.anchor;
  return heightM;
}

function onTyre(x: number, y: number): number {
  if (x < 404 || x > 412 || y < 427 || y > 436) return 0;
  for (const t of TYRES) {
    const off = Math.abs(Math.hypot(x - t.x, y - t.y) - t.radiusM);
    if (off >= t.tubeM) continue;
    lastBed = BED.tyre;
    return t.heightM * Math.sqrt(1 - (off / t.tubeM) ** 2);
  }
  return 0;
}
