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
