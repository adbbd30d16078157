import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import {
  anglesFromRotation,
  applyLocalMap,
  DEG,
  ecefToGeodetic,
  EGM96,
  exactFromLocal,
  forwardTransverseMercator,
  geodeticToEcef,
  GRS80,
  inverseTransverseMercator,
  makeLocalMap,
  makeReferenceSystem,
  METRES_PER,
  parseMounting,
  quaternionFromAngles,
  rotationFromAngles,
  rotationFromQuaternion,
  sensorToBody,
  slerp,
  unitOfFactor,
  type SystemDefinition,
} from '.';

const UTM32 = { ellipsoid: GRS80, lat0Rad: 0, lon0Rad: 9 * DEG, k0: 0.9996, falseEastingM: 500000, falseNorthingM: 0 };
const DEFINITION: SystemDefinition = {
  horizontalCode: 25832,
  horizontalName: 'ETRS89 / UTM zone 32N',
  proj4: '+proj=utm +zone=32 +ellps=GRS80 +units=m +no_defs',
  metresPerUnit: 1,
  verticalCode: 5773,
  verticalName: 'EGM96 height',
  verticalMetresPerUnit: 1,
};

describe('transverse Mercator', () => {
  // printed by PROJ 9 (cs2cs -f %.9f EPSG:4258 EPSG:25832)
  const fromProj = [
    [56.08, 8.5, 468880.688629517, 6215096.105372285],
    [56.08, 12.9, 742661.083472925, 6221840.957849388],
    [70, 5.1, 351220.138304992, 7770633.596290567],
    [10, 6.5, 225928.946612866, 1106451.278218436],
  ];
  it.each(fromProj)('%d N %d E agrees with PROJ within 2e-8 m', (lat, lon, e, n) => {
    const out = forwardTransverseMercator(UTM32, lat * DEG, lon * DEG);
    expect(Math.abs(out[0] - e)).toBeLessThan(2e-8);
    expect(Math.abs(out[1] - n)).toBeLessThan(2e-8);
    const back = inverseTransverseMercator(UTM32, out[0], out[1]);
    expect(Math.abs(back[0] / DEG - lat) * 111e3).toBeLessThan(1e-8);
    expect(Math.abs(back[1] / DEG - lon) * 111e3).toBeLessThan(1e-8);
  });

  it('gives convergence and scale at the demo site as its documents state them', () => {
    const out = forwardTransverseMercator(UTM32, 56.08 * DEG, 8.47 * DEG);
    expect(out[2] / DEG).toBeCloseTo(-0.4398, 4);
    expect(out[3]).toBeCloseTo(0.999613, 6);
  });

  it('converges as its own derivative says', () => {
    const step = 1e-7;
    const a = forwardTransverseMercator(UTM32, 56 * DEG - step, 8 * DEG);
    const b = forwardTransverseMercator(UTM32, 56 * DEG + step, 8 * DEG);
    const at = forwardTransverseMercator(UTM32, 56 * DEG, 8 * DEG);
    expect(Math.atan2(b[0] - a[0], b[1] - a[1])).toBeCloseTo(-at[2], 6);
  });
});

describe('Earth-centred coordinates', () => {
  it('agree with PROJ', () => {
    const out = geodeticToEcef(GRS80, 56.08 * DEG, 8.5 * DEG, 45);
    expect(out[0]).toBeCloseTo(3528293.8596298611, 7);
    expect(out[1]).toBeCloseTo(527307.0503756617, 7);
    expect(out[2]).toBeCloseTo(5269455.3781533903, 7);
  });
  it('go round within 1e-8 m from −10 to +50 km', () => {
    const random = new Random(1);
    for (let i = 0; i < 2000; i++) {
      const lat = random.between(-90, 90) * DEG,
        lon = random.between(-180, 180) * DEG,
        h = random.between(-10e3, 50e3);
      const p = geodeticToEcef(GRS80, lat, lon, h);
      const g = ecefToGeodetic(GRS80, p[0], p[1], p[2]);
      const q = geodeticToEcef(GRS80, g[0], g[1], g[2]);
      expect(Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])).toBeLessThan(1e-8);
      expect(Math.abs(g[2] - h)).toBeLessThan(1e-8);
    }
  });
});

describe('reference system', () => {
  const system = makeReferenceSystem(DEFINITION);
  it('uses N = 40.70 m at the demo site', () => {
    const geo = new Float64Array(3);
    system.unproject(467200, 6215300, 3, geo);
    expect(Math.abs(EGM96.undulation(geo[0], geo[1]) - 40.7)).toBeLessThan(0.01);
    const back = new Float64Array(3);
    system.project(geo[0], geo[1], geo[2], back);
    expect(back[0]).toBeCloseTo(467200, 7);
    expect(back[2]).toBeCloseTo(3, 7);
  });
  it('computes a Lambert system in feet through proj4, in metres inside', () => {
    const lambert = makeReferenceSystem({
      ...DEFINITION,
      horizontalCode: 2232,
      verticalCode: 0,
      metresPerUnit: METRES_PER.usSurveyFoot,
      proj4:
        '+proj=lcc +lat_0=37.8333333333333 +lon_0=-105.5 +lat_1=39.75 +lat_2=38.45 +x_0=914401.828803657 +y_0=304800.609601219 +ellps=GRS80 +towgs84=0,0,0,0,0,0,0 +units=us-ft +no_defs',
    });
    const out = new Float64Array(3);
    lambert.project(39.5 * DEG, -105.2 * DEG, 0, out);
    // cs2cs EPSG:4269 EPSG:2232 in US survey feet
    expect(out[0] / METRES_PER.usSurveyFoot).toBeCloseTo(3084655.176216, 4);
    expect(out[1] / METRES_PER.usSurveyFoot).toBeCloseTo(1607143.572933, 4);
  });
  it('refuses what it cannot do, with a remedy', () => {
    expect(() => makeReferenceSystem({ ...DEFINITION, proj4: '+proj=longlat +ellps=GRS80' })).toThrow(
      /not a projected/,
    );
    expect(() => makeReferenceSystem({ ...DEFINITION, verticalCode: 5941 })).toThrow(/geoid grid/);
    expect(() => makeReferenceSystem({ ...DEFINITION, proj4: '+proj=tmerc +ellps=bessel' })).toThrow(/datum/);
  });
  it('is followed by its second-order map within 0.1 mm at 300 m', () => {
    const map = makeLocalMap(system, 56.08 * DEG, 8.47 * DEG, 45);
    const a = new Float64Array(3),
      b = new Float64Array(3);
    for (const [n, e, d] of [
      [300, 0, 0],
      [0, -300, 20],
      [200, 200, -60],
      [-170, 170, 170],
    ]) {
      applyLocalMap(map, n, e, d, a);
      exactFromLocal(system, map.originEcef, map.axes, n, e, d, b);
      expect(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])).toBeLessThan(1e-4);
    }
  });
});

describe('attitude', () => {
  it('carries the check vector of the conventions', () => {
    const m = rotationFromAngles(10 * DEG, 5 * DEG, 30 * DEG);
    const v = [10, 2, 1];
    const ned = [0, 3, 6].map((r) => m[r] * v[0] + m[r + 1] * v[1] + m[r + 2] * v[2]);
    expect(ned[0]).toBeCloseTo(7.82986, 5);
    expect(ned[1]).toBeCloseTo(6.59438, 5);
    expect(ned[2]).toBeCloseTo(0.45548, 5);
  });
  it('has right side down as positive roll and nose up as positive pitch', () => {
    expect(rotationFromAngles(0.1, 0, 0)[7]).toBeGreaterThan(0); // the right wing points down
    expect(rotationFromAngles(0, 0.1, 0)[6]).toBeLessThan(0); // the nose points up
  });
  it('interpolates rotations, not angles', () => {
    const q = new Float64Array(12);
    quaternionFromAngles(0.1, -0.2, 359 * DEG, q, 0);
    quaternionFromAngles(0.1, -0.2, 1 * DEG, q, 4);
    slerp(q, 0, 4, 0.5, q, 8);
    const m = new Float64Array(9);
    rotationFromQuaternion(q, 8, m);
    const a = anglesFromRotation(m);
    expect(Math.min(a.headingRad, 2 * Math.PI - a.headingRad)).toBeLessThan(1e-9);
    expect(a.rollRad).toBeCloseTo(0.1, 5);
  });
});

describe('mounting', () => {
  it('composes boresight and orientation', () => {
    const m = sensorToBody({
      leverArmM: [0, 0, 0],
      orientationDeg: { roll: 90, pitch: 0, heading: 45 },
      boresightDeg: { roll: 0, pitch: 0, heading: 0 },
      leverArmSdM: 0,
      boresightSdDeg: 0,
    });
    // the sensor's z axis (normal of the profile plane) points forward right to left
    expect(m[2]).toBeCloseTo(Math.SQRT1_2, 12);
    expect(m[5]).toBeCloseTo(-Math.SQRT1_2, 12);
  });
  it('names the member at fault', () => {
    const wrong = (json: unknown) => () => parseMounting(json, 'm.json');
    expect(wrong({})).toThrow(/sensors/);
    expect(wrong({ sensors: { a: { lever_arm_m: [1, 2] } } })).toThrow(/sensors\.a\.lever_arm_m/);
    expect(
      wrong({ sensors: { a: { lever_arm_m: [1, 2, 3], orientation_deg: { roll: 0, pitch: 89, heading: 0 } } } }),
    ).toThrow(/pitch/);
    expect(wrong({ sensors: { a: { lever_arm_m: [1, 2, 'x'] } } })).toThrow(/lever_arm_m\[2\]/);
  });
});

it('tells the foot kinds apart', () => {
  expect(unitOfFactor(0.3048)).toBe('foot');
  expect(unitOfFactor(0.304800609601219)).toBe('usSurveyFoot');
  expect(unitOfFactor(0.9)).toBeUndefined();
});
