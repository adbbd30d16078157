import {
  CoverageCounter,
  coverageGrid,
  judgeCoverage,
  SpacingSample,
  type Coverage,
  type CoverageSettings,
} from '@longheron/core/accuracy';
import { LAS_CLASS, PolygonMask } from '@longheron/core/cloud';
import { part, Problem, type Notice, type Watch } from '@longheron/core/shared';
import { type EditableCloud } from '../shared/stored/cloud';
import { streamPoints, type PointBlock } from '../shared/stored/stream';

export interface CoverageOfCloud extends Coverage {
  spacing: { points: number; medianM: number; p95M: number };
  points: number;
}

/**
 * How a stored cloud covers the area that was ordered; the cloud is read twice and never held.
 * @param areas that were ordered: rings of each, flat lists in the project's plan, even-odd within an area (holes), and
 *   together where they overlap; none: the area is where the points are.
 */
export async function coverageOf(
  cloud: EditableCloud,
  settings: CoverageSettings,
  areas: number[][][],
  groundOnly: boolean,
  watch?: Watch,
): Promise<CoverageOfCloud> {
  const [e0, n0] = cloud.origin;
  const within = areas.map((rings) => rings.map((r) => new PolygonMask(r.map((v, i) => v - (i % 2 ? n0 : e0)))));
  const masks = within.flat();
  const inside = (x: number, y: number) => within.some((area) => area.reduce((odd, m) => odd !== m.has(x, y), false));
  const each = (f: (x: number, y: number, z: number, sdM: number) => void) => (b: PointBlock) => {
    for (let i = 0; i < b.count; i++) {
      if (b.skip[i] || (groundOnly && b.classes[i] !== LAS_CLASS.ground)) continue;
      const k = 3 * i;
      f(b.xyz[k] * cloud.scale, b.xyz[k + 1] * cloud.scale, b.xyz[k + 2] * cloud.scale, b.attributes.sdM(i));
    }
  };
  const box: [number, number, number, number] = masks.length
    ? [least(masks, 'minX'), least(masks, 'minY'), -least(masks, 'maxX', -1), -least(masks, 'maxY', -1)]
    : await extentOf(cloud, each, part(watch, 0, 0.2));
  const counter = new CoverageCounter(coverageGrid(box, settings.cellM));
  let points = 0;
  await streamPoints(
    cloud,
    each((x, y, z, sdM) => {
      points++;
      counter.add(x, y, z, sdM);
    }),
    part(watch, 0.2, 0.6),
    'Counting',
  );
  if (points === 0)
    throw new Problem(groundOnly ? 'The cloud has no ground points.' : 'The cloud has no points that count.', {
      code: 'coverage-empty',
      remedy: groundOnly ? 'Find the ground first, or count all points.' : 'Restore what was rejected.',
    });
  const found = judgeCoverage(counter, settings, masks.length ? inside : undefined);
  const sample = new SpacingSample(counter.grid, counter.count, found.area);
  await streamPoints(
    cloud,
    each((x, y, z) => sample.add(counter.cellAt(x, y), x, y, z)),
    part(watch, 0.6, 0.9),
    'Measuring the spacing',
  );
  return { ...found, spacing: sample.finish(), points };
}

const least = (masks: PolygonMask[], of: 'minX' | 'minY' | 'maxX' | 'maxY', sign = 1) =>
  masks.reduce((v, m) => Math.min(v, sign * m[of]), Infinity);

/** Where the points that count lie: strays of a wide cloud must not make the grid wide. */
async function extentOf(
  cloud: EditableCloud,
  each: (f: (x: number, y: number) => void) => (b: PointBlock) => void,
  watch: Watch | undefined,
): Promise<[number, number, number, number]> {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  await streamPoints(
    cloud,
    each((x, y) => {
      if (x < box[0]) box[0] = x;
      if (y < box[1]) box[1] = y;
      if (x > box[2]) box[2] = x;
      if (y > box[3]) box[3] = y;
    }),
    watch,
    'Measuring the extent',
  );
  return box[0] <= box[2] ? box : [0, 0, 1, 1];
}

/** What speaks against a coverage. @param ordered whether an area was given. @param sdLimitM largest deviation that is wanted. */
export function coverageNotices(
  c: CoverageOfCloud,
  settings: CoverageSettings,
  ordered: boolean,
  sdLimitM: number,
  origin: readonly number[],
): Notice[] {
  const out: Notice[] = [];
  const percent = (v: number) => `${(100 * v).toFixed(v < 0.1 ? 1 : 0)} %`;
  const [worst] = c.voids;
  if (worst)
    out.push({
      code: 'coverage-voids',
      severity: 'warning',
      place: `E ${(origin[0] + worst.x).toFixed(0)} N ${(origin[1] + worst.y).toFixed(0)}`,
      text: `${c.voids.length} voids of ${settings.leastVoidM2} m² or more; the largest has ${worst.areaM2.toFixed(0)} m² and is ${worst.widthM.toFixed(1)} m wide.`,
      effect: 'Surfaces are made up there, and nothing is checked.',
      remedy: 'Look at each: water, roofs and shadows explain some; what is left needs another pass.',
    });
  if (ordered && c.coveredM2 < 0.95 * c.areaM2)
    out.push({
      code: 'coverage-part',
      severity: 'warning',
      text: `Only ${percent(c.coveredM2 / c.areaM2)} of the ordered area has points.`,
      effect: 'The order is not met there.',
      remedy: 'Survey what is missing, or agree on another area.',
    });
  if (c.belowShare > 0.05)
    out.push({
      code: 'coverage-thin',
      severity: 'warning',
      text: `${percent(c.belowShare)} of the area is below ${settings.targetPerM2} points/m².`,
      effect: 'Small things are not found there, and heights are less sure.',
      remedy: 'Drive or fly it again, or agree on a lower density.',
    });
  if (c.steep.areaM2 >= 20 && c.steep.belowShare > 2 * Math.max(0.05, c.belowShare))
    out.push({
      code: 'coverage-steep',
      severity: 'warning',
      text: `On slopes beyond 20° ${percent(c.steep.belowShare)} is below the density wanted.`,
      effect: 'Banks are seen at a grazing angle, or from one side.',
      remedy: 'Look at the slopes in section.',
    });
  if (c.precision.p95 > sdLimitM)
    out.push({
      code: 'coverage-precision',
      severity: 'warning',
      text: `Stated deviations of height reach ${(100 * c.precision.p95).toFixed(1)} cm (95 of 100 cells lie below), more than ${(100 * sdLimitM).toFixed(1)} cm.`,
      effect: 'Parts of the cloud cannot keep the tolerance of the project.',
      remedy: 'See on the map of precision where, and what the trajectory says there.',
    });
  return out;
}
