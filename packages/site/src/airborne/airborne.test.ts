import { describe, expect, it } from 'vitest';
import { rotationFromAngles } from '@longheron/core/frames';
import { Placer } from '@longheron/core/laser';
import { multiply3 } from '@longheron/core/numeric';
import { View } from '@longheron/core/photo';
import { posesAtEvents } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { trueTrajectory } from '../drive';
import { trueFlight } from '../journeys';
import { KIND } from '../objects';
import {
  groundAt,
  ROAD_HALF_WIDTH_M,
  roadCentreX,
  SITE_ORIGIN_E,
  SITE_ORIGIN_N,
  SITE_SYSTEM,
  trueHeight,
} from '../terrain';
import {
  AIR_CAMERAS,
  airEvents,
  airPhotos,
  DRIFT,
  drawAirPhoto,
  givenTrajectory,
  scanFlight,
  trueAirCamera,
  trueScanner,
} from '.';
import { siteRelief } from './relief';

const system = parseSystem(SITE_SYSTEM);
const flight = trueFlight(207_000);

describe('the aircraft’s scanner', () => {
  // a moment over the middle of the site in the second line
  const line = flight.passes[1];
  const at = (sow: number) => Math.round((sow - flight.startSow) / flight.stepS);
  let startSow = line.startSow;
  while (startSow < line.endSow && Math.abs(flight.y[at(startSow)] - 320) > 20) startSow += 0.1;
  const short = { ...flight, passes: [{ ...line, startSow, endSow: startSow + 0.6 }] };
  const truth = scanFlight(short, system, 4);

  it('writes ranges that its true place and mounting put onto the closed forms', () => {
    const t = trueTrajectory(flight, system, 1000, startSow - 1, startSow + 2);
    const column = (v: Float64Array) => Float32Array.from(v);
    const placed = new Placer(t, system, trueScanner(), { rangeSdM: 0, angleSdDeg: 0 }).place({
      week: 2423,
      sow: truth.sow,
      rangeM: column(truth.rangeM),
      azimuthDeg: column(truth.azimuthDeg),
      elevationDeg: new Float32Array(truth.count),
      intensity: truth.intensity,
      returnNumber: truth.returnNumber,
      returnCount: truth.returnCount,
    });
    expect(truth.count).toBeGreaterThan(10_000);
    let hard = 0;
    for (let i = 0; i < truth.count; i++) {
      const off = Math.hypot(
        placed.eastingM[i] - truth.eastingM[i],
        placed.northingM[i] - truth.northingM[i],
        placed.heightM[i] - truth.heightM[i],
      );
      expect(off).toBeLessThan(0.0005);
      if (truth.kind[i] !== KIND.road) continue;
      hard++;
      // the kerb's edge is steep
      expect(Math.abs(placed.heightM[i] - trueHeight(placed.eastingM[i], placed.northingM[i]))).toBeLessThan(0.002);
    }
    expect(hard).toBeGreaterThan(100);
  });

  it('looks thirty degrees to either side, and a line takes an eightieth of a second', () => {
    expect(Math.min(...truth.azimuthDeg)).toBeGreaterThanOrEqual(60);
    expect(Math.max(...truth.azimuthDeg)).toBeLessThan(120);
    const turns = truth.azimuthDeg.filter((a, i) => i > 0 && a < truth.azimuthDeg[i - 1] - 20).length;
    expect(Math.abs(turns - 0.6 * 80)).toBeLessThanOrEqual(2);
  });
});

describe('the given trajectory', () => {
  it('drifts in its third line as planted, and else by what it states', () => {
    const given = givenTrajectory(flight, system, 5, 'medium');
    const truth = trueTrajectory(flight, system, 100);
    const line = flight.passes[DRIFT.line - 1];
    const off = given.hEllM.map((h, i) => h - truth.hEllM[i]);
    const at = (t: number) => given.sow.findIndex((s) => s >= t);
    const jump = (k: number) => off[k] - off[k + 300];
    // at the end of the line the drift ends: the errors themselves change by millimetres in that time
    expect(jump(at(line.endSow) - 1) / DRIFT.heightM).toBeGreaterThan(0.6);
    const outside = off.filter((_, i) => given.sow[i] < line.startSow || given.sow[i] > line.endSow);
    const rms = Math.sqrt(outside.reduce((s, v) => s + v * v, 0) / outside.length);
    expect(rms / given.sdDM![0]).toBeGreaterThan(0.6);
    expect(rms / given.sdDM![0]).toBeLessThan(1.5);
  });
});

describe('the photographs', () => {
  const photos = airPhotos(flight);

  it('are seventy-two in two sorties, with one event more at power-on', () => {
    expect(photos).toHaveLength(72);
    expect(photos.filter((p) => p.camera === AIR_CAMERAS[0])).toHaveLength(36);
    expect(airEvents(flight)).toHaveLength(73);
    expect(new Set(photos.map((p) => p.name)).size).toBe(72);
    for (const c of AIR_CAMERAS) expect(Math.abs(c.focalPx / 1480 - 1)).toBeLessThan(0.03);
  });

  it('show the road’s edge lines where collinearity puts them, and dark asphalt beside them', () => {
    // over the road, so that its lines are in the picture
    const photo = photos.find((p) => {
      const i = Math.round((p.sow - flight.startSow) / flight.stepS);
      return Math.abs(flight.x[i] - 175) < 60 && Math.abs(flight.y[i] - 200) < 60;
    })!;
    const { widthPx, heightPx } = photo.camera;
    const rgb = drawAirPhoto(flight, system, photo, 3);
    expect(rgb).toHaveLength(3 * widthPx * heightPx);
    const t = trueTrajectory(flight, system, 1000, photo.sow - 1, photo.sow + 1);
    const [{ attitude: a, ...at }] = posesAtEvents(t, [{ week: 2423, sow: photo.sow, label: '' }], trueAirCamera());
    const turn = rotationFromAngles(a!.rollRad, a!.pitchRad, a!.headingRad);
    const view = new View(
      { ...at, rotation: multiply3(turn, rotationFromAngles(0, 0, Math.PI / 2)) },
      { ...photo.camera, k3: 0 },
      system,
    );
    const brightness = (x: number, y: number) => {
      if (!view.see(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y, groundAt(x, y))) return Number.NaN;
      return rgb[3 * (Math.round(view.at[1]) * widthPx + Math.round(view.at[0]))];
    };
    const along = Array.from({ length: 600 }, (_, k) => 140 + 0.2 * k);
    const mean = (off: number) => {
      const seen = along.map((y) => brightness(roadCentreX(y) + off, y)).filter((v) => !Number.isNaN(v));
      return { n: seen.length, v: seen.reduce((s, v) => s + v, 0) / seen.length };
    };
    for (const side of [-1, 1]) {
      const line = mean(side * (ROAD_HALF_WIDTH_M - 0.25));
      expect(line.n).toBeGreaterThan(100);
      // the line is narrower than a pixel: two pixels beside it nothing of it is left
      for (const off of [-0.45, 0.45])
        expect(line.v - mean(side * (ROAD_HALF_WIDTH_M - 0.25) + off).v).toBeGreaterThan(15);
    }
  });

  it('are drawn over a relief that has the ground’s heights', () => {
    const { heightM, kind, columns, cellM } = siteRelief();
    let n = 0;
    for (let k = 0; k < heightM.length; k += 997) {
      if (kind[k] !== KIND.road && kind[k] !== KIND.grass) continue;
      const [x, y] = [((k % columns) + 0.5) * cellM, (Math.floor(k / columns) + 0.5) * cellM];
      expect(heightM[k]).toBeCloseTo(trueHeight(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y), 4);
      n++;
    }
    expect(n).toBeGreaterThan(500);
  });
});
