import { beforeAll, describe, expect, it } from 'vitest';
import { ecefToNed, ecefToGeodetic, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import {
  broadcastOrbit,
  BroadcastOrbits,
  findAntenna,
  KINEMATIC_DEFAULTS,
  kinematicPositions,
  pointPosition,
  PreciseOrbits,
  type KinematicEpoch,
  type KinematicSettings,
  type Observations,
} from '@longheron/core/gnss';
import { parseSystem } from '@longheron/formats/crs';
import { readAntennas } from '@longheron/formats/antex';
import { readNavigation } from '@longheron/formats/navigation';
import { readObservations } from '@longheron/formats/rinex';
import { readOrbits } from '@longheron/formats/sp3';
import { outages } from '../drive';
import { siteDrive } from '../files';
import {
  BASE_ANTENNA_HEIGHT_M,
  FAR_BASE_PLACE,
  sessionFiles,
  siteOrbit,
  vehicleSession,
  type SessionOptions,
  type VehicleSession,
} from '.';

const system = parseSystem('EPSG:25832+5773');
const bytes = (text: string) => new TextEncoder().encode(text);

interface Made {
  session: VehicleSession;
  rover: Observations;
  base: Observations;
  orbits: BroadcastOrbits;
  baseM: Float64Array;
  /** With the calibrations of both antennas. */
  settings: KinematicSettings;
  text: ReturnType<typeof sessionFiles>;
}

/** A hundred seconds of the drive around the rail bridge, read back from its RINEX texts. */
function make(seed: number, factor: number, other: Partial<SessionOptions> = {}): Made {
  const drive = siteDrive();
  const [gap] = outages(drive);
  const session = vehicleSession(drive, system, {
    seed,
    factor,
    roverRateHz: 5,
    fromSow: gap.startSow - 60,
    toSow: gap.startSow + 40,
    ...other,
  });
  const text = sessionFiles(session);
  const [lat, lon, h] = ecefToGeodetic(GRS80, session.baseMarkerM[0], session.baseMarkerM[1], session.baseMarkerM[2]);
  const rover = readObservations(bytes(text.rover), 'rover').observations;
  const base = readObservations(bytes(text.base), 'base').observations;
  const antennas = readAntennas(bytes(text.antennas), 'antennas');
  return {
    session,
    rover,
    base,
    text,
    settings: {
      ...KINEMATIC_DEFAULTS,
      rover: { antenna: findAntenna(antennas, rover.antenna)!.antenna },
      base: { antenna: findAntenna(antennas, base.antenna)!.antenna, pointsNorth: true },
    },
    orbits: new BroadcastOrbits(readNavigation(bytes(text.navigation), 'nav').records),
    baseM: geodeticToEcef(GRS80, lat, lon, h + BASE_ANTENNA_HEIGHT_M),
  };
}

/** North, east, down errors, and the same over their stated deviations. */
function errors(made: Made, e: KinematicEpoch): { ned: number[]; normalised: number[] } {
  const truth = new Float64Array(3);
  made.session.antennaAt(e.sow, truth);
  const geo = ecefToGeodetic(GRS80, truth[0], truth[1], truth[2]);
  const axes = ecefToNed(geo[0], geo[1]);
  const ned = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, i) => s + axes[3 * k + i] * (e.xyzM[i] - truth[i]), 0));
  const normalised = ned.map((v, k) => {
    let q = 0;
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) q += axes[3 * k + i] * e.covariance[3 * i + j] * axes[3 * k + j];
    return v / Math.sqrt(q);
  });
  return { ned, normalised };
}

const rms = (v: number[]) => Math.sqrt(v.reduce((s, x) => s + x * x, 0) / v.length);

describe('the navigation file', () => {
  it('puts the satellites where the site has them, to a tenth of a millimetre', () => {
    const { session, orbits } = make(1, 0);
    const [mine, theirs] = [new Float64Array(4), new Float64Array(4)];
    for (const s of session.sky)
      for (const sow of [205200, 206100.5, 207000]) {
        siteOrbit(s, sow, mine);
        broadcastOrbit(orbits.at(s.name, 2423, sow)!, 2423, sow, theirs);
        expect(Math.hypot(mine[0] - theirs[0], mine[1] - theirs[1], mine[2] - theirs[2])).toBeLessThan(1e-4);
        expect(Math.abs(mine[3] - theirs[3])).toBeLessThan(1e-13);
      }
  });
});

describe('the precise orbits', () => {
  it('put the antennas of the satellites where the site has them, to the millimetre that the file holds', () => {
    const { session, text, orbits } = make(1, 0);
    const precise = new PreciseOrbits(readOrbits(bytes(text.orbits), 'sp3'), readAntennas(bytes(text.antennas), 'atx'));
    const mine = new Float64Array(4);
    for (const s of session.sky)
      for (const sow of [205201.3, 205950.5]) {
        const broadcast = orbits.sent(s.name, 2423, sow)!;
        const there = precise.sent(s.name, 2423, sow)!;
        siteOrbit(s, sow - there.orbit[3], mine);
        expect(Math.hypot(...[0, 1, 2].map((k) => mine[k] - there.orbit[k]))).toBeLessThan(0.003);
        // clocks stand in the file to a picosecond: 0.3 mm
        expect(Math.abs(broadcast.orbit[3] - there.orbit[3])).toBeLessThan(2e-12);
      }
    expect(precise.sent('G01', 2423, session.base[0].sow - 4000)).toBeUndefined();
    expect(precise.sent('G99', 2423, 205300)).toBeUndefined();
  });
});

describe('positions', () => {
  it('by codes lie within metres of the truth, and give the receiver’s clock', () => {
    const made = make(3, 1);
    const truth = new Float64Array(3);
    for (const epoch of [0, 100, 250]) {
      const p = pointPosition(made.rover, epoch, made.orbits)!;
      made.session.antennaAt(made.rover.sow[epoch], truth);
      expect(Math.hypot(p.xyzM[0] - truth[0], p.xyzM[1] - truth[1], p.xyzM[2] - truth[2])).toBeLessThan(6);
      expect(Math.abs(p.clockS)).toBeLessThan(6e-4);
      expect(p.satellites).toBeGreaterThan(12);
    }
  });
  it('of a session without noise are right to a millimetre: times, orbits, rotation, clocks and differences agree', () => {
    const made = make(1, 0);
    const found = kinematicPositions(made.rover, made.base, made.baseM, made.orbits, made.settings);
    expect(found.every((e) => e.solution === 'fixed')).toBe(true);
    for (const e of found) {
      const { ned } = errors(made, e);
      expect(Math.hypot(ned[0], ned[1])).toBeLessThan(3e-4);
      // site and solver take the troposphere by different formulas: 6 m of height between rover and base
      expect(Math.abs(ned[2])).toBeLessThan(1.5e-3);
    }
  });

  it('are off by the antennas’ phase centres without their calibrations, and right with precise orbits', () => {
    const made = make(1, 0, { roverRateHz: 1 });
    const height = (epochs: KinematicEpoch[]) => errors(made, epochs[20]).ned[2];
    const { rover, base, baseM, orbits, text } = made;
    const bare = height(kinematicPositions(rover, base, baseM, orbits));
    // the site's closed forms: 2nd band 69 mm, 1st 36 mm apart, and what the tropospheric clock does not take up
    expect(Math.abs(bare)).toBeGreaterThan(0.03);
    const precise = new PreciseOrbits(
      readOrbits(bytes(text.orbits), 'sp3'),
      readAntennas(bytes(text.antennas), 'atx'),
      orbits,
    );
    expect(Math.abs(height(kinematicPositions(rover, base, baseM, precise, made.settings)))).toBeLessThan(1.5e-3);
  });

  it('are the same observations through the older pair, RINEX 2.11, whose base ends early', () => {
    const made = make(2, 1);
    const { text } = made;
    const older = readObservations(bytes(text.olderRover), 'old').observations;
    const { rover } = made;
    expect(older.sow.length).toBeGreaterThan(80);
    const value = (o: Observations, sow: number, satellite: string, type: string) => {
      const k = o.sow.findIndex((v) => Math.abs(v - sow) < 1e-6);
      for (let row = o.start[k]; row < o.start[k + 1]; row++)
        if (o.satellites[o.satellite[row]] === satellite)
          return o.values[row * o.width + o.types[satellite[0] as 'G']!.indexOf(type)];
      return undefined;
    };
    let compared = 0;
    for (const sow of older.sow.filter((_, i) => i % 9 === 0))
      for (const satellite of older.satellites)
        for (const type of satellite[0] === 'G' ? ['C1C', 'L1C', 'C2W', 'L2W'] : ['C1C', 'L1C', 'C5X', 'L5X']) {
          const here = value(older, sow, satellite, type) ?? NaN;
          const there = value(rover, sow, satellite, type.replace('5X', '5Q')) ?? NaN;
          if (Number.isNaN(there)) continue;
          expect(here).toBe(there);
          compared++;
        }
    expect(compared).toBeGreaterThan(500);
    const base = readObservations(bytes(text.olderBase || text.base), 'old base').observations;
    expect(rover.sow[rover.sow.length - 1] - base.sow[base.sow.length - 1]).toBeGreaterThan(119);
  });

  describe('at medium noise', () => {
    let made: Made;
    let found: KinematicEpoch[];
    beforeAll(() => {
      made = make(5, 1);
      found = kinematicPositions(made.rover, made.base, made.baseM, made.orbits, made.settings);
    });
    it('are fixed but for the outage, with no wrong integers', () => {
      const drive = siteDrive();
      const [gap] = outages(drive);
      expect(found.some((e) => e.sow > gap.startSow + 0.01 && e.sow < gap.endSow - 0.01)).toBe(false);
      expect(found.filter((e) => e.solution === 'fixed').length / found.length).toBeGreaterThan(0.97);
      for (const e of found) if (e.solution === 'fixed') expect(Math.hypot(...errors(made, e).ned)).toBeLessThan(0.04);
    });
    it('are as good as they state', () => {
      const all = found.filter((e) => e.solution === 'fixed').map((e) => errors(made, e));
      for (const k of [0, 1, 2]) {
        // multipath stays for a minute, so that a short span has few independent errors
        const spread = rms(all.map((e) => e.normalised[k]));
        expect(spread).toBeGreaterThan(0.4);
        expect(spread).toBeLessThan(1.8);
      }
    });
    it('are float and say so when integers cannot be found: one band alone', () => {
      const { rover, base, orbits, baseM, settings } = made;
      const single = (o: Observations): Observations => ({
        ...o,
        types: { G: o.types.G, E: o.types.E },
        values: o.values.map((v, i) => (i % o.width === 4 ? NaN : v)),
      });
      const weak = kinematicPositions(
        single(rover),
        single(base),
        baseM,
        orbits,
        { ...settings, systems: ['G'], maskDeg: 25 },
        undefined,
        0,
        150,
      );
      for (const e of weak) {
        const { ned, normalised } = errors(made, e);
        if (e.solution === 'fixed') expect(Math.hypot(...ned)).toBeLessThan(0.1);
        else expect(Math.max(...normalised.map(Math.abs))).toBeLessThan(6);
      }
    });
    it('can leave satellites out and run one way alone', () => {
      const some = kinematicPositions(
        made.rover,
        made.base,
        made.baseM,
        made.orbits,
        { ...made.settings, direction: 'forward', leftOut: [made.rover.satellites[0]] },
        undefined,
        0,
        60,
      );
      expect(some.length).toBe(60);
      expect(some[0].solution).toBe('float');
      expect(some[59].solution).toBe('fixed');
      expect(Math.max(...some.map((e) => e.satellites))).toBeLessThan(Math.max(...found.map((e) => e.satellites)));
    });
  });

  it('to a station 8 km away are rid of the ionosphere, which bends them by centimetres', () => {
    const first = siteDrive().startSow;
    const far = { basePlace: FAR_BASE_PLACE, roverRateHz: 1, fromSow: first + 10, toSow: first + 210 };
    const made = make(1, 1, far);
    const epochs = kinematicPositions(made.rover, made.base, made.baseM, made.orbits, made.settings);
    const fixed = epochs.filter((e) => e.solution === 'fixed').map((e) => errors(made, e));
    expect(fixed.length).toBeGreaterThan(0.97 * epochs.length);
    const mean = [0, 1, 2].map((k) => fixed.reduce((s, e) => s + e.ned[k], 0) / fixed.length);
    expect(Math.hypot(mean[0], mean[1])).toBeLessThan(0.01);
    expect(Math.abs(mean[2])).toBeLessThan(0.02);
  });
});
