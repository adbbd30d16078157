import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import proj4 from 'proj4';
import { afterAll, describe, expect, it } from 'vitest';
import { DEG, gridText } from '@longheron/core/frames';
import { modelOfSystem, parseSystem, readSystemWkt, systemWkt1, systemWkt2, useGrid, wktOfSystem } from '..';
import { type SystemWkt } from '.';
import { projOf } from './methods';
import { SAMPLES } from './samples';

const folder = mkdtempSync(join(tmpdir(), 'lh-wkt-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const put = (name: string, text: string) => {
  writeFileSync(join(folder, name), text);
  return gridText(useGrid(join(folder, name)));
};

/** Plan of a place by a text alone, in the unit of the text. */
function planBy({ plan }: SystemWkt, latDeg: number, lonDeg: number): [number, number] {
  const { method, values, geographic: g, unit } = plan!;
  const figure = `+a=${g.ellipsoid.aM} +rf=${g.ellipsoid.rf}`;
  const from = proj4(`+proj=longlat ${figure}`, `${projOf(method, values)} ${figure} +units=m`);
  const [e, n] = from.forward([lonDeg - g.primeDeg, latDeg]);
  return [e / unit.metres, n / unit.metres];
}

describe('well-known text of other programs', () => {
  it.each(SAMPLES)('of EPSG:%i, WKT %i, gives the same plan to a tenth of a millimetre', (...sample) => {
    const [code, , lat, lon, e, n, text] = sample;
    const read = readSystemWkt(text, 'system.wkt');
    const at = planBy(read, lat, lon);
    expect(Math.abs(at[0] - e)).toBeLessThan(1e-4);
    expect(Math.abs(at[1] - n)).toBeLessThan(1e-4);
    expect(read.plan!.code).toBe(code);
  });

  it.each(SAMPLES.filter(([, kind]) => kind === 2))(
    'of EPSG:%i is written as either kind and read back',
    (_code, _kind, lat, lon, e, n, text) => {
      const read = readSystemWkt(text, 'system.wkt');
      for (const again of [systemWkt1(read), systemWkt2(read)]) {
        const at = planBy(readSystemWkt(again, 'again.wkt'), lat, lon);
        expect(Math.abs(at[0] - e)).toBeLessThan(1e-4);
        expect(Math.abs(at[1] - n)).toBeLessThan(1e-4);
      }
    },
  );

  it('computes by a file what it computes by the code of the list', () => {
    const text = SAMPLES.find(([code, kind]) => code === 25832 && kind === 2)![6];
    const own = parseSystem(`${put('utm.wkt', text)}+5773`);
    const listed = parseSystem('EPSG:25832+5773');
    const [a, b] = [new Float64Array(3), new Float64Array(3)];
    for (const [lat, lon] of [
      [56.08, 8.47],
      [54.2, 10.9],
    ]) {
      own.project(lat * DEG, lon * DEG, 50, a);
      listed.project(lat * DEG, lon * DEG, 50, b);
      a.forEach((v, k) => expect(Math.abs(v - b[k])).toBeLessThan(1e-8));
      expect(own.convergenceAndScale(lat * DEG, lon * DEG).scale).toBeCloseTo(
        listed.convergenceAndScale(lat * DEG, lon * DEG).scale,
        12,
      );
    }
    expect(own.label).toMatch(/^utm\.wkt@[0-9a-f]{12}\+5773$/);
  });
});

const LOCAL: SystemWkt = {
  name: 'Quay site',
  plan: {
    ...readSystemWkt(SAMPLES.find(([code, kind]) => code === 25832 && kind === 2)![6], 'utm.wkt').plan!,
    site: {
      name: 'Quay site',
      similarity: { fromM: [467000, 6215000], toM: [5000, 2000], scale: 1.0004, turnRad: 0.2 },
    },
  },
  heights: {
    name: 'Quay heights',
    base: 5773,
    unit: { name: 'metre', metres: 1 },
    depths: false,
    correction: { lat0Rad: 56.08 * DEG, lon0Rad: 8.47 * DEG, offsetM: -1.25, slopeNorth: 1e-5, slopeEast: -2e-5 },
  },
};

describe('a local system as well-known text', () => {
  const label = put('quay.wkt', systemWkt2(LOCAL));
  const system = parseSystem(label);
  const base = parseSystem('EPSG:25832+5773');
  const [a, b] = [new Float64Array(3), new Float64Array(3)];

  it('lies where its similarity and its heights put it', () => {
    const [lat, lon] = [56.083 * DEG, 8.472 * DEG];
    base.project(lat, lon, 48, b);
    system.project(lat, lon, 48, a);
    const [x, y] = [b[0] - 467000, b[1] - 6215000];
    const [cos, sin] = [1.0004 * Math.cos(0.2), 1.0004 * Math.sin(0.2)];
    expect(Math.abs(a[0] - (5000 + cos * x + sin * y))).toBeLessThan(1e-6);
    expect(Math.abs(a[1] - (2000 - sin * x + cos * y))).toBeLessThan(1e-6);
    // 334 m to the north by 1e-5 and 124 m to the east by −2e-5, by the radii at the place
    expect(Math.abs(a[2] - (b[2] - 1.25 + 334.0e-5 - 124.5e-5 * 2))).toBeLessThan(2e-5);
  });

  it('goes there and back within a hundredth of a millimetre', () => {
    system.project(56.083 * DEG, 8.472 * DEG, 48, a);
    const [e, n, h] = a;
    system.unproject(e, n, h, b);
    system.project(b[0], b[1], b[2], a);
    expect(Math.abs(b[0] - 56.083 * DEG) * 6.4e6).toBeLessThan(1e-5);
    expect([a[0] - e, a[1] - n, a[2] - h].every((v) => Math.abs(v) < 1e-6)).toBe(true);
  });

  it('has the scale and the convergence of its turned and stretched grid', () => {
    const [lat, lon, step] = [56.083 * DEG, 8.472 * DEG, 1e-6];
    const { scale, convergenceRad } = system.convergenceAndScale(lat, lon);
    system.project(lat - step, lon, 0, a);
    const [e, n] = a;
    system.project(lat + step, lon, 0, a);
    // grid azimuth of true north is minus the convergence
    expect(convergenceRad).toBeCloseTo(-Math.atan2(a[0] - e, a[1] - n), 9);
    expect(scale / base.convergenceAndScale(lat, lon).scale).toBeCloseTo(1.0004, 10);
  });

  it('is named in text for files, and leaves its heights for ellipsoidal ones where asked', () => {
    expect(wktOfSystem(system.definition)).toContain(`defined by ${label}`);
    const plain = parseSystem(`${label}+0`);
    expect(plain.label).toBe(`${label}+0`);
    plain.project(56.083 * DEG, 8.472 * DEG, 48, a);
    expect(a[2]).toBe(48);
  });

  it('lends its heights to another plan', () => {
    const mixed = parseSystem(`EPSG:25832+${label}`);
    const [lat, lon] = [56.083 * DEG, 8.472 * DEG];
    mixed.project(lat, lon, 48, a);
    system.project(lat, lon, 48, b);
    expect(a[2]).toBe(b[2]);
    expect(mixed.definition.verticalName).toBe('Quay heights');
    expect(wktOfSystem(mixed.definition)).toContain(`heights of ${label}`);
  });

  it('is the model again that it was written from', () => {
    const { plan, heights } = modelOfSystem(label);
    expect(plan!.site!.similarity.scale).toBe(1.0004);
    expect(heights).toEqual(LOCAL.heights);
    expect(systemWkt2(modelOfSystem('EPSG:25832+5773'))).toMatch(
      /^COMPOUNDCRS\["ETRS89 \/ UTM zone 32N \+ EGM96 height",PROJCRS/,
    );
  });
});

describe('what is no system that is known here', () => {
  const utm = SAMPLES.find(([code, kind]) => code === 25832 && kind === 1)![6];
  it.each([
    ['', /The text ends at character 1/],
    [utm.slice(0, 300), /not the text of a coordinate system/],
    [`${utm}]`, /does not end where it should/],
    ['PROJCS["a","b"', /The text ends/],
    ['PROJCS["open]', /quotation mark is not closed at character 8/],
    ['A['.repeat(60), /nested too deeply/],
    [utm.replace('Transverse_Mercator', 'Bonne'), /by the projection “Bonne”, which is not computed here/],
    [utm.replace('0.9996', '0'), /Scale factor at natural origin is 0, which makes no sense/],
    [utm.replace('500000', '1e300'), /False easting is 1e\+300/],
    [utm.replace('UNIT["metre",1', 'UNIT["parsec",3e16'), /a unit of 30000000000000000 m/],
    [utm.replace('6378137', '637'), /names no ellipsoid of the Earth/],
    [utm.replace('PARAMETER["central_meridian"', 'PARAMETER["wobble"'), /“wobble” is no value of Transverse Mercator/],
    [utm.replace('"Easting",EAST', '"Westing",WEST'), /counts towards west/],
    ['GEOGCS["WGS 84",DATUM["x",SPHEROID["WGS 84",6378137,298.257223563]]]', /in latitude and longitude/],
    ['VERT_CS["Local",VERT_DATUM["who knows",2005],UNIT["metre",1],AXIS["Up",UP]]', /does not say from what/],
  ])('%# is refused in words', (text, words) => {
    expect(() => readSystemWkt(text, 'bad.wkt')).toThrow(words);
  });
});
