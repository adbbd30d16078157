/**
 * The ground of Brannholm Reach in closed form: height H (EGM96, metres) over site coordinates
 * x = E − 467 000 and y = N − 6 215 000 (metres), 0…420 by 0…640.
 */
export const SITE_ORIGIN_E = 467000;
export const SITE_ORIGIN_N = 6215000;
export const SITE_WIDTH_M = 420;
export const SITE_LENGTH_M = 640;
export const SITE_SYSTEM = 'EPSG:25832+5773';

export const ROAD_HALF_WIDTH_M = 3.5;
export const KERB_HEIGHT_M = 0.12;
const KERB_RUN_M = 0.02;
export const FOOTWAY_OUTER_M = 5.5;
const CROSSFALL = 0.025;
const FOOTWAY_FALL = 0.02;
/** Batters beside the road fall or rise one in two. */
const BATTER = 0.5;

export const BRIDGE_Y = 330;
export const BRIDGE_HALF_WIDTH_M = 5;
/** Soffit above the crown of the road. */
export const SOFFIT_CLEARANCE_M = 4.6;
export const DECK_DEPTH_M = 1.5;
const RAIL_BANK_SLOPE = 1 / 1.5;
const RAIL_BANK_HALF_WIDTH_M = 5.5;

export const SLAB = { minX: 137, maxX: 173, minY: 425, maxY: 467, heightM: 2.95 };
/** Heaps: paraboloids; volume π·R²·h/2. */
export const HEAPS = [
  { x: 149, y: 446, radiusM: 7, heightM: 2.6 },
  { x: 163, y: 440, radiusM: 5.5, heightM: 2.1 },
];
/** Hard turning yards at both ends of the road. */
export const YARDS = [
  { x: 140, y: 26, radiusM: 19 },
  { x: 136, y: 614, radiusM: 19 },
];

/** Quintic step from 0 to 1 with continuous first and second derivatives. */
export function smoothStep(t: number): number {
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  return t * t * t * (t * (6 * t - 15) + 10);
}

/** x of the road's centre line. */
export function roadCentreX(y: number): number {
  return 140 + 20 * Math.sin((2 * Math.PI * (y - 20)) / 620);
}

/** Height of the road's crown. */
export function crownHeight(y: number): number {
  return 3.2 + 0.6 * Math.sin(y / 90) + 2.4 * smoothStep((y - 420) / 140);
}

function naturalGround(x: number, y: number): number {
  const meadow = 2.6 + 0.5 * Math.sin(x / 41) * Math.cos(y / 57) + 0.25 * Math.sin((x + y) / 23);
  const channel = smoothStep((x - 285) / 60);
  if (channel === 0) return meadow;
  const bed = -6 + 3 * Math.cos((x - 350) / 22) + 0.15 * Math.sin(y / 1.9);
  return meadow * (1 - channel) + bed * channel;
}

function railBank(x: number, y: number): number {
  const crest = crownHeight(BRIDGE_Y) + SOFFIT_CLEARANCE_M + DECK_DEPTH_M;
  const beyondEnd = Math.max(0, x - (roadCentreX(BRIDGE_Y) - 19));
  const beside = Math.max(0, Math.abs(y - BRIDGE_Y) - RAIL_BANK_HALF_WIDTH_M);
  return crest - Math.hypot(beyondEnd, beside) * RAIL_BANK_SLOPE;
}

export const SURFACE = { meadow: 0, road: 1, kerb: 2, slab: 3, grass: 4, footway: 5, heap: 10 } as const;

/** Result of the last {@link groundAt}: which surface it was. Read it at once. */
export let lastSurface: number = SURFACE.meadow;

/** Height of the ground at a place; heaps on the slab included. */
export function groundAt(x: number, y: number): number {
  const u = x - roadCentreX(y);
  const d = u < 0 ? -u : u;
  const crown = crownHeight(y);
  let h: number;
  if (d < ROAD_HALF_WIDTH_M) {
    lastSurface = SURFACE.road;
    h = crown - CROSSFALL * d;
  } else if (d < ROAD_HALF_WIDTH_M + KERB_RUN_M) {
    lastSurface = SURFACE.kerb;
    h = crown - CROSSFALL * ROAD_HALF_WIDTH_M + (KERB_HEIGHT_M * (d - ROAD_HALF_WIDTH_M)) / KERB_RUN_M;
  } else {
    const kerbTop = crown - CROSSFALL * ROAD_HALF_WIDTH_M + KERB_HEIGHT_M;
    if (d < FOOTWAY_OUTER_M) {
      lastSurface = SURFACE.footway;
      h = kerbTop + FOOTWAY_FALL * (d - ROAD_HALF_WIDTH_M - KERB_RUN_M);
    } else {
      const edge = kerbTop + FOOTWAY_FALL * (FOOTWAY_OUTER_M - ROAD_HALF_WIDTH_M - KERB_RUN_M);
      const reach = (d - FOOTWAY_OUTER_M) * BATTER;
      let natural = naturalGround(x, y);
      const bank = y > BRIDGE_Y - 22 && y < BRIDGE_Y + 22 ? railBank(x, y) : -Infinity;
      lastSurface = d < 60 ? SURFACE.grass : SURFACE.meadow;
      // the rail bank stands free of the road's batter
      const low = edge - reach;
      const high = edge + reach;
      if (natural < low) natural = low;
      else if (natural > high) natural = high;
      h = bank > natural ? bank : natural;
    }
  }
  for (let k = 0; k < YARDS.length; k++) {
    const yard = YARDS[k];
    const dx = x - yard.x,
      dy = y - yard.y;
    const r2 = dx * dx + dy * dy;
    if (r2 < (yard.radiusM + 5) * (yard.radiusM + 5)) {
      const w = smoothStep((Math.sqrt(r2) - yard.radiusM) / 5);
      h = h * w + crownHeight(yard.y) * (1 - w);
      if (w < 0.5) lastSurface = SURFACE.slab;
    }
  }
  if (x > SLAB.minX - 4 && x < SLAB.maxX + 4 && y > SLAB.minY - 4 && y < SLAB.maxY + 4) {
    const ox = Math.max(SLAB.minX - x, 0, x - SLAB.maxX);
    const oy = Math.max(SLAB.minY - y, 0, y - SLAB.maxY);
    const w = smoothStep(Math.hypot(ox, oy) / 4);
    h = h * w + SLAB.heightM * (1 - w);
    if (ox === 0 && oy === 0) {
      lastSurface = SURFACE.slab;
      for (const heap of HEAPS) {
        const r2 = (x - heap.x) ** 2 + (y - heap.y) ** 2;
        const rise = heap.heightM * (1 - r2 / (heap.radiusM * heap.radiusM));
        if (rise > 0) {
          h += rise;
          lastSurface = SURFACE.heap;
        }
      }
    }
  }
  return h;
}

/** True height of the ground at project coordinates, metres. */
export function trueHeight(eastingM: number, northingM: number): number {
  return groundAt(eastingM - SITE_ORIGIN_E, northingM - SITE_ORIGIN_N);
}

/**
 * What the wheels feel: the road without kerbs and with a rounded crown, so that the vehicle's motion is smooth.
 */
export function wheelHeight(x: number, y: number): number {
  const u = x - roadCentreX(y);
  let h = crownHeight(y) - CROSSFALL * (Math.sqrt(u * u + 0.6) - 0.5);
  for (const yard of YARDS) {
    const w = smoothStep((Math.hypot(x - yard.x, y - yard.y) - yard.radiusM + 4) / 8);
    h = h * w + crownHeight(yard.y) * (1 - w);
  }
  return h;
}
