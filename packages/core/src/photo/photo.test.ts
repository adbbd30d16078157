import { describe, expect, it } from 'vitest';
import { applyLocalMap, DEG, exactFromLocal, makeLocalMap, makeReferenceSystem, rotationFromAngles } from '../frames';
import { multiply3, Random } from '../numeric';
import {
  edgeShift,
  Painter,
  Projector,
  sphereOf,
  undistorted,
  View,
  type Camera,
  type Grey,
  type PicturePose,
  type Pixels,
} from '.';

const system = makeReferenceSystem({
  horizontalCode: 25832,
  horizontalName: 'zone 32',
  proj4: '+proj=utm +zone=32 +ellps=GRS80 +units=m +no_defs',
  metresPerUnit: 1,
  verticalCode: 5773,
  verticalName: '',
  verticalMetresPerUnit: 1,
});
const none = { k1: 0, k2: 0, k3: 0, p1: 0, p2: 0 };
const [E0, N0] = [467_200, 6_215_300];
/** Looks down, the top of the picture ahead. */
const DOWN = rotationFromAngles(0, 0, 90 * DEG);

describe('a camera', () => {
  it('bends as Brown says; the way back undoes it', () => {
    const camera: Camera = {
      widthPx: 1200,
      heightPx: 800,
      focalPx: 1480,
      cxPx: 603.2,
      cyPx: 395.1,
      k1: -0.08,
      k2: 0.03,
      k3: -0.004,
      p1: 0.0007,
      p2: -0.0004,
    };
    const out = new Float64Array(2);
    expect(new Projector(camera).project(3, -2, 10, out)).toBe(true);
    // x' = 0.3, y' = −0.2, r² = 0.13, worked by hand
    const radial = 1 - 0.08 * 0.13 + 0.03 * 0.0169 - 0.004 * 0.002197;
    expect(out[0]).toBeCloseTo(1480 * (0.3 * radial + 2 * 0.0007 * -0.06 - 0.0004 * (0.13 + 0.18)) + 603.2, 9);
    expect(out[1]).toBeCloseTo(1480 * (-0.2 * radial + 0.0007 * (0.13 + 0.08) + 2 * -0.0004 * -0.06) + 395.1, 9);
    const [x, y] = undistorted(camera, (out[0] - 603.2) / 1480, (out[1] - 395.1) / 1480);
    expect([x, y]).toEqual([expect.closeTo(0.3, 10) as number, expect.closeTo(-0.2, 10) as number]);
  });

  it('all round is seen by a panorama, at its distance', () => {
    const origin = new Float64Array(3);
    system.unproject(E0, N0, 20, origin);
    // x east, y down, the view north
    const rotation = Float64Array.of(0, 0, 1, 1, 0, 0, 0, 1, 0);
    const pose: PicturePose = { latRad: origin[0], lonRad: origin[1], hEllM: origin[2], rotation };
    const view = new View(pose, sphereOf(4000, 2000), system);
    const columns = [
      [0, 10],
      [10, 0],
      [0, -10],
      [-10, 0],
    ].map(([e, n]) => {
      expect(view.see(E0 + e, N0 + n, 20)).toBe(true);
      expect(view.at[1]).toBeCloseTo(999.5, 1);
      // grid to ground, 0.9996 in the middle of the zone
      expect(view.at[2]).toBeCloseTo(10 / 0.9996, 2);
      return view.at[0];
    });
    // a conformal map keeps right angles
    for (let k = 1; k < 4; k++) expect((columns[k] - columns[k - 1] + 4000) % 4000).toBeCloseTo(1000, 2);
    expect(view.maySee(E0 - 5, N0 - 5, 10, E0 - 4, N0 - 4, 12)).toBe(true);
  });

  it('sees nothing behind it, beside its frame, or where its polynomials fold back', () => {
    const camera: Camera = { widthPx: 100, heightPx: 100, focalPx: 100, cxPx: 49.5, cyPx: 49.5, ...none, k1: -0.5 };
    const p = new Projector(camera);
    const out = new Float64Array(2);
    expect(p.project(0, 0, -1, out)).toBe(false);
    expect(p.project(0.7, 0, 1, out)).toBe(false);
    // 1 − 0.5 r² is nought at r = 1.41: there the middle of the picture would be seen again
    expect(p.project(Math.SQRT2, 0, 1, out)).toBe(false);
    expect(p.project(0, 0, 1, out)).toBe(true);
    expect(Array.from(out)).toEqual([49.5, 49.5]);
  });
});

describe('a view', () => {
  it('puts places where the exact chain puts them, to a thousandth of a pixel', () => {
    const geo = new Float64Array(3);
    system.unproject(E0, N0, 260, geo);
    const rotation = multiply3(rotationFromAngles(5 * DEG, -8 * DEG, 33 * DEG), DOWN);
    const camera: Camera = { widthPx: 1200, heightPx: 800, focalPx: 1480, cxPx: 599.5, cyPx: 399.5, ...none };
    const view = new View({ latRad: geo[0], lonRad: geo[1], hEllM: geo[2], rotation }, camera, system);
    const { originEcef, axes } = makeLocalMap(system, geo[0], geo[1], geo[2]);
    const place = new Float64Array(3);
    for (const [u, v, depth] of [
      [20, 30, 240],
      [1180, 760, 300],
      [600, 400, 260],
    ]) {
      const ray = [((u - 599.5) / 1480) * depth, ((v - 399.5) / 1480) * depth, depth];
      const [n, e, d] = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, j) => s + rotation[3 * k + j] * ray[j], 0));
      exactFromLocal(system, originEcef, axes, n, e, d, place);
      expect(view.see(place[0], place[1], place[2])).toBe(true);
      expect(Math.abs(view.at[0] - u)).toBeLessThan(1e-3);
      expect(Math.abs(view.at[1] - v)).toBeLessThan(1e-3);
      expect(Math.abs(view.at[2] - depth)).toBeLessThan(1e-3);
    }
    expect(view.centre[0]).toBeCloseTo(E0, 6);
    expect(view.maySee(E0 - 5, N0 - 5, 0, E0 + 5, N0 + 5, 10)).toBe(true);
    expect(view.maySee(E0 + 900, N0 - 5, 0, E0 + 910, N0 + 5, 10)).toBe(false);
  });
});

/** Level ground at 3 m with a box 8 m high on it, each with a pattern. */
const BOX = { minX: -6, maxX: 6, minY: -4, maxY: 4, topM: 11 };
const inBox = (x: number, y: number) => x > BOX.minX && x < BOX.maxX && y > BOX.minY && y < BOX.maxY;
const heightAt = (x: number, y: number) => (inBox(x, y) ? BOX.topM : 3);
const colourAt = (x: number, y: number): [number, number, number] => {
  const wave = 60 * Math.sin(x / 2.1) * Math.cos(y / 1.7);
  return inBox(x, y) ? [200, 60 + wave / 2, 40] : [90, 130 + wave, 120 - wave];
};
const CAMERA: Camera = { widthPx: 400, heightPx: 300, focalPx: 420, cxPx: 199.5, cyPx: 149.5, ...none };

function poseAt(x: number, y: number, h: number, rollDeg = 0): PicturePose {
  const geo = new Float64Array(3);
  system.unproject(E0 + x, N0 + y, h, geo);
  const rotation = multiply3(rotationFromAngles(rollDeg * DEG, 0, 0), DOWN);
  return { latRad: geo[0], lonRad: geo[1], hEllM: geo[2], rotation };
}

/** The picture from a place, by rays against ground and box. */
function pictureFrom(
  { latRad, lonRad, hEllM, rotation }: PicturePose,
  passing?: (x: number, y: number) => boolean,
): Pixels {
  const { widthPx, heightPx, focalPx, cxPx, cyPx } = CAMERA;
  const map = makeLocalMap(system, latRad, lonRad, hEllM);
  const rgb = new Uint8Array(3 * widthPx * heightPx);
  const at = new Float64Array(3);
  for (let v = 0; v < heightPx; v++)
    for (let u = 0; u < widthPx; u++) {
      const ray = [(u - cxPx) / focalPx, (v - cyPx) / focalPx, 1];
      const [n, e, d] = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, j) => s + rotation[3 * k + j] * ray[j], 0));
      const reach = (depth: number) => {
        applyLocalMap(map, n * depth, e * depth, d * depth, at);
        return [at[0] - E0, at[1] - N0, at[2]];
      };
      const level = (h: number) => {
        let depth = 0;
        for (let i = 0; i < 6; i++) depth += (reach(depth)[2] - h) / d;
        return depth;
      };
      let depth = level(BOX.topM);
      let [x, y, h] = reach(depth);
      // against the walls in steps of centimetres
      while (h > 3.001 && !inBox(x, y)) [x, y, h] = reach((depth += Math.min(0.05, Math.max(0.002, (h - 3) / d))));
      const colour = passing?.(x, y) && h < 4 ? [255, 255, 0] : colourAt(x, y);
      rgb.set(colour, 3 * (v * widthPx + u));
    }
  return { widthPx, heightPx, rgb };
}

function points(step = 0.35) {
  const r = new Random(8, 'points');
  const xs: number[] = [];
  const ys: number[] = [];
  for (let x = -25; x < 25; x += step)
    for (let y = -25; y < 25; y += step) {
      xs.push(x + r.between(0, step));
      ys.push(y + r.between(0, step));
    }
  const z = Float32Array.from(xs, (x, i) => heightAt(x, ys[i]) + 0.02 * r.normal());
  return {
    count: xs.length,
    origin: [E0, N0, 0] as const,
    x: Float32Array.from(xs),
    y: Float32Array.from(ys),
    z,
  };
}

const look = (painter: Painter, number: number, pose: PicturePose, pixels: Pixels) =>
  painter.look(number, new View(pose, CAMERA, system), pixels);

describe('points coloured from pictures', () => {
  it('take the colour of their place, and none from a picture that they are hidden from', () => {
    const p = points();
    const painter = new Painter(p);
    // far to the west: the box hides the ground behind it
    const pose = poseAt(-32, 0, 43, -38);
    look(painter, 0, pose, pictureFrom(pose));
    const { rgb, picture } = painter.finish();
    const [ex, ez] = [-32, 43];
    let [behind, wrongly, open, seen, off] = [0, 0, 0, 0, 0];
    for (let i = 0; i < p.count; i++) {
      const [x, y] = [p.x[i], p.y[i]];
      if (inBox(x, y)) continue;
      // the line to the camera over the box, which it meets where it is as high as its top
      const over = (BOX.topM - 3) / (ez - 3);
      const [tx, ty] = [x + (ex - x) * over, y * (1 - over)];
      const shade = x > BOX.maxX && tx < BOX.maxX && Math.abs(ty) < BOX.maxY;
      // half a metre beside the shadow's edge the points themselves are too far apart to tell
      const rim = x > BOX.maxX && Math.abs(tx - BOX.maxX) < 0.5;
      if (shade && !rim && Math.abs(ty) < BOX.maxY - 0.6) {
        behind++;
        if (picture[i] >= 0) wrongly++;
      }
      const clear = Math.abs(y) > 8 || x < BOX.minX - 2 || x > 18;
      if (clear && picture[i] >= 0) {
        seen++;
        const want = colourAt(x, y);
        off += Math.abs(rgb[3 * i + 1] - want[1]);
      }
      if (clear && Math.abs(y) < 12 && x > -20 && x < 20) open += picture[i] >= 0 ? 0 : 1;
    }
    expect(behind).toBeGreaterThan(200);
    expect(wrongly / behind).toBeLessThan(0.01);
    expect(open).toBe(0);
    expect(off / seen).toBeLessThan(4);
  });

  it('come from the picture that sees them best, and leave out what passed by in one', () => {
    const p = points();
    const painter = new Painter(p);
    const poses = [-16, -4, 6, 17].map((y) => poseAt(0, y, 60));
    // a bus in the third picture alone
    const bus = (x: number, y: number) => x > 10 && x < 13 && y > 0 && y < 10;
    poses.forEach((pose, k) => look(painter, k, pose, pictureFrom(pose, k === 2 ? bus : undefined)));
    const { rgb, picture, coloured, outvoted } = painter.finish();
    // over the middle of the box all four cameras look past its roof: a metre of ground beside it they never see
    expect(coloured).toBeLessThan(p.count);
    for (let i = 0; i < p.count; i++)
      if (picture[i] < 0) expect([Math.abs(p.x[i]) < 7.6, Math.abs(p.y[i]) < 5]).toEqual([true, true]);
    expect(outvoted).toBeGreaterThan(50);
    let [within, yellow] = [0, 0];
    for (let i = 0; i < p.count; i++) {
      if (bus(p.x[i], p.y[i])) {
        within++;
        if (rgb[3 * i] > 200 && rgb[3 * i + 1] > 200) yellow++;
      } else if (p.x[i] < 9 && !inBox(p.x[i], p.y[i]) && Math.hypot(p.x[i], p.y[i]) > 14) {
        // overhead is best: the nearest of the four
        const nearest = [-16, -4, 6, 17].map((y) => Math.abs(y - p.y[i])).reduce((m, v, k, a) => (v < a[m] ? k : m), 0);
        const second = Math.abs([-16, -4, 6, 17][picture[i]] - p.y[i]);
        expect(second).toBeLessThan(Math.abs([-16, -4, 6, 17][nearest] - p.y[i]) + 5);
      }
    }
    expect(within).toBeGreaterThan(100);
    expect(yellow / within).toBeLessThan(0.03);
  });
});

describe('the shift between edges', () => {
  /** Blobs on a grid, moved by a part of a cell. */
  const grey = (dx: number, dy: number, of: (v: number) => number): Grey => {
    const [columns, rows] = [160, 120];
    const value = new Float32Array(columns * rows);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const [x, y] = [c - dx, r - dy];
        value[r * columns + c] = of(Math.sin(x / 5) * Math.cos(y / 6.5) + 0.6 * Math.sin((x + 2 * y) / 11.3));
      }
    return { columns, rows, value };
  };

  it('is found to a seventh of a cell, whatever brightness means', () => {
    const first = grey(0, 0, (v) => 100 * v);
    const found = edgeShift(
      first,
      grey(2.3, -1.6, (v) => 40 - 12 * v),
    )!;
    expect(Math.abs(found.dx - 2.3)).toBeLessThan(0.15);
    expect(Math.abs(found.dy + 1.6)).toBeLessThan(0.15);
    expect(found.correlation).toBeGreaterThan(0.95);
  });

  it('is unknown for images that have nothing in common, or are moved too far', () => {
    const r = new Random(2, 'noise');
    const noise = grey(0, 0, () => r.normal());
    expect(
      edgeShift(
        grey(0, 0, (v) => v),
        noise,
      ),
    ).toBeUndefined();
    const part = grey(0, 0, (v) => v);
    part.value.fill(Number.NaN, 300);
    expect(
      edgeShift(
        part,
        grey(0, 0, (v) => v),
      ),
    ).toBeUndefined();
  });
});
