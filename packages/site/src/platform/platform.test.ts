import { describe, expect, it } from 'vitest';
import { ecefToGeodetic, geodeticToEcef, makeLocalMap, rotationFromAngles, sensorToBody } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { deliveredMounting } from '../drive';
import { attitude, nearby, sensorAxes } from '.';

const DEG = Math.PI / 180;
const random = new Random(5, 'platform');

describe('axes of a platform', () => {
  it('lie as a person sees them', () => {
    // heading east: forward is east, right is south
    const east = attitude(0, 0, 90 * DEG);
    [0, 1, 0].forEach((v, k) => expect(east[3 * k]).toBeCloseTo(v, 12));
    [-1, 0, 0].forEach((v, k) => expect(east[3 * k + 1]).toBeCloseTo(v, 12));
    // nose up: forward points above the horizon; right side down: right points below it
    expect(attitude(0, 10 * DEG, 0)[6]).toBeCloseTo(-Math.sin(10 * DEG), 12);
    expect(attitude(10 * DEG, 0, 0)[7]).toBeCloseTo(Math.sin(10 * DEG), 12);
  });

  it('are the same by the two ways of writing them, which share nothing', () => {
    for (let k = 0; k < 50; k++) {
      const [r, p, h] = [random.between(-3, 3), random.between(-1.5, 1.5), random.between(0, 6.28)];
      const [own, core] = [attitude(r, p, h), rotationFromAngles(r, p, h)];
      for (let i = 0; i < 9; i++) expect(own[i]).toBeCloseTo(core[i], 12);
    }
    for (const sensor of Object.values(deliveredMounting().sensors)) {
      const [own, core] = [sensorAxes(sensor), sensorToBody(sensor)];
      for (let i = 0; i < 9; i++) expect(own[i]).toBeCloseTo(core[i], 12);
    }
  });
});

describe('the surroundings of a place', () => {
  const system = parseSystem('EPSG:25832+5773');
  const [lat, lon, h] = [56.08 * DEG, 8.47 * DEG, 45];

  it('are those of the exact chain within a tenth of a millimetre at 100 m', () => {
    const { c, axes } = nearby(system, lat, lon, h);
    const here = geodeticToEcef(system.ellipsoid, lat, lon, h);
    for (let k = 0; k < 40; k++) {
      const v = [random.between(-60, 60), random.between(-60, 60), random.between(-40, 40)];
      const p = [0, 1, 2].map((i) => here[i] + v[0] * axes[i] + v[1] * axes[3 + i] + v[2] * axes[6 + i]);
      const exact = new Float64Array(3);
      ecefToGeodetic(system.ellipsoid, p[0], p[1], p[2], exact);
      system.project(exact[0], exact[1], exact[2], exact);
      const [n, e, d] = v;
      const terms = [1, n, e, d, n * n, e * e, d * d, n * e, n * d, e * d];
      for (let i = 0; i < 3; i++) {
        const mapped = terms.reduce((sum, t, m) => sum + t * c[10 * i + m], 0);
        expect(Math.abs(mapped - exact[i])).toBeLessThan(1e-4);
      }
    }
  });

  it('agree with the map that placing uses', () => {
    const [own, core] = [nearby(system, lat, lon, h), makeLocalMap(system, lat, lon, h)];
    for (let i = 0; i < 9; i++) expect(own.axes[i]).toBeCloseTo(core.axes[i], 12);
    const scale = [1, 100, 100, 100, 1e4, 1e4, 1e4, 1e4, 1e4, 1e4];
    own.c.forEach((v, i) => expect(Math.abs(v - core.c[i]) * scale[i % 10]).toBeLessThan(1e-4));
  });
});
