import { Random } from '@longheron/core/numeric';
import {
  BRIDGE_HALF_WIDTH_M,
  BRIDGE_Y,
  crownHeight,
  DECK_DEPTH_M,
  groundAt,
  roadCentreX,
  SLAB,
  SOFFIT_CLEARANCE_M,
  YARDS,
} from '../terrain';

/** What a return came from. Surfaces of the ground share their numbers with `SURFACE` in terrain. */
export const KIND = {
  meadow: 0,
  road: 1,
  kerb: 2,
  slab: 3,
  grass: 4,
  footway: 5,
  building: 6,
  pole: 7,
  wire: 8,
  vegetation: 9,
  heap: 10,
  bridge: 11,
  stray: 12,
} as const;

/** Half-spaces nx·x + ny·y + nz·z ≤ d. */
export interface Convex {
  type: 'convex';
  kind: number;
  planes: Array<[number, number, number, number]>;
  bounds: Bounds;
}

export interface Cylinder {
  type: 'cylinder';
  kind: number;
  x: number;
  y: number;
  radius: number;
  minZ: number;
  maxZ: number;
  bounds: Bounds;
}

/** A conductor: z = lowZ + c·(cosh(t/c) − 1), t metres along the span from its lowest point. (x0, y0) is the first support. */
export interface Wire {
  type: 'wire';
  kind: number;
  x0: number;
  y0: number;
  dirX: number;
  dirY: number;
  lengthM: number;
  /** Metres from the first support to the lowest point. */
  lowAtM: number;
  parameterM: number;
  lowZ: number;
  radius: number;
  bounds: Bounds;
}

/** Leaves in an ellipsoid or box; a beam goes `freePathM` between echoes on average. */
export interface Leaves {
  type: 'leaves';
  kind: number;
  shape: 'ellipsoid' | 'box';
  centre: [number, number, number];
  half: [number, number, number];
  freePathM: number;
  bounds: Bounds;
}

/** The rail deck: flat top, bilinear soffit that is lower at one corner. */
export interface Deck {
  type: 'deck';
  kind: number;
  bounds: Bounds;
}

export interface Bounds {
  minX: number;
  maxX: number;
  minY: number;
  maxY: number;
  minZ: number;
  maxZ: number;
}

export type SiteObject = Convex | Cylinder | Wire | Leaves | Deck;

const DECK_WEST = roadCentreX(BRIDGE_Y) - 20;
const DECK_EAST = 420;
const SOFFIT = crownHeight(BRIDGE_Y) + SOFFIT_CLEARANCE_M;
/** How much lower the soffit is at its north-east corner over the road. */
export const SOFFIT_DIP_M = 0.25;

export function soffitAt(x: number, y: number): number {
  const u = Math.min(1, Math.max(0, (x - roadCentreX(BRIDGE_Y) + 3.5) / 7));
  const v = Math.min(1, Math.max(0, (y - BRIDGE_Y + BRIDGE_HALF_WIDTH_M) / (2 * BRIDGE_HALF_WIDTH_M)));
  return SOFFIT - SOFFIT_DIP_M * u * v;
}

function box(kind: number, minX: number, maxX: number, minY: number, maxY: number, minZ: number, maxZ: number): Convex {
  return {
    type: 'convex',
    kind,
    planes: [
      [1, 0, 0, maxX],
      [-1, 0, 0, -minX],
      [0, 1, 0, maxY],
      [0, -1, 0, -minY],
      [0, 0, 1, maxZ],
      [0, 0, -1, -minZ],
    ],
    bounds: { minX, maxX, minY, maxY, minZ, maxZ },
  };
}

/** A house with its ridge along y. */
function gabled(
  minX: number,
  maxX: number,
  minY: number,
  maxY: number,
  floor: number,
  eaves: number,
  ridge: number,
): Convex {
  const house = box(KIND.building, minX, maxX, minY, maxY, floor, ridge);
  const half = (maxX - minX) / 2;
  const rise = ridge - eaves;
  const middle = (minX + maxX) / 2;
  const norm = Math.hypot(rise, half);
  for (const side of [1, -1])
    house.planes.push([(side * rise) / norm, 0, half / norm, (side * rise * middle + half * ridge) / norm]);
  return house;
}

function cylinder(kind: number, x: number, y: number, radius: number, minZ: number, maxZ: number): Cylinder {
  return {
    type: 'cylinder',
    kind,
    x,
    y,
    radius,
    minZ,
    maxZ,
    bounds: { minX: x - radius, maxX: x + radius, minY: y - radius, maxY: y + radius, minZ, maxZ },
  };
}

function leaves(
  shape: Leaves['shape'],
  centre: [number, number, number],
  half: [number, number, number],
  freePathM: number,
): Leaves {
  return {
    type: 'leaves',
    kind: KIND.vegetation,
    shape,
    centre,
    half,
    freePathM,
    bounds: {
      minX: centre[0] - half[0],
      maxX: centre[0] + half[0],
      minY: centre[1] - half[1],
      maxY: centre[1] + half[1],
      minZ: centre[2] - half[2],
      maxZ: centre[2] + half[2],
    },
  };
}

export const CATENARY_PARAMETER_M = 350;
const LINE_POLES: Array<[number, number]> = [
  [105, 95],
  [141.7, 110],
  [178.3, 125],
  [215, 140],
];
const POLE_HEIGHT_M = 9.5;

function conductors(): SiteObject[] {
  const out: SiteObject[] = [];
  const tops = LINE_POLES.map(([x, y]) => groundAt(x, y) + POLE_HEIGHT_M);
  LINE_POLES.forEach(([x, y], i) => out.push(cylinder(KIND.pole, x, y, 0.14, groundAt(x, y) - 0.2, tops[i] + 0.3)));
  for (let i = 0; i + 1 < LINE_POLES.length; i++) {
    const [ax, ay] = LINE_POLES[i];
    const [bx, by] = LINE_POLES[i + 1];
    const lengthM = Math.hypot(bx - ax, by - ay);
    const dirX = (bx - ax) / lengthM,
      dirY = (by - ay) / lengthM;
    // lowest point of the catenary between two unequal supports
    const c = CATENARY_PARAMETER_M;
    const rise = tops[i + 1] - tops[i];
    const shift = lengthM / 2 - c * Math.asinh(rise / (2 * c * Math.sinh(lengthM / (2 * c))));
    const lowZ = tops[i] - c * (Math.cosh(shift / c) - 1);
    for (const side of [-0.9, 0, 0.9]) {
      const x0 = ax - dirY * side,
        y0 = ay + dirX * side;
      const xs = [x0, x0 + dirX * lengthM],
        ys = [y0, y0 + dirY * lengthM];
      out.push({
        type: 'wire',
        kind: KIND.wire,
        x0,
        y0,
        dirX,
        dirY,
        lengthM,
        lowAtM: shift,
        parameterM: c,
        lowZ,
        radius: 0.015,
        bounds: {
          minX: Math.min(...xs) - 0.1,
          maxX: Math.max(...xs) + 0.1,
          minY: Math.min(...ys) - 0.1,
          maxY: Math.max(...ys) + 0.1,
          minZ: lowZ - 0.1,
          maxZ: Math.max(tops[i], tops[i + 1]) + 0.1,
        },
      });
    }
  }
  return out;
}

/** Height of a conductor `t` metres along its span from the first pole. */
export function wireHeight(wire: Wire, t: number): number {
  return wire.lowZ + wire.parameterM * (Math.cosh((t - wire.lowAtM) / wire.parameterM) - 1);
}

function trees(): SiteObject[] {
  const random = new Random(20260616, 'trees');
  const out: SiteObject[] = [];
  const plant = (x: number, y: number, crown: number, height: number) => {
    const g = groundAt(x, y);
    out.push(cylinder(KIND.vegetation, x, y, 0.16, g - 0.2, g + height - crown));
    out.push(leaves('ellipsoid', [x, y, g + height - crown * 0.9], [crown, crown, crown * 0.9], 0.9));
  };
  // willows beside the line
  for (const [x, y] of [
    [146.5, 104],
    [171, 129],
    [133, 99],
  ])
    plant(x, y, 2.6, 7.2);
  let planted = 0;
  while (planted < 46) {
    const y = random.between(60, 600);
    const x = roadCentreX(y) + (random.uniform() < 0.5 ? -1 : 1) * random.between(9, 60);
    const crown = random.between(1.4, 3);
    const height = crown * random.between(2.3, 3.2);
    const clear =
      !(x > SLAB.minX - 6 && x < SLAB.maxX + 6 && y > SLAB.minY - 6 && y < SLAB.maxY + 6) &&
      Math.abs(y - BRIDGE_Y) > 26 &&
      (y < 85 || y > 150) &&
      Math.abs(x - roadCentreX(y)) > crown + 6.5 &&
      YARDS.every((k) => Math.hypot(x - k.x, y - k.y) > k.radiusM + 5) &&
      !(x > 120 && x < 145 && y > 232 && y < 298) &&
      !(x > 165 && x < 188 && y > 188 && y < 212);
    if (!clear) continue;
    plant(x, y, crown, height);
    planted++;
  }
  return out;
}

function hedge(): SiteObject[] {
  const out: SiteObject[] = [];
  for (let y = 60; y < 84; y += 4) {
    const x = roadCentreX(y + 2) + 8.6;
    const g = groundAt(x, y + 2);
    out.push(leaves('box', [x, y + 2, g + 0.6], [0.6, 2.05, 0.75], 0.18));
  }
  return out;
}

function buildings(): SiteObject[] {
  const base = (x: number, y: number) => groundAt(x, y) - 0.5;
  return [
    gabled(172, 181, 194, 206, base(176, 200), groundAt(176, 200) + 3.4, groundAt(176, 200) + 6.2),
    box(KIND.building, 128, 140, 240, 261, base(134, 250), groundAt(134, 250) + 4.5),
    box(KIND.building, 126, 138, 271, 289, base(132, 280), groundAt(132, 280) + 5.2),
  ];
}

function furniture(): SiteObject[] {
  const out: SiteObject[] = [];
  let k = 0;
  for (let y = 58; y < 600; y += 31, k++) {
    if (Math.abs(y - BRIDGE_Y) < 12) continue;
    const x = roadCentreX(y) + (k % 2 ? 5.1 : -5.1);
    const g = groundAt(x, y);
    out.push(cylinder(KIND.pole, x, y, 0.045, g - 0.1, g + 2.7));
    if (k % 3 === 0) out.push(box(KIND.pole, x - 0.3, x + 0.3, y - 0.055, y - 0.045, g + 2, g + 2.65));
  }
  return out;
}

function bridge(): SiteObject[] {
  const cx = roadCentreX(BRIDGE_Y);
  const piers: SiteObject[] = [];
  for (const x of [cx + 10, cx + 40, cx + 80, 320, 350, 380])
    for (const y of [BRIDGE_Y - 3, BRIDGE_Y + 3])
      piers.push(cylinder(KIND.bridge, x, y, 0.6, groundAt(x, y) - 1, SOFFIT));
  const deck: Deck = {
    type: 'deck',
    kind: KIND.bridge,
    bounds: {
      minX: DECK_WEST,
      maxX: DECK_EAST,
      minY: BRIDGE_Y - BRIDGE_HALF_WIDTH_M,
      maxY: BRIDGE_Y + BRIDGE_HALF_WIDTH_M,
      minZ: SOFFIT - SOFFIT_DIP_M,
      maxZ: SOFFIT + DECK_DEPTH_M,
    },
  };
  return [deck, ...piers];
}

let made: SiteObject[] | undefined;

/** Everything that stands on the ground, the same at every call. */
export function siteObjects(): SiteObject[] {
  made ??= [...bridge(), ...buildings(), ...furniture(), ...conductors(), ...hedge(), ...trees()];
  return made;
}
