import { describe, expect, it } from 'vitest';
import { DEG, makeReferenceSystem, rotationFromAngles } from '../../frames';
import { Orthophoto, Relief, View, type Camera, type Pixels } from '..';

const system = makeReferenceSystem({
  horizontalCode: 25832,
  horizontalName: 'zone 32',
  proj4: '+proj=utm +zone=32 +ellps=GRS80 +units=m +no_defs',
  metresPerUnit: 1,
  verticalCode: 0,
  verticalName: '',
  verticalMetresPerUnit: 1,
});
const [E0, N0] = [467_200, 6_215_300];
const CAMERA: Camera = {
  widthPx: 600,
  heightPx: 400,
  focalPx: 740,
  cxPx: 299.5,
  cyPx: 199.5,
  k1: -0.03,
  k2: 0,
  k3: 0,
  p1: 0,
  p2: 0,
};
/** A house of 12 m on level ground at 30 m, about a place, metres from its middle to its sides. */
const GROUND = 30;
const HOUSE = { e: E0 + 6, n: N0 - 4, half: 8, high: 12 };
const inHouse = (e: number, n: number) => Math.abs(e - HOUSE.e) < HOUSE.half && Math.abs(n - HOUSE.n) < HOUSE.half;
const heightAt = (e: number, n: number) => (inHouse(e, n) ? GROUND + HOUSE.high : GROUND);
/** Its roof is red, the ground in squares of 10 m. */
const colourAt = (e: number, n: number): [number, number, number] =>
  inHouse(e, n) ? [220, 30, 30] : (Math.floor(e / 10) + Math.floor(n / 10)) % 2 ? [60, 140, 60] : [120, 190, 120];

const grid = { cellM: 0.5, westM: E0 - 60, northM: N0 + 50, columns: 240, rows: 200 };
const surface = {
  ...grid,
  heightM: Float32Array.from({ length: grid.columns * grid.rows }, (_, k) =>
    heightAt(grid.westM + ((k % grid.columns) + 0.5) * 0.5, grid.northM - (Math.floor(k / grid.columns) + 0.5) * 0.5),
  ),
};

/** A picture from above, drawn by following every pixel's beam down in steps. @param gain of its brightness. */
function picture(de: number, dn: number, heightM: number, turnDeg: number, gain = 1): { view: View; pixels: Pixels } {
  const geo = new Float64Array(3);
  system.unproject(E0 + de, N0 + dn, heightM, geo);
  const view = new View(
    {
      latRad: geo[0],
      lonRad: geo[1],
      hEllM: geo[2],
      rotation: rotationFromAngles(0.02, -0.03, turnDeg * DEG),
    },
    CAMERA,
    system,
  );
  const rgb = new Uint8Array(3 * CAMERA.widthPx * CAMERA.heightPx);
  const [ce, cn, ch] = view.centre;
  // what is seen is put where it is seen: roofs last, for they hide the ground; finely enough that none is missed
  const put = (e: number, n: number, h: number, colour: [number, number, number]) => {
    if (!view.see(e, n, h)) return;
    const k = 3 * (Math.round(view.at[1]) * CAMERA.widthPx + Math.round(view.at[0]));
    for (let c = 0; c < 3; c++) rgb[k + c] = Math.min(255, gain * colour[c]);
  };
  for (let e = E0 - 80; e < E0 + 80; e += 0.12)
    for (let n = N0 - 70; n < N0 + 70; n += 0.12) if (!inHouse(e, n)) put(e, n, GROUND, colourAt(e, n));
  // walls, grey, on the sides that look at the camera; then the roof
  for (let along = -HOUSE.half; along <= HOUSE.half; along += 0.1)
    for (let h = GROUND; h < GROUND + HOUSE.high; h += 0.1) {
      if (Math.abs(ce - HOUSE.e) > HOUSE.half)
        put(HOUSE.e + Math.sign(ce - HOUSE.e) * HOUSE.half, HOUSE.n + along, h, [90, 90, 110]);
      if (Math.abs(cn - HOUSE.n) > HOUSE.half)
        put(HOUSE.e + along, HOUSE.n + Math.sign(cn - HOUSE.n) * HOUSE.half, h, [90, 90, 110]);
    }
  for (let e = -HOUSE.half; e <= HOUSE.half; e += 0.1)
    for (let n = -HOUSE.half; n <= HOUSE.half; n += 0.1)
      put(HOUSE.e + e, HOUSE.n + n, GROUND + HOUSE.high, [220, 30, 30]);
  expect(ch).toBeGreaterThan(GROUND + HOUSE.high);
  return { view, pixels: { widthPx: CAMERA.widthPx, heightPx: CAMERA.heightPx, rgb } };
}

function made(pictures: Array<ReturnType<typeof picture>>, even = true) {
  const o = new Orthophoto(
    grid,
    surface,
    pictures.map((p) => p.view),
  );
  pictures.forEach((p, k) => o.look(k, p.pixels));
  o.settle(even);
  pictures.forEach((p, k) => o.fill(k, p.pixels));
  for (const k of o.patching()) o.patch(k, pictures[k].pixels);
  return o;
}
/** Cells within an area, with their places and colours. */
function cells(o: Orthophoto, pick: (e: number, n: number) => boolean) {
  const out: Array<{ e: number; n: number; rgb: number[]; there: boolean }> = [];
  for (let r = 0; r < grid.rows; r++)
    for (let c = 0; c < grid.columns; c++) {
      const [e, n] = [grid.westM + (c + 0.5) * 0.5, grid.northM - (r + 0.5) * 0.5];
      const k = 4 * (r * grid.columns + c);
      if (pick(e, n)) out.push({ e, n, rgb: [...o.rgba.subarray(k, k + 3)], there: o.rgba[k + 3] === 255 });
    }
  return out;
}
const near = (e: number, n: number) => Math.abs(e - E0) < 28 && Math.abs(n - N0) < 22;
const edge = (e: number, n: number, by: number) =>
  Math.min(Math.abs(Math.abs(e - HOUSE.e) - HOUSE.half), Math.abs(Math.abs(n - HOUSE.n) - HOUSE.half)) < by;
const squares = (v: number) => Math.min(v % 10, 10 - (v % 10));
const isRed = ([r, g]: number[]) => r > 150 && g < 80;

describe('an orthophoto', () => {
  const pictures = [picture(-32, 6, 140, 90), picture(36, -2, 142, 88), picture(4, 30, 138, 268)];

  it('has roofs once and upright, and the ground in its place, also where one picture does not see it', () => {
    const o = made(pictures);
    const all = cells(o, near);
    const roof = all.filter((c) => inHouse(c.e, c.n) && !edge(c.e, c.n, 0.8));
    expect(roof.every((c) => c.there && isRed(c.rgb))).toBe(true);
    // no second roof beside it
    const beside = all.filter((c) => !inHouse(c.e, c.n) && !edge(c.e, c.n, 0.8));
    expect(beside.filter((c) => c.there && isRed(c.rgb))).toEqual([]);
    // squares of the ground are where they are, half a cell from their lines
    const inside = beside.filter((c) => c.there && squares(c.e) > 0.5 && squares(c.n) > 0.5);
    const wrong = inside.filter((c) => Math.abs(c.rgb[1] - colourAt(c.e, c.n)[1]) > 25);
    expect(wrong.length / inside.length).toBeLessThan(0.004);
    expect(beside.filter((c) => !c.there).length / beside.length).toBeLessThan(0.02);
    expect(o.count().patched).toBeGreaterThan(0);
  });

  it('leaves empty what no picture shows', () => {
    const west = picture(-14, -4, 140, 90);
    const o = made([west]);
    // behind the house, seen from the west: its shadow on the ground is as long as its height over the slope of the beam
    const [ce, , ch] = west.view.centre;
    const east = HOUSE.e + HOUSE.half;
    const reach = (HOUSE.high * (east - ce)) / (ch - GROUND - HOUSE.high);
    const behind = cells(o, (e, n) => e > east + 0.8 && e < east + reach - 0.8 && Math.abs(n - HOUSE.n) < 4);
    expect(behind.length).toBeGreaterThan(20);
    expect(behind.some((c) => c.there)).toBe(false);
    expect(
      cells(o, (e, n) => e > east + reach + 1.5 && e < east + reach + 5 && Math.abs(n - HOUSE.n) < 4).every(
        (c) => c.there,
      ),
    ).toBe(true);
    expect(o.count().empty).toBeGreaterThan(behind.length);
  });

  it('evens the brightness of pictures, or leaves it as it was taken', () => {
    const dark = [picture(-32, 6, 140, 90, 0.8), picture(36, -2, 142, 88)];
    const step = (even: boolean) => {
      const o = made(dark, even);
      const of = (k: number) => o.shares()[k].gains[1];
      return of(0) / of(1);
    };
    expect(step(true)).toBeCloseTo(1.25, 1);
    expect(step(false)).toBe(1);
  });
});

describe('a surface under pictures', () => {
  it('is followed between the centres of its cells, and its small holes are closed', () => {
    const heightM = Float32Array.from({ length: 36 }, (_, k) => (k % 6) * 2 + Math.floor(k / 6));
    heightM[14] = Number.NaN;
    const r = new Relief({ cellM: 1, westM: 0, northM: 6, columns: 6, rows: 6, heightM });
    expect(r.at(1.5, 4.5)).toBe(3);
    expect(r.at(2, 4)).toBeCloseTo(4.5, 6);
    // a plane through its neighbours
    expect(r.at(2.5, 3.5)).toBeCloseTo(6, 6);
    expect(r.at(-0.1, 3)).toBeNaN();
    expect(r.at(3, 6.1)).toBeNaN();
  });

  it('hides what lies behind its heights, as a line of sight says', () => {
    const relief = new Relief(surface);
    const centre: [number, number, number] = [E0 - 60, N0 - 4, 120];
    const east = HOUSE.e + HOUSE.half;
    // from the centre over the edge of the roof down to the ground
    const reach = (HOUSE.high * (east - centre[0])) / (centre[2] - GROUND - HOUSE.high);
    expect(relief.hides(east + reach - 1.5, N0 - 4, GROUND, centre)).toBe(true);
    expect(relief.hides(east + reach + 2.5, N0 - 4, GROUND, centre)).toBe(false);
    expect(relief.hides(HOUSE.e, HOUSE.n, GROUND + HOUSE.high, centre)).toBe(false);
    expect(relief.hides(E0 - 20, N0 + 30, GROUND, centre)).toBe(false);
  });
});
