import { describe, expect, it } from 'vitest';
import { Random } from '@longheron/core/numeric';
import { KIND } from '../objects';
import { BRIDGE_Y, groundAt, roadCentreX } from '../terrain';
import { Caster } from './caster';
import { Ray } from './ray';

/** A straight beam from a place in a direction. */
function beam(from: [number, number, number], to: [number, number, number]): Ray {
  const ray = new Ray();
  const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  [ray.x0, ray.y0, ray.z0] = from;
  ray.x1 = (to[0] - from[0]) / length;
  ray.y1 = (to[1] - from[1]) / length;
  ray.z1 = (to[2] - from[2]) / length;
  return ray;
}

describe('grass', () => {
  it('stands a few centimetres above the soil, on a bank that faces the beam as well as on level ground', () => {
    const caster = new Caster(90, 0.0005);
    const random = new Random(5, 'grass');
    const y0 = BRIDGE_Y - 30;
    const eye: [number, number, number] = [roadCentreX(y0) - 1.6, y0, groundAt(roadCentreX(y0) - 1.6, y0) + 2.2];
    const bank: number[] = [];
    const level: number[] = [];
    for (let k = 0; k < 4000; k++) {
      const x = roadCentreX(y0) - 8 - 26 * random.uniform();
      const y = BRIDGE_Y - 24 + 44 * (random.uniform() - 0.3);
      const ray = beam(eye, [x, y, groundAt(x, y)]);
      const echoes = caster.cast(ray, random);
      for (let i = 0; i < echoes.count; i++) {
        if (echoes.kind[i] !== KIND.grass) continue;
        const [ex, ey, s] = [ray.x(echoes.s[i]), ray.y(echoes.s[i]), echoes.s[i]];
        const above = ray.z(s) - groundAt(ex, ey);
        (ray.z1 > -0.05 ? bank : level).push(above);
      }
    }
    expect(bank.length).toBeGreaterThan(200);
    expect(level.length).toBeGreaterThan(200);
    // 12 mm and 12 mm times a normal deviate's size: half of them below 20 mm, none of thousands above 5 deviations;
    // beams that nearly skim the ground answer lower, since no more than 6.7 times the blade is taken off their way
    for (const group of [bank, level]) {
      group.sort((a, b) => a - b);
      expect(group[group.length >> 1]).toBeGreaterThan(0.012);
      expect(group[group.length >> 1]).toBeLessThan(0.023);
      expect(group.at(-1)).toBeLessThan(0.012 + 5 * 0.012 + 0.005);
    }
  });
});

describe('beams from the air', () => {
  const air = () => new Caster(420, 0.0004, 5);
  const random = () => new Random(6, 'air');

  it('come to the road where the same beam from near it does', () => {
    const y = BRIDGE_Y - 90;
    const x = roadCentreX(y) + 1.3;
    const z = groundAt(x, y);
    const [dx, dy] = [70, -12];
    const from: [number, number, number] = [x + dx, y + dy, z + 250];
    const ray = beam(from, [x, y, z]);
    const echoes = air().cast(ray, random());
    expect(echoes.count).toBe(1);
    expect(echoes.kind[0]).toBe(KIND.road);
    expect(Math.abs(echoes.s[0] - Math.hypot(dx, dy, 250))).toBeLessThan(1e-4);
    const near = beam([x + 0.1 * dx, y + 0.1 * dy, z + 25], [x, y, z]);
    expect(Math.abs(air().cast(near, random()).s[0] - 0.1 * Math.hypot(dx, dy, 250))).toBeLessThan(1e-4);
  });

  it('see the rail deck from above, and the road beside it, not under it', () => {
    const x = roadCentreX(BRIDGE_Y);
    const plumb = (y: number) => air().cast(beam([x + 0.7, y + 0.4, 250], [x, y, 0]), random());
    const over = plumb(BRIDGE_Y);
    expect([over.count, over.kind[0]]).toEqual([1, KIND.bridge]);
    const beside = plumb(BRIDGE_Y - 12);
    expect(beside.kind[0]).toBe(KIND.road);
    // flat top: the same height everywhere on it
    expect(plumb(BRIDGE_Y + 2).s[0]).toBeCloseTo(over.s[0], 6);
    expect(250 - over.s[0] - groundAt(x, BRIDGE_Y)).toBeGreaterThan(6);
  });

  it('come back from crowns several times, the ground last', () => {
    const caster = air();
    const r = random();
    let [several, most] = [0, 0];
    for (let k = 0; k < 20_000; k++) {
      const [x, y] = [r.between(20, 400), r.between(20, 620)];
      const echoes = caster.cast(beam([x + 60, y, 250], [x, y, 3]), r);
      if (echoes.count < 2) continue;
      several++;
      most = Math.max(most, echoes.count);
      for (let i = 1; i < echoes.count; i++) expect(echoes.s[i] - echoes.s[i - 1]).toBeGreaterThan(0.5);
    }
    expect(several).toBeGreaterThan(20);
    expect(most).toBeGreaterThan(3);
    expect(most).toBeLessThanOrEqual(5);
  });

  it('that miss the site come back from nothing', () => {
    expect(air().cast(beam([-300, 100, 250], [-320, 100, 0]), random()).count).toBe(0);
  });
});
