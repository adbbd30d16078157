import { Random } from '@longheron/core/numeric';
import { type Air, mapping, shell } from './air';
import { along, type LocalAxes } from './earth';
import { type TrueSatellite, wayOf } from './sky';
import { type Mishaps, type ReceiverStrength } from './strengths';

const LIGHT = 299792458;
const BANDS = { G: [1575.42e6, 1227.6e6], E: [1575.42e6, 1176.45e6] };
const LOWEST_SIN = Math.sin((5 * Math.PI) / 180);

/** Columns of both bands by system, as an observation file names them. */
export const COLUMNS: Record<string, string[]> = {
  G: ['C1C', 'L1C', 'S1C', 'C2W', 'L2W', 'S2W'],
  E: ['C1X', 'L1X', 'S1X', 'C5X', 'L5X', 'S5X'],
};
const WIDTH = 6;

/** Something that went wrong on purpose. */
export interface Mishap {
  sow: number;
  satellite: string;
  what: 'slip' | 'missing' | 'reflected';
  band: number;
  cycles: number;
  told: boolean;
}

export interface Setting {
  name: string;
  seed: number;
  tags: Float64Array;
  strength: ReceiverStrength;
  mishaps: Mishaps;
  bands: 1 | 2;
  /** Clock against GPS time at a tag, seconds: of codes and time tags, and of phases. */
  clock(tag: number): { codeS: number; phaseS: number };
  place(sow: number): [number, number, number];
  /** East and north of the session's origin, km; height above the ellipsoid, metres; directions there. */
  local(sow: number): { eastKm: number; northKm: number; heightM: number; axes: LocalAxes };
  blind: Array<[number, number]>;
}

interface Channel {
  cycles: number;
  code: number;
  phase: number;
  tauS: number;
  lostUntil: number;
  told: boolean;
}

interface Track {
  lastTag: number;
  channels: Channel[];
  reflectedUntil: number;
  reflectedM: number;
}

/** Columns of what a receiver wrote down, in the arrays that readers of observation files make. */
export function receive(r: Setting, sky: TrueSatellite[], air: Air, week: number) {
  const random = new Random(r.seed, `receiver of ${r.name}`);
  const mishaps: Mishap[] = [];
  const tracks = new Map<string, Track>();
  const start = [0];
  const satellite: number[] = [];
  const rows: number[][] = [];
  const flags: number[][] = [];
  const wall = random.between(0, 2 * Math.PI);
  for (let k = 0; k < r.tags.length; k++) {
    const tag = r.tags[k];
    const step = k > 0 ? tag - r.tags[k - 1] : 1;
    const { codeS, phaseS } = r.clock(tag);
    const sow = tag - codeS;
    const place = r.place(sow);
    const local = r.local(sow);
    const blind = r.blind.some(([a, b]) => sow >= a && sow < b);
    sky.forEach((s, index) => {
      if (blind) return;
      const way = wayOf(s, sow, place);
      const sinEl = along(local.axes.up, way.unit);
      if (sinEl < LOWEST_SIN) return;
      const azimuth = Math.atan2(along(local.axes.east, way.unit), along(local.axes.north, way.unit));
      if (behindWall(azimuth - wall, sinEl, r.mishaps)) return;
      const hz = BANDS[s.name[0] as 'G' | 'E'];
      const { factor, reachKm } = shell(sinEl);
      const ionosphereM =
        factor *
        air.verticalM(local.eastKm + reachKm * Math.sin(azimuth), local.northKm + reachKm * Math.cos(azimuth), sow);
      const airM =
        air.dryM(local.heightM) * mapping(sinEl, false) +
        air.wetM(local.eastKm, local.northKm, local.heightM, sow) * mapping(sinEl, true);
      const common = way.lengthM - LIGHT * way.clockS + airM;
      let t = tracks.get(s.name);
      if (!t || tag - t.lastTag > 1.5 * step + 0.01) {
        t = begin(random, r.strength);
        tracks.set(s.name, t);
      }
      const dt = Math.max(0, tag - t.lastTag);
      const chance = (perHour: number) => random.uniform() < (perHour * Math.min(dt, step)) / 3600;
      if (chance(r.mishaps.reflectedPerHour)) {
        t.reflectedUntil = tag + random.between(10, 60);
        t.reflectedM = random.between(4, 40);
        mishaps.push({ sow: tag, satellite: s.name, what: 'reflected', band: 0, cycles: 0, told: false });
      }
      const row = new Array<number>(WIDTH).fill(Number.NaN);
      const flag = new Array<number>(WIDTH).fill(0);
      for (let b = 0; b < r.bands; b++) {
        const c = t.channels[b];
        const told = { now: c.told };
        c.told = false;
        if (chance(r.mishaps.slipsPerHour)) slip(c, random, r.mishaps.told, mishaps, tag, s.name, b, told);
        if (b === 1 && chance(r.mishaps.missingPerHour)) {
          c.lostUntil = tag + random.between(2, 40);
          mishaps.push({ sow: tag, satellite: s.name, what: 'missing', band: b, cycles: 0, told: false });
          if (random.uniform() < r.mishaps.missingSlips) slip(c, random, 0, mishaps, tag, s.name, b, told);
        }
        const keep = Math.exp(-dt / c.tauS);
        const drive = Math.sqrt(1 - keep * keep);
        c.code = keep * c.code + drive * random.normal();
        c.phase = keep * c.phase + drive * random.normal();
        const low = 0.35 + Math.exp(-Math.asin(sinEl) / 0.45);
        const noise = 0.6 + 0.5 / sinEl;
        const dB = 38 + 13 * Math.sqrt(sinEl) - 3 * b + 0.7 * random.normal();
        const gamma = (hz[0] / hz[b]) ** 2;
        const code =
          common +
          LIGHT * codeS +
          gamma * (ionosphereM + LIGHT * s.record.groupDelayS) +
          r.strength.codeM * noise * random.normal() +
          r.strength.codePathM * low * c.code +
          (tag < t.reflectedUntil ? t.reflectedM : 0);
        const phase =
          common +
          LIGHT * phaseS -
          gamma * ionosphereM +
          r.strength.phaseM * noise * random.normal() +
          r.strength.phasePathM * low * c.phase;
        if (tag < c.lostUntil) continue;
        row[3 * b] = Math.round(code * 1000) / 1000;
        row[3 * b + 1] = Math.round(((phase * hz[b]) / LIGHT + c.cycles) * 1000) / 1000;
        row[3 * b + 2] = Math.round(dB * 10) / 10;
        flag[3 * b + 1] = told.now || t.lastTag === -Infinity ? 1 : 0;
      }
      t.lastTag = tag;
      satellite.push(index);
      rows.push(row);
      flags.push(flag);
    });
    start.push(rows.length);
  }
  const values = new Float64Array(rows.length * WIDTH);
  const lost = new Uint8Array(rows.length * WIDTH);
  rows.forEach((row, i) => values.set(row, i * WIDTH));
  flags.forEach((row, i) => lost.set(row, i * WIDTH));
  const types: Record<string, string[]> = {};
  for (const s of sky) types[s.name[0]] = COLUMNS[s.name[0]].slice(0, 3 * r.bands);
  return {
    observations: {
      marker: r.name,
      receiver: 'MADE UP',
      antenna: '',
      antennaDeltaM: [0, 0, 0] as [number, number, number],
      types,
      week,
      sow: r.tags,
      start: Uint32Array.from(start),
      satellite: Uint16Array.from(satellite),
      satellites: sky.map((s) => s.name),
      width: WIDTH,
      values,
      lost,
    },
    mishaps,
  };
}

function behindWall(azimuth: number, sinEl: number, m: Mishaps): boolean {
  const off = Math.abs(((azimuth + 3 * Math.PI) % (2 * Math.PI)) - Math.PI);
  return off < m.walls / 2 && sinEl < m.wallSin;
}

function begin(random: Random, s: ReceiverStrength): Track {
  const channels = [0, 1].map(() => ({
    cycles: Math.round(random.between(-5e6, 5e6)),
    code: random.normal(),
    phase: random.normal(),
    tauS: random.between(s.pathTauS[0], s.pathTauS[1]),
    lostUntil: -Infinity,
    told: true,
  }));
  return { lastTag: -Infinity, channels, reflectedUntil: -Infinity, reflectedM: 0 };
}

function slip(
  c: Channel,
  random: Random,
  toldShare: number,
  mishaps: Mishap[],
  sow: number,
  satellite: string,
  band: number,
  told: { now: boolean },
): void {
  // from a single cycle to thousands
  const size = Math.max(1, Math.round(Math.exp(random.between(0, 8))));
  const cycles = random.uniform() < 0.5 ? size : -size;
  c.cycles += cycles;
  if (random.uniform() < toldShare) told.now = true;
  mishaps.push({ sow, satellite, what: 'slip', band, cycles, told: told.now });
}
