import { describe, expect, it } from 'vitest';
import { DEG, ecefToNed, geodeticToEcef, GRS80, type SensorMounting } from '../frames';
import { posesAtEvents, strayEvents, type TimedEvent, type Trajectory } from '.';

const SPEED = 30;

/** Straight north at 30 m/s, 10 epochs a second, at a constant attitude; accelerating gently upwards. */
function flight(): Trajectory {
  const n = 601;
  const column = (f: (t: number) => number) => Float64Array.from({ length: n }, (_, i) => f(i / 10));
  const up = (t: number) => 300 + 0.25 * t * t;
  const radius = (h: number) => {
    const s = Math.sin(56 * DEG) ** 2;
    const e2 = GRS80.f * (2 - GRS80.f);
    return (GRS80.a * (1 - e2)) / (1 - e2 * s) ** 1.5 + h;
  };
  return {
    week: 2423,
    sow: column((t) => 1000 + t),
    point: 'imu',
    crs: 'EPSG:4937',
    latRad: column((t) => 56 * DEG + (SPEED * t) / radius(300)),
    lonRad: column(() => 8.4 * DEG),
    hEllM: column(up),
    rollRad: column(() => 10 * DEG),
    pitchRad: column(() => 5 * DEG),
    headingRad: column(() => 30 * DEG),
    vnMps: column(() => SPEED),
    veMps: column(() => 0),
    vdMps: column((t) => -0.5 * t),
    sdNM: column(() => 0.01),
    sdEM: column(() => 0.01),
    sdDM: column(() => 0.02),
    sdRollRad: column(() => 0.001),
    sdPitchRad: column(() => 0.001),
    sdHeadingRad: column(() => 0.01),
    solution: new Uint8Array(n).fill(1),
  };
}
const camera: SensorMounting = {
  leverArmM: [10, 2, 1],
  orientationDeg: { roll: 0, pitch: 0, heading: 90 },
  boresightDeg: { roll: 0, pitch: 0, heading: 0 },
  leverArmSdM: 0.003,
  boresightSdDeg: 0,
};
const at = (sow: number, label = ''): TimedEvent => ({ week: 2423, sow, label });

describe('positions at events', () => {
  it('follow the curve between epochs, not the chord', () => {
    const [p] = posesAtEvents(flight(), [at(1020.05)]);
    expect(p.hEllM).toBeCloseTo(300 + 0.25 * 20.05 ** 2, 5);
    expect(p.solution).toBe(1);
    expect(p.speedMps).toBeCloseTo(Math.hypot(SPEED, 0.5 * 20.05), 1);
  });

  it('apply the lever arm once: the worked example of the sign conventions', () => {
    const t = flight();
    const [own] = posesAtEvents(t, [at(1030)]);
    const [p] = posesAtEvents(t, [at(1030)], camera);
    const a = geodeticToEcef(GRS80, own.latRad, own.lonRad, own.hEllM);
    const b = geodeticToEcef(GRS80, p.latRad, p.lonRad, p.hEllM);
    const axes = ecefToNed(own.latRad, own.lonRad);
    const ned = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, c) => s + axes[3 * k + c] * (b[c] - a[c]), 0));
    // docs/formats: roll 10°, pitch 5°, heading 30° carry body (10, 2, 1) to this
    expect(ned[0]).toBeCloseTo(7.82986, 4);
    expect(ned[1]).toBeCloseTo(6.59438, 4);
    expect(ned[2]).toBeCloseTo(0.45548, 4);
    // the camera looks along the body's right: its x axis in north and east by the second column of the rotation
    const y = [Math.cos(30 * DEG) * Math.sin(5 * DEG) * Math.sin(10 * DEG) - Math.sin(30 * DEG) * Math.cos(10 * DEG)];
    y.push(Math.sin(30 * DEG) * Math.sin(5 * DEG) * Math.sin(10 * DEG) + Math.cos(30 * DEG) * Math.cos(10 * DEG));
    expect(p.attitude!.headingRad).toBeCloseTo(Math.atan2(y[1], y[0]), 9);
    // deviations: lever arm 3 mm, heading 10 mrad over 6.59 m, level 1 mrad over 0.46 m
    expect(p.sdM![0]).toBeCloseTo(Math.sqrt(0.01 ** 2 + 0.003 ** 2 + 0.0659438 ** 2 + 0.00045548 ** 2), 6);
  });

  it('count the week over its end, and say why there is none', () => {
    const t = flight();
    t.sow = t.sow.map((v) => v + 603770);
    const [a, b] = posesAtEvents(t, [{ week: 2424, sow: 10, label: '' }, at(10)]);
    expect(a.reason).toBe('');
    expect(b.reason).toBe('outside');
    const gap = flight();
    gap.sow = gap.sow.map((v, i) => (i > 300 ? v + 5 : v));
    expect(posesAtEvents(gap, [at(1032)])[0].reason).toBe('gap');
  });

  it('propose an event at power-on for leaving out, and no other', () => {
    const t = flight();
    for (let i = 0; i < 100; i++) {
      t.latRad[i] = t.latRad[0];
      t.hEllM[i] = 300;
      t.vnMps![i] = t.vdMps![i] = 0;
    }
    const series = Array.from({ length: 20 }, (_, i) => at(1020 + 2 * i, `IMG_${i}`));
    expect(strayEvents(posesAtEvents(t, [at(1003, 'IMG_X'), ...series]))).toEqual([0]);
    expect(strayEvents(posesAtEvents(t, series))).toEqual([]);
  });
});
