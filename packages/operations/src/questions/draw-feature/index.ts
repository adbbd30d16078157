import { type FeatureDto, type RayDto } from '@longheron/contract/api';
import { type Contents } from '@longheron/contract/kinds';
import { Problem } from '@longheron/core/shared';
import { featuresCsv, featuresGeoJson, featuresLandXml } from '@longheron/formats/features';
import { parseSystem } from '@longheron/formats/crs';
import { question } from '../../computation/question';
import { adjustedPictures, metBy, raysOf, USUAL_PICK_PX } from '../../shared/photographs';

interface Asked {
  block: Contents['block'];
  crs: string | null;
  /** What is there already; one of the same name is replaced. */
  before: FeatureDto[];
  draw?: Omit<FeatureDto, 'corners' | 'lengthM' | 'areaM2'> & { corners: Array<{ seen: RayDto[] }> };
  /** Name of one that is taken out. */
  gone?: string;
  project: string;
}

type Drawn = Pick<Contents['features'], 'features' | 'csv' | 'geojson' | 'landxml'>;

const FEWEST: { readonly [shape in FeatureDto['shape']]: number } = { point: 1, line: 2, area: 3 };

/** Points, lines and areas with one more, or one less, computed from their rays and written as files. */
export default question<Asked, Drawn>(async ({ block, crs, before, draw, gone, project }, store) => {
  let features = gone === undefined ? before : before.filter((f) => f.name !== gone);
  if (draw) {
    const { corners, ...rest } = draw;
    if (corners.length < FEWEST[draw.shape])
      throw new Problem(
        `The ${draw.shape} "${draw.name}" has ${corners.length} corners; it takes ${FEWEST[draw.shape]}.`,
        {
          code: 'feature-corners',
          remedy: 'Draw it on, or choose another shape.',
        },
      );
    const opened = await adjustedPictures(store, block, crs);
    const met = corners.map(({ seen }, k) => {
      const found = metBy(opened, raysOf(opened, seen));
      if (!found)
        throw new Problem(`The rays of corner ${k + 1} of "${draw.name}" do not meet.`, {
          code: 'feature-rays',
          remedy: 'Pick it in photographs that look at it from different sides.',
        });
      return { ...found.met, seen: seen.map((s) => ({ ...s, sdPx: s.sdPx ?? USUAL_PICK_PX })) };
    });
    const one: FeatureDto = { ...rest, corners: met, ...sizeOf(draw.shape, met) };
    const at = features.findIndex((f) => f.name === one.name);
    features = at < 0 ? [...features, one] : features.map((f, k) => (k === at ? one : f));
  }
  const system = block.figures.frame === 'local' ? undefined : parseSystem(crs ?? block.crs);
  const put = (text: string, kind: string) => store.bytes(new TextEncoder().encode(text), kind);
  return {
    content: {
      features,
      csv: await put(featuresCsv(features, system?.label), 'csv'),
      geojson: system ? await put(featuresGeoJson(features, system, true), 'geojson') : '',
      landxml: system ? await put(featuresLandXml(features, system, project, new Date()), 'xml') : '',
    },
  };
});

/** Length in space, area in plan. */
function sizeOf(shape: FeatureDto['shape'], corners: ReadonlyArray<{ at: readonly number[] }>) {
  if (shape === 'point') return { lengthM: 0, areaM2: 0 };
  const ends = corners.map((_, k) => [corners[k].at, corners[(k + 1) % corners.length].at] as const);
  const sides = shape === 'area' ? ends : ends.slice(0, -1);
  const lengthM = sides.reduce((s, [a, b]) => s + Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]), 0);
  const twice = ends.reduce((s, [a, b]) => s + a[0] * b[1] - b[0] * a[1], 0);
  return { lengthM, areaM2: shape === 'area' ? Math.abs(twice) / 2 : 0 };
}
