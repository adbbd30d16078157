import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric';
import { carryPlace, FIXED_TO_PLATE, TERRESTRIAL_FRAMES, wgs84At, type Plate, type TerrestrialFrame } from '.';

const COAST = [3424000.123, 510000.456, 5336000.789];
const PLAINS = [-1288337.1, -4721970.3, 4080180.5];
const OUTBACK = [-4052051.7, 4212836.2, -2545105.6];
const off = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

describe('between frames', () => {
  // by PROJ 9.1.1 with the transformations of EPSG 10.076, all at 2026.45
  it.each<[TerrestrialFrame, TerrestrialFrame, number[], number[]]>([
    ['ITRF2014', 'ITRF2020', COAST, [3424000.125838, 510000.458259, 5336000.787551]],
    ['ITRF2020', 'ITRF2014', COAST, [3424000.120162, 510000.453741, 5336000.790449]],
    ['ITRF2008', 'ITRF2014', PLAINS, [-1288337.10099, -4721970.299664, 4080180.497313]],
    ['ITRF2005', 'ITRF2014', COAST, [3424000.110625, 510000.454279, 5336000.785403]],
    ['ITRF2000', 'ITRF2014', OUTBACK, [-4052051.686422, 4212836.180601, -2545105.532644]],
    ['ITRF2014', 'ETRF2014', COAST, [3424000.708743, 509999.894964, 5336000.466764]],
    ['ITRF2014', 'ETRF2000', COAST, [3424000.740858, 509999.941011, 5336000.407494]],
    ['ITRF2014', 'NAD83(2011)', PLAINS, [-1288336.056707, -4721971.600894, 4080180.650846]],
    ['ITRF2014', 'GDA2020', OUTBACK, [-4052051.446784, 4212836.233277, -2545105.948061]],
  ])('%s to %s', (from, to, place, expected) => {
    const got = carryPlace(place, { frame: from, epoch: 2026.45 }, { frame: to, epoch: 2026.45 });
    expect(off(got.xyzM, expected)).toBeLessThan(2e-6);
    expect(got.byM).toBeCloseTo(off(place, expected), 5);
    expect(got.steps).toHaveLength(1);
  });

  it('over two steps agrees with the direct one that is published for the pair', () => {
    // EPSG 7951; the publishers round their parameters to 0.1 mm and 0.01 ppb
    const direct = [3424000.737636, 509999.93887, 5336000.404213];
    const got = carryPlace(COAST, { frame: 'ITRF2008', epoch: 2026.45 }, { frame: 'ETRF2000', epoch: 2026.45 });
    expect(off(got.xyzM, direct)).toBeLessThan(5e-4);
    expect(got.steps.map((s) => s.split(' at ')[0])).toEqual(['ITRF2008 to ITRF2014', 'ITRF2014 to ETRF2000']);
  });

  it('there and back by any two is the same place', () => {
    const random = new Random(3);
    for (const a of TERRESTRIAL_FRAMES)
      for (const b of TERRESTRIAL_FRAMES) {
        const epoch = random.between(1995, 2035);
        const place = [0, 1, 2].map(() => random.between(-6.4e6, 6.4e6));
        const there = carryPlace(place, { frame: a, epoch }, { frame: b, epoch });
        const back = carryPlace(there.xyzM, { frame: b, epoch }, { frame: a, epoch });
        expect(off(back.xyzM, place)).toBeLessThan(2e-8);
      }
  });
});

describe('between epochs', () => {
  it('places move with their plate: 0.5 m in 20 years on the coast, as ω × r has it', () => {
    const got = carryPlace(
      COAST,
      { frame: 'ITRF2014', epoch: 2006.45 },
      { frame: 'ITRF2014', epoch: 2026.45 },
      { plate: 'Eurasia' },
    );
    const mas = Math.PI / 180 / 3600 / 1000;
    const [a, b, c] = [-0.085, -0.531, 0.77].map((v) => 20 * v * mas);
    const [x, y, z] = COAST;
    expect(off(got.xyzM, [x - c * y + b * z, y + c * x - a * z, z - b * x + a * y])).toBeLessThan(1e-9);
    expect(got.byM).toBeGreaterThan(0.4);
    expect(got.byM).toBeLessThan(0.6);
  });

  it('by a velocity of their own', () => {
    const got = carryPlace(
      COAST,
      { frame: 'ITRF2014', epoch: 2010 },
      { frame: 'ITRF2014', epoch: 2020 },
      { mPerYear: [-0.01, 0.02, 0.005] },
    );
    expect(off(got.xyzM, [COAST[0] - 0.1, COAST[1] + 0.2, COAST[2] + 0.05])).toBeLessThan(1e-9);
  });

  it('stay in a frame that goes with their plate, to less than a millimetre a year of the models', () => {
    const places: Record<string, number[]> = { Eurasia: COAST, Australia: OUTBACK };
    for (const [frame, plate] of Object.entries(FIXED_TO_PLATE) as Array<[TerrestrialFrame, Plate]>) {
      const place = places[plate];
      if (!place) continue;
      const kept = carryPlace(place, { frame, epoch: 2010 }, { frame, epoch: 2030 });
      expect(kept.byM).toBe(0);
      expect(kept.steps.at(-1)).toContain(`goes with ${plate}`);
      const along = carryPlace(place, { frame, epoch: 2010 }, { frame, epoch: 2030 }, { plate });
      expect(along.byM).toBeLessThan(0.02);
    }
  });

  it('are refused where the motion is not known, and not where the frame says it', () => {
    const international = { frame: 'ITRF2020' as const, epoch: 2015 };
    expect(() => carryPlace(COAST, international, { frame: 'ITRF2014', epoch: 2026.45 })).toThrow(
      /ITRF2020 at 2015 cannot be carried to 2026.45: how the place moves is not known/,
    );
    const out = carryPlace(COAST, { frame: 'ETRF2014', epoch: 2010 }, { frame: 'ITRF2014', epoch: 2026.45 });
    expect(out.steps[1]).toBe('2010 to 2026.45 with the plate Eurasia');
    expect(
      carryPlace(out.xyzM, { frame: 'ITRF2014', epoch: 2026.45 }, { frame: 'ETRF2014', epoch: 2010 }).byM,
    ).toBeCloseTo(out.byM, 3);
  });
});

it('WGS 84 goes with the international frame of its day', () => {
  expect([2003, 2013, 2015, 2022, 2026].map((y) => wgs84At(y)?.frame)).toEqual([
    'ITRF2000',
    'ITRF2008',
    'ITRF2008',
    'ITRF2014',
    'ITRF2020',
  ]);
  expect(wgs84At(1999)).toBeUndefined();
});
