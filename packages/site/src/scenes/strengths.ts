import { Random } from '@longheron/core/numeric';
import { drawCourse, drawWaves, widthOf, type Land } from './land';
import { type Drive, type Flight } from './platforms';
import { type Scanner } from './scan';
import { type ThingCounts } from './things';

/** What a scene is like: a road by vehicle, land from the air, dunes of another hemisphere, steep land with cliffs. */
export const SCENE_KINDS = ['road', 'flight', 'south', 'steep'] as const;
export type SceneKind = (typeof SCENE_KINDS)[number];

/** A scene as drawn, before a beam is sent. */
export interface SceneStrengths {
  kind: SceneKind;
  halfM: [number, number];
  /** Easting, northing and height of the scene's middle, metres. */
  originM: [number, number, number];
  land: Land;
  things: ThingCounts;
  /** Half width kept free along the x axis. */
  clearM: number;
  drive?: Drive;
  flight?: Flight;
  scanner: Scanner;
  /** Strays by million points: above, below, along the beam. */
  strays: { above: number; below: number; along: number; grouped: number };
}

const RAD = Math.PI / 180;

/** @param size 1: some hundred thousand points; less for quick tests. */
export function drawScene(kind: SceneKind, seed: number, size = 1): SceneStrengths {
  const r = new Random(seed, `scene ${kind}`);
  const byRoad = kind === 'road' || (kind === 'south' && r.uniform() < 0.5);
  const k = Math.sqrt(size);
  const halfM: [number, number] = byRoad ? [70 * k, 45 * k] : [75 * k, 65 * k];
  const south = kind === 'south';
  const originM: SceneStrengths['originM'] = [
    south ? r.between(1.6e5, 8.3e5) : r.between(3e5, 7e5),
    south ? r.between(1.2e6, 9.9e6) : r.between(1e5, 9.3e6),
    south ? r.between(-120, 400) : r.between(0, 2200),
  ];
  const area = 4 * halfM[0] * halfM[1];
  const per = (low: number, high: number) => Math.round((area / 1e4) * r.between(low, high));
  const things: ThingCounts = {
    houses: per(1.2, 3.5),
    trees: per(3, 14),
    bushes: per(3, 12),
    walls: per(0, 2),
    vehicles: per(1, 3),
    deck: kind === 'road' && r.uniform() < 0.5,
    wires: r.uniform() < 0.6 ? 1 : 0,
  };
  if (kind === 'steep') Object.assign(things, { houses: per(0.3, 1.5), vehicles: 0, deck: false });
  return {
    kind,
    halfM,
    originM,
    things,
    clearM: byRoad ? 6 : 0,
    land: drawLand(kind, r, halfM, byRoad),
    ...(byRoad ? { drive: drawDrive(r) } : { flight: drawFlight(r, kind === 'steep') }),
    scanner: {
      rangeSdM: r.between(0.004, 0.018),
      angleSdRad: (byRoad ? r.between(0.003, 0.02) : r.between(0.001, 0.004)) * RAD,
      farthestM: byRoad ? r.between(50, 110) : 1000,
      goesOn: byRoad ? r.between(0.2, 0.5) : r.between(0.5, 0.8),
      echoes: byRoad ? 3 : 5,
      grassM: r.between(0.001, 0.008),
      lost: r.between(0, 0.1),
    },
    strays: { above: r.between(400, 2500), below: r.between(300, 1500), along: r.between(200, 900), grouped: 0.1 },
  };
}

function drawDrive(r: Random): Drive {
  return {
    passes: r.uniform() < 0.4 ? 1 : 2,
    speedMS: r.between(5, 14),
    profilesHz: r.between(40, 80),
    beams: Math.round(r.between(350, 650)),
    heightM: r.between(1.9, 2.8),
    slantRad: r.between(15, 40) * RAD,
  };
}

function drawFlight(r: Random, steep: boolean): Flight {
  return {
    lines: steep ? 3 : 2 + Math.round(r.uniform()),
    heightM: r.between(90, 320),
    halfAngleRad: r.between(20, 32) * RAD,
    spacingM: r.between(0.34, 0.6),
  };
}

function drawLand(kind: SceneKind, r: Random, halfM: [number, number], byRoad: boolean): Land {
  const land: Land = { baseM: 0, tilt: [0, 0], waves: [], rises: [], ravines: [] };
  const any = () => r.between(0, Math.PI);
  const bank = (riseM: number, slopeDeg: number, offsetM: number, angle: number) =>
    land.rises.push({ course: drawCourse(r, offsetM, angle), riseM, widthM: widthOf(Math.abs(riseM), slopeDeg) });
  const tilt = (most: number) => (land.tilt = [r.between(-most, most), r.between(-most, most)]);
  if (byRoad) {
    tilt(0.04);
    land.waves = drawWaves(r, 3, [40, 150], r.between(0.02, 0.08));
    // the road lies level across the x axis between its kerbs; banks stand beside it
    for (const side of [-1, 1]) {
      const kerb = side * 3.6;
      const rise = { angleRad: 0, offsetM: kerb, waverM: 0, waveM: 50, phase: 0 };
      land.rises.push({ course: rise, riseM: side * r.between(0.08, 0.15), widthM: 0.03 });
      if (r.uniform() < 0.7) bank(side * r.between(-2.5, 4), r.between(18, 34), side * r.between(14, 26), 0);
    }
    if (kind === 'south') land.waves.push(...drawWaves(r, 2, [25, 60], r.between(0.1, 0.25)));
  } else if (kind === 'steep') {
    tilt(0.35);
    land.waves = drawWaves(r, 4, [25, 120], r.between(0.15, 0.45));
    const across = Math.min(...halfM);
    bank(r.between(9, 22), r.between(62, 84), r.between(-0.45, 0.45) * across, any());
    const terraces = Math.round(r.between(0, 4));
    const way = any();
    for (let k = 0; k < terraces; k++)
      bank(r.between(0.8, 3), r.between(50, 80), -across * 0.5 + k * r.between(7, 13), way);
    if (r.uniform() < 0.7) {
      const depthM = r.between(4, 12);
      const course = drawCourse(r, r.between(-0.6, 0.6) * across, any());
      land.ravines.push({ course, depthM, bedM: r.between(0.5, 3), sideM: widthOf(depthM, r.between(35, 60)) });
    }
  } else {
    tilt(0.12);
    land.waves = drawWaves(r, 4, [40, 200], r.between(0.1, 0.35));
    if (kind === 'south') for (let k = 0; k < 3; k++) bank(r.between(1.5, 6), r.between(26, 34), (k - 1) * 35, any());
    else for (let k = 0; k < 2; k++) bank(r.between(1, 4), r.between(20, 33), r.between(-40, 40), any());
  }
  return land;
}
