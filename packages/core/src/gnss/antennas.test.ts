import { describe, expect, it } from 'vitest';
import { gpsFromUnix } from '../time';
import { centreOf, findAntenna, phaseCentreM, sunAndMoonM, tideOf, siderealTimeRad, type Antenna } from '.';

const DEG = Math.PI / 180;
const base = {
  serial: '',
  zenithFromDeg: 0,
  zenithStepDeg: 45,
  azimuthStepDeg: 90,
  fromGps: -Infinity,
  toGps: Infinity,
};
const centre = {
  offsetM: [0.001, -0.002, 0.1] as [number, number, number],
  anyAzimuthM: Float64Array.of(0, 0.004, 0.01),
  byAzimuthM: Float64Array.from(
    [
      [0, 0.005, 0.011],
      [0, 0.003, 0.009],
      [0, 0.005, 0.011],
      [0, 0.003, 0.009],
      [0, 0.005, 0.011],
    ].flat(),
  ),
};
const antenna: Antenna = { ...base, type: 'TEST ANT        NONE', centres: new Map([['G01', centre]]) };

describe('the phase centre of an antenna', () => {
  it('lengthens the way by its variation and shortens it by its offset', () => {
    // by hand: zenith, then 45° to the north-east half-way between two azimuths
    expect(phaseCentreM(antenna, centre, 1, 0)).toBeCloseTo(-0.1, 12);
    const flat = Math.cos(45 * DEG) * (0.001 * Math.cos(45 * DEG) - 0.002 * Math.sin(45 * DEG));
    expect(phaseCentreM(antenna, centre, Math.sin(45 * DEG), 45 * DEG)).toBeCloseTo(
      0.004 - 0.1 * Math.sin(45 * DEG) - flat,
      12,
    );
    // 22.5° of elevation lies half-way between 45° and the horizon
    expect(phaseCentreM(antenna, centre, Math.sin(22.5 * DEG), NaN)).toBeCloseTo(
      0.007 - 0.1 * Math.sin(22.5 * DEG),
      12,
    );
  });
  it('is found by the name of the header, without its radome when that is unknown', () => {
    expect(findAntenna([antenna], 'TEST ANT')?.instead).toBe('');
    expect(findAntenna([antenna], 'TEST ANT        NONE  ')?.antenna).toBe(antenna);
    expect(findAntenna([antenna], 'TEST ANT        DOME')?.instead).toContain('DOME');
    expect(findAntenna([antenna], 'OTHER           NONE')).toBeUndefined();
    expect(findAntenna([antenna], '')).toBeUndefined();
    expect(centreOf(antenna, 'E', '1')).toBe(centre);
    expect(centreOf(antenna, 'E', '5')).toBeUndefined();
  });
});

describe('the tide of the solid Earth', () => {
  // test case that the IERS Conventions (2010) print with their routine: station, Sun and Moon at 2009-04-13 0 h UTC
  const at = [4075578.385, 931852.89, 4801570.154];
  const sun = [137859926952.015, 54228127881.435, 23509422341.696];
  const moon = [-179996231.920342, -312468450.131567, -169288918.59216];
  const gps = gpsFromUnix(Date.UTC(2009, 3, 13) / 1000);
  it('is that of the conventions to three millimetres', () => {
    const d = tideOf(at, sun, moon, siderealTimeRad(gps, 15));
    const published = [0.07700420357108125891, 0.06304056321824967613, 0.0551656815259724681];
    published.forEach((v, k) => expect(Math.abs(d[k] - v)).toBeLessThan(0.003));
  });
  it('comes from a Sun within 0.02° and a Moon within 0.5°', () => {
    const made = sunAndMoonM(gps, 15);
    // the places printed are in axes that do not turn with the Earth
    const turn = siderealTimeRad(gps, 15);
    for (const body of [made.sun, made.moon])
      body.set([
        body[0] * Math.cos(turn) - body[1] * Math.sin(turn),
        body[0] * Math.sin(turn) + body[1] * Math.cos(turn),
      ]);
    const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => {
      const dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
      return Math.acos(dot / Math.hypot(a[0], a[1], a[2]) / Math.hypot(b[0], b[1], b[2])) / DEG;
    };
    expect(apart(made.sun, sun)).toBeLessThan(0.02);
    expect(apart(made.moon, moon)).toBeLessThan(0.5);
    expect(Math.hypot(...made.sun) / Math.hypot(...sun)).toBeCloseTo(1, 3);
    expect(Math.hypot(...made.moon) / Math.hypot(...moon)).toBeCloseTo(1, 2);
  });
});
