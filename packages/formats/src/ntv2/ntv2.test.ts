import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, gridText } from '@longheron/core/frames';
import { parseSystem, useGrid } from '../crs';
import { readNtv2 } from '.';

interface Part {
  name: string;
  south: number;
  west: number;
  rows: number;
  columns: number;
  step: number;
}
const COARSE: Part = { name: 'WHOLE', south: 50, west: 8, rows: 5, columns: 7, step: 0.5 };
const FINE: Part = { name: 'CITY', south: 51, west: 9, rows: 5, columns: 5, step: 0.125 };
/** Shifts in arc seconds that a straight line between values follows: to the north, and to the east. */
const north = (lat: number, lon: number) => -4 + 0.2 * (lat - 51) + 0.1 * (lon - 9);
const east = (lat: number, lon: number) => -3 - 0.3 * (lat - 51) + 0.15 * (lon - 9);

/** An NTv2 file, record by record after its description. @param lift seconds more in the finer part. */
function ntv2(parts: Part[], little = true, lift = 0): Uint8Array {
  const nodes = parts.reduce((n, p) => n + p.rows * p.columns, 0);
  const out = new Uint8Array(16 * (11 + 11 * parts.length + nodes + 1));
  const v = new DataView(out.buffer);
  let at = 0;
  const key = (name: string) => out.set(new TextEncoder().encode(name.padEnd(8)), at);
  const whole = (name: string, value: number) => {
    key(name);
    v.setInt32(at + 8, value, little);
    at += 16;
  };
  const words = (name: string, value: string) => {
    key(name);
    out.set(new TextEncoder().encode(value.padEnd(8)), at + 8);
    at += 16;
  };
  const real = (name: string, value: number) => {
    key(name);
    v.setFloat64(at + 8, value, little);
    at += 16;
  };
  whole('NUM_OREC', 11);
  whole('NUM_SREC', 11);
  whole('NUM_FILE', parts.length);
  words('GS_TYPE', 'SECONDS');
  words('VERSION', 'NTv2.0');
  words('SYSTEM_F', 'OLD');
  words('SYSTEM_T', 'ETRS89');
  for (const name of ['MAJOR_F', 'MINOR_F', 'MAJOR_T', 'MINOR_T']) real(name, 6377397.155);
  for (const p of parts) {
    words('SUB_NAME', p.name);
    words('PARENT', p === parts[0] ? 'NONE' : parts[0].name);
    words('CREATED', '20260101');
    words('UPDATED', '20260101');
    real('S_LAT', 3600 * p.south);
    real('N_LAT', 3600 * (p.south + (p.rows - 1) * p.step));
    real('E_LONG', -3600 * (p.west + (p.columns - 1) * p.step));
    real('W_LONG', -3600 * p.west);
    real('LAT_INC', 3600 * p.step);
    real('LONG_INC', 3600 * p.step);
    whole('GS_COUNT', p.rows * p.columns);
    for (let r = 0; r < p.rows; r++)
      for (let c = p.columns - 1; c >= 0; c--) {
        const [lat, lon] = [p.south + r * p.step, p.west + c * p.step];
        v.setFloat32(at, north(lat, lon) + (p === parts[0] ? 0 : lift), little);
        // longitudes are positive to the west
        v.setFloat32(at + 4, -east(lat, lon), little);
        at += 16;
      }
  }
  words('END', '');
  return out;
}

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'longheron-ntv2-'));
});
afterAll(() => rmSync(folder, { recursive: true }));
const put = (name: string, bytes: Uint8Array) => {
  writeFileSync(join(folder, name), bytes);
  return join(folder, name);
};

describe('a grid of datum shifts', () => {
  it.each([true, false])('is read in either order of bytes, and turned to run eastwards (little: %s)', (little) => {
    const g = readNtv2(ntv2([COARSE, FINE], little), 'g.gsb');
    expect([g.from, g.to, g.parts.map((p) => [p.name, p.rows, p.columns])]).toEqual([
      'OLD',
      'ETRS89',
      [
        ['WHOLE', 5, 7],
        ['CITY', 5, 5],
      ],
    ]);
    const [whole] = g.parts;
    expect([whole.southDeg, whole.westDeg]).toEqual([50, 8]);
    expect(whole.lonSec[1 * 7 + 2]).toBeCloseTo(east(50.5, 9), 5);
    expect(whole.latSec[1 * 7 + 2]).toBeCloseTo(north(50.5, 9), 5);
  });

  it('shifts plan by exactly what it says, by its finest part, and back to the same place', () => {
    const grid = useGrid(put('old.gsb', ntv2([COARSE, FINE], true, 0.5)));
    expect(grid.is).toBe('shift');
    const system = parseSystem(`EPSG:31467~${gridText(grid)}`);
    expect(system.label).toBe(`EPSG:31467~${gridText(grid)}`);
    expect(system.datum.statement).toBe('datum shift by the grid old.gsb, OLD to ETRS89, bilinear');
    // on the old datum's central meridian plan has no part of the shift in longitude
    const [own, frame, back] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
    for (const [e, n, lift] of [
      [3500000, 5600000, 0],
      [3520000, 5665000, 0.5],
    ] as const) {
      system.unproject(e, n, 100, frame);
      const [lat, lon] = [frame[0] / DEG, frame[1] / DEG];
      // the same plan without a shift: another system of that projection is not at hand, so the shift is undone by hand
      let [a, b] = [lat, lon];
      for (let k = 0; k < 20; k++) [a, b] = [lat - (north(a, b) + lift) / 3600, lon - east(a, b) / 3600];
      own[0] = a;
      own[1] = b;
      expect(north(a, b) + lift).toBeCloseTo(3600 * (lat - a), 6);
      system.project(frame[0], frame[1], frame[2], back);
      expect(Math.hypot(back[0] - e, back[1] - n, back[2] - 100)).toBeLessThan(1e-6);
    }
    // on the meridian of 9° east of the old datum every easting is the false one
    system.unproject(3500000, 5600000, 0, frame);
    const latOld = frame[0] / DEG - north(frame[0] / DEG, 9) / 3600;
    expect(3600 * (frame[1] / DEG - 9)).toBeCloseTo(east(latOld, 9), 3);
  });

  it('is asked for by a system that has no other way, and refused outside', () => {
    expect(() => parseSystem('EPSG:31467')).toThrow(/another datum.*a grid of shifts is needed/);
    const grid = gridText(useGrid(put('again.gsb', ntv2([COARSE]))));
    const system = parseSystem(`EPSG:31467~${grid}`);
    expect(() => system.unproject(3500000, 6200000, 0, new Float64Array(3))).toThrow(
      /says nothing of 55\.9\d+°, 9\.0\d+°; it covers 50\.000° to 52\.000° and 8\.000° to 11\.000°/,
    );
    expect(() => parseSystem('EPSG:31467~lost.gsb@0123456789ab')).toThrow(/grid lost\.gsb, which is not here/);
  });

  it.each<[string, Uint8Array, RegExp]>([
    ['of another kind', new TextEncoder().encode('GRID OF SOMETHING'), /does not begin as an NTv2/],
    ['cut off', ntv2([COARSE]).slice(0, 600), /ends after 15 of 35 values/],
    ['cut off between its parts', ntv2([COARSE, FINE]).slice(0, 16 * (22 + 35)), /Grid 2 of 2 does not begin here/],
    ['of neither order of bytes', ntv2([COARSE]).map((b, i) => (i === 9 ? 7 : b)), /either order of bytes/],
    [
      'that declares more than it holds',
      ntv2([{ ...COARSE, rows: 5 }]).map((b, i) => (i === 11 * 16 + 10 * 16 + 9 ? 90 : b)),
      /states \d+ values in 5 rows of 7/,
    ],
    ['of wild values', ntv2([COARSE]).map((b, i) => (i === 22 * 16 + 3 ? 0x7e : b)), /no shift between datums/],
  ])('%s is refused', (_, bytes, message) => expect(() => readNtv2(bytes, 'g.gsb')).toThrow(message));
});

describe('a shift by parameters', () => {
  // EPSG code, easting, northing; latitude and longitude on GRS 80 at 100 m by PROJ 9.1.1
  it.each([
    [28992, 148443, 482339, 52.3295632262, 5.2933001679],
    [31370, 144590, 144625, 50.6120040488, 4.2914907211],
    [31256, -7345, 348182, 48.2719453371, 16.2331836091],
    [3003, 1524974, 4910692, 44.3489104297, 9.3129919502],
    [2100, 379101, 4294192, 38.7907973862, 22.6096543664],
    [23032, 502356, 5596576, 50.5193168814, 9.032060492],
    [5514, -687369, -1037649, 50.2007827846, 15.1804234729],
    [2056, 2658680, 1248695, 47.3864723164, 8.2157674374],
  ])('EPSG:%i', (code, e, n, latDeg, lonDeg) => {
    const system = parseSystem(`EPSG:${code}`);
    expect(system.datum.statement).toMatch(/^approximate: datum shift by \d parameters, good to about [\d.]+ m$/);
    const [at, back] = [new Float64Array(3), new Float64Array(3)];
    system.unproject(e, n, 100, at);
    // a tenth of a millimetre
    expect(Math.abs(at[0] / DEG - latDeg)).toBeLessThan(1e-9);
    expect(Math.abs(at[1] / DEG - lonDeg)).toBeLessThan(1e-9);
    system.project(at[0], at[1], at[2], back);
    expect(Math.hypot(back[0] - e, back[1] - n, back[2] - 100)).toBeLessThan(1e-6);
  });
});
