import { type FeatureDto, type RayDto } from '@longheron/contract/api';
import { type Contents } from '@longheron/contract/kinds';
import { Problem } from '@longheron/core/shared';
import { featuresCsv, featuresGeoJson, featuresLandXml } from '@longheron/formats/features';
import { parseSystem } from '@longheron/formats/crs';
import { question } from '../../computation/question';
import { adjustedPictures, metBy, raysOf, USUAL_PICK_PX, type AdjustedPictures } from '../../shared/photographs';

/** A feature by what is picked of it. */
type Drawing = Pick<FeatureDto, 'name' | 'shape' | 'code' | 'note'> & { corners: Array<{ seen: RayDto[] }> };

interface Asked {
  block: Contents['block'];
  crs: string | null;
  /** What is there already; one of the same name is replaced. */
  before: FeatureDto[];
  draw?: Drawing;
  /** Name of one that is taken out. */
  gone?: string;
  project: string;
}

type Drawn = Pick<Contents['features'], 'features' | 'csv' | 'geojson' | 'landxml'>;

const FEWEST: { readonly [shape in FeatureDto['shape']]: number } = { point: 1, line: 2, area: 3 };

/**
 * Points, lines and areas with one more, or one less, written as files. All are computed from their rays anew: the block may
 * have been adjusted again since they were drawn.
 */
export default question<Asked, Drawn>(async ({ block, crs, before, draw, gone, project }, store) => {
  const opened = await adjustedPictures(store, block, crs);
  const kept: Drawing[] = before.filter((f) => f.name !== gone);
  const at = draw ? kept.findIndex((f) => f.name === draw.name) : -1;
  const all = !draw ? kept : at < 0 ? [...kept, draw] : kept.map((f, k) => (k === at ? draw : f));
  const features = all.map((f) => computed(f, opened));
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

/** A feature where its rays meet. @throws Problem for too few corners, or rays that do not meet. */
function computed({ name, shape, code, note, corners }: Drawing, opened: AdjustedPictures): FeatureDto {
  if (corners.length < FEWEST[shape])
    throw new Problem(`The ${shape} "${name}" has ${corners.length} corners; it takes ${FEWEST[shape]}.`, {
      code: 'feature-corners',
      remedy: 'Draw it on, or choose another shape.',
    });
  const met = corners.map(({ seen }, k) => {
    const found = metBy(opened, raysOf(opened, seen));
    if (!found)
      throw new Problem(`The rays of corner ${k + 1} of "${name}" do not meet.`, {
        code: 'feature-rays',
        remedy: 'Pick it in photographs that look at it from different sides, or take it out.',
      });
    return { ...found.met, seen: seen.map((s) => ({ ...s, sdPx: s.sdPx ?? USUAL_PICK_PX })) };
  });
  return { name, shape, code, note, corners: met, ...sizeOf(shape, met) };
}

/** Length in space, area in plan. */
function sizeOf(shape: FeatureDto['shape'], corners: ReadonlyArray<{ at: readonly number[] }>) {
  if (shape === 'point') return { lengthM: 0, areaM2: 0 };
  const ends = corners.map((_, k) => [corners[k].at, corners[(k + 1) % corners.length].at] as const);
  const sides = shape === 'area' ? ends : ends.slice(0, -1);
  const lengthM = sides.reduce((s, [a, b]) => s + Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]), 0);
  const twice = ends.reduce((s, [a, b]) => s + a[0] * b[1] - b[0] * a[1], 0);
  return { lengthM, areaM2: shape === 'area' ? Math.abs(twice) / 2 : 0 };
}
