import { Random } from '@longheron/core/numeric';
import { makeAir } from './air';
import { along, earthCentred, localAxes } from './earth';
import { type Mishap, receive } from './receive';
import { drawSky, wayOf } from './sky';
import { drawStrengths, type SessionKind, type SessionStrengths } from './strengths';

export { SESSION_KINDS, drawStrengths, type SessionKind, type SessionStrengths } from './strengths';
export { type Mishap } from './receive';
export { earthCentred, localAxes } from './earth';

const WEEK = 2423;
/** Mean radius of the Earth. */
const EARTH_M = 6371000;

/**
 * A GNSS session somewhere on Earth, drawn at random: receivers, ways, air, multipath, slips and gaps of a making of
 * their own, stronger and weaker than any profile of the solver. Two receivers, their satellites' records, and the truth.
 */
export interface DrawnSession {
  strengths: SessionStrengths;
  rover: ReturnType<typeof receive>['observations'];
  base: ReturnType<typeof receive>['observations'];
  mishaps: Mishap[];
  records: ReturnType<typeof recordOf>[];
  /** Antenna of the base, Earth-centred metres. */
  baseM: [number, number, number];
  /** Antenna of the rover at a true time, Earth-centred metres. */
  placeAt(sow: number): [number, number, number];
  axes: ReturnType<typeof localAxes>;
}

/** @param change what shall be otherwise than drawn. */
export function drawSession(kind: SessionKind, seed: number, change: Partial<SessionStrengths> = {}): DrawnSession {
  const s = { ...drawStrengths(kind, seed), ...change };
  const random = new Random(seed, 'way of the rover');
  const axes = localAxes(s.latRad, s.lonRad);
  const baseM = earthCentred(s.latRad, s.lonRad, s.heightM);
  const { startSow, sky } = underOpenSky(s, seed, random, baseM, axes);
  const endSow = startSow + s.lengthS;
  const way = random.between(0, 2 * Math.PI);
  const [east0, north0] = [s.baselineM * Math.sin(way), s.baselineM * Math.cos(way)];
  const turns = Array.from({ length: 5 }, () => {
    const periodS = random.between(25, 240);
    return { periodS, phase: random.between(0, 6), sizeM: (s.speed * periodS) / 12, east: random.uniform() < 0.5 };
  });
  /** East, north, up of the base, metres: at rest for a minute, then on the way. */
  const shift = (sow: number): [number, number, number] => {
    const t = Math.max(0, sow - startSow - 60);
    const out: [number, number, number] = [east0, north0, s.climbM];
    for (const w of turns) {
      const v = w.sizeM * (Math.cos(w.phase) - Math.cos(w.phase + (2 * Math.PI * t * t) / ((t + 20) * w.periodS)));
      out[w.east ? 0 : 1] += v;
      out[2] += 0.02 * v;
    }
    return out;
  };
  const placeAt = (sow: number): [number, number, number] => {
    const [e, n, u] = shift(sow);
    return [0, 1, 2].map((k) => baseM[k] + e * axes.east[k] + n * axes.north[k] + u * axes.up[k]) as [
      number,
      number,
      number,
    ];
  };
  const air = makeAir(s.air, new Random(seed, 'air'), startSow, s.lengthS);
  const first = random.between(-4e-4, 4e-4);
  const blind: Array<[number, number]> = [];
  const count = Math.round((s.mishaps.blindPerHour * s.lengthS) / 3600);
  for (let k = 0; k < count; k++) {
    const from = random.between(startSow + 90, endSow - 60);
    blind.push([from, from + random.between(3, 40)]);
  }
  const rover = receive(
    {
      name: 'ROVER',
      seed,
      strength: s.rover,
      mishaps: s.mishaps,
      bands: s.bands,
      blind,
      tags: every(startSow, endSow, s.rateHz),
      clock: (tag) => {
        const phaseS = first + s.drift * (tag - startSow);
        return { codeS: s.jumps ? phaseS - 1e-3 * Math.round(phaseS / 1e-3) : phaseS, phaseS };
      },
      place: placeAt,
      local: (sow) => {
        const [e, n, u] = shift(sow);
        // the ellipsoid falls away below the plane of the base, and the vertical leans with it
        const heightM = s.heightM + u + (e * e + n * n) / (2 * EARTH_M);
        const latRad = s.latRad + n / EARTH_M;
        const there = localAxes(latRad, s.lonRad + e / (EARTH_M * Math.cos(latRad)));
        return { eastKm: e / 1000, northKm: n / 1000, heightM, axes: there };
      },
    },
    sky,
    air,
    WEEK,
  );
  const quiet = { ...s.mishaps, reflectedPerHour: 0, walls: 0, missingPerHour: 0.3, slipsPerHour: 0.3 };
  const base = receive(
    {
      name: 'BASE',
      seed: seed + 7919,
      strength: s.base,
      mishaps: quiet,
      bands: s.bands,
      blind: [],
      tags: every(startSow - 20, endSow + 20, 1),
      clock: (tag) => ({ codeS: 2e-8 * Math.sin(tag / 700), phaseS: 2e-8 * Math.sin(tag / 700) }),
      place: () => baseM,
      local: () => ({ eastKm: 0, northKm: 0, heightM: s.heightM, axes }),
    },
    sky,
    air,
    WEEK,
  );
  return {
    strengths: s,
    rover: rover.observations,
    base: base.observations,
    mishaps: rover.mishaps,
    records: sky.map(recordOf),
    baseM,
    placeAt,
    axes,
  };
}

/** Satellites of a system that a surveyor would wait for, above ten degrees. */
const ENOUGH = 7;

/** A time of the week when enough satellites stand above the place, at the beginning and at the end. */
function underOpenSky(
  s: SessionStrengths,
  seed: number,
  random: Random,
  place: [number, number, number],
  axes: ReturnType<typeof localAxes>,
) {
  for (let round = 0; ; round++) {
    const startSow = 100000 + Math.floor(random.between(0, 400000));
    const sky = drawSky(seed + 1000 * round, startSow + 600, s.systems, s.orbitM);
    const enough = [startSow, startSow + s.lengthS].every((sow) => {
      const seen = sky.filter((one) => along(axes.up, wayOf(one, sow, place).unit) > 0.174);
      return [...s.systems].every((system) => seen.filter((one) => one.name.startsWith(system)).length >= ENOUGH);
    });
    if (enough || round === 200) return { startSow, sky };
  }
}

function every(from: number, to: number, rateHz: number): Float64Array {
  return Float64Array.from({ length: Math.floor((to - from) * rateHz) + 1 }, (_, k) => from + k / rateHz);
}

/** What the satellite sends of itself, in the terms of a navigation file. */
function recordOf({ record: s }: ReturnType<typeof drawSky>[number]) {
  const h = s.harmonics;
  return {
    satellite: s.name,
    system: s.name[0] as 'G' | 'E',
    week: WEEK,
    tocS: s.toeSow,
    toeWeek: WEEK,
    toeS: s.toeSow,
    af0S: s.clockS,
    af1: s.clockRate,
    af2PerS: 0,
    sqrtA: s.sqrtA,
    e: s.e,
    i0: s.i0,
    omega0: s.node0,
    omega: s.perigee,
    m0: s.m0,
    deltaN: s.deltaN,
    iDot: s.inclinationRate,
    omegaDot: s.nodeRate,
    cuc: h.cuc,
    cus: h.cus,
    crcM: h.crc,
    crsM: h.crs,
    cic: h.cic,
    cis: h.cis,
    groupDelayS: s.groupDelayS,
    health: 0,
    iode: 1,
  };
}
