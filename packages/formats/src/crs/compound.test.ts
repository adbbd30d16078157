import { describe, expect, it } from 'vitest';
import { DEG, EGM96 } from '@longheron/core/frames';
import { parseSystem, systemDefinition, wktOfSystem } from '.';

/** EGM96 is kept here to the centimetre. */
const EGM96_ROUNDING_M = 0.006;

describe('compound systems against PROJ 9.1.1, from 100 m above the ellipsoid', () => {
  it.each([
    ['EPSG:25832+5773', 56.0831, 8.4712, 467090.8774, 6215454.4803, 59.3024],
    ['EPSG:3067+5773', 61.5, 24.2, 350978.1837, 6821682.6481, 81.3535],
    ['EPSG:2180+5773', 52.2, 20.9, 629809.0814, 483248.4195, 68.4981],
    ['EPSG:2154+5773', 45.76, 4.84, 843011.1355, 6519488.0623, 50.185],
    ['EPSG:3035+5773', 50.1, 14.4, 4635621.1434, 3008070.5194, 54.9107],
    ['EPSG:32756+5773', -33.86, 151.2, 333491.2299, 6251909.206, 77.5316],
  ])('%s', (text, latDeg, lonDeg, e, n, h) => {
    const system = parseSystem(text);
    const [at, back] = [new Float64Array(3), new Float64Array(3)];
    system.project(latDeg * DEG, lonDeg * DEG, 100, at);
    expect(Math.hypot(at[0] - e, at[1] - n)).toBeLessThan(2e-4);
    expect(Math.abs(at[2] - h)).toBeLessThan(EGM96_ROUNDING_M);
    system.unproject(at[0], at[1], at[2], back);
    expect(Math.abs(back[0] / DEG - latDeg)).toBeLessThan(1e-9);
    expect(Math.abs(back[1] / DEG - lonDeg)).toBeLessThan(1e-9);
    expect(back[2]).toBeCloseTo(100, 6);
    expect(system.label).toBe(text);
    expect(system.datum.way).toBe('none');
  });

  it.each([
    [8.4712, 56.0831, 40.697578],
    [-71.06, 42.36, -28.540262],
    [151.2, -33.86, 22.468397],
    [139.7, 35.68, 36.71295],
    [-0.12, 51.5, 45.951612],
  ])('EGM96 at %f, %f', (lon, lat, undulationM) => {
    expect(Math.abs(EGM96.undulation(lat * DEG, lon * DEG) - undulationM)).toBeLessThan(EGM96_ROUNDING_M);
  });
});

describe('names of systems', () => {
  const grid = { name: 'land.gtx', sha12: '0123456789ab' };
  it('in WKT say which grids are meant, and nothing else where there are none', () => {
    const plain = wktOfSystem(systemDefinition(25832, 5773));
    expect(plain).toMatch(/^COMPD_CS\["ETRS89 \/ UTM zone 32N \+ EGM96 height",PROJCS/);
    expect(plain).not.toContain('@');
    const above = wktOfSystem(systemDefinition(25832, grid));
    expect(above).toContain('VERT_DATUM["geoid land.gtx@0123456789ab",2005,EXTENSION["PROJ4_GRIDS","land.gtx"]]');
    const shifted = wktOfSystem(systemDefinition(31467, 0, grid));
    expect(shifted).toMatch(/^COMPD_CS\["[^"]+ \+ ellipsoidal height, shifted by land\.gtx@0123456789ab",PROJCS/);
    // brackets close as often as they open
    for (const wkt of [plain, above, shifted]) expect(wkt.split('[').length).toBe(wkt.split(']').length);
  });

  it.each(['EPSG:25832+', 'EPSG:25832+land.gtx', 'EPSG:25832+land.gtx@0123', 'EPSG:25832~land.gtx', '25832++5773'])(
    '%s is refused',
    (text) => expect(() => parseSystem(text)).toThrow(/does not name a coordinate system/),
  );
});
