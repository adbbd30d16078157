import { type CoverageSettings } from '@longheron/core/accuracy';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { coverageNotices, coverageOf } from '@longheron/operations/edit';
import { areaRings, outlinesIn } from '@longheron/operations/outlines';
import { cloudOf, type EditedCloud } from './edit';
import { densityColour, gridPicture, onScale } from './gridPicture';
import { jsonHash, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** From precise to not: pale green by ochre to dark red. */
const PRECISION_SCALE = [
  [208, 231, 214],
  [122, 178, 140],
  [222, 190, 110],
  [201, 120, 54],
  [140, 40, 30],
];
const VOID = [168, 64, 46];
const MOST_VOIDS = 500;

interface Payload {
  cloud: EditedCloud;
  crs: string;
  toleranceM: number;
  settings: CoverageSettings & { groundOnly: boolean; area?: string };
  outlines?: { path: string; name: string };
}

/** How a cloud covers the ordered area: figures, list of voids, maps of density and precision. */
export async function coverage(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as Payload;
  const { groundOnly, area, ...settings } = p.settings;
  const cloud = await cloudOf(r.storeFolder, p.cloud);
  const areas = p.outlines ? areaRings(await outlinesIn(p.outlines.path, p.outlines.name, p.crs), area) : [];
  if (p.outlines && areas.length === 0)
    throw new Problem(area ? `There is no area "${area}" in the file.` : 'The file holds no area, only lines.', {
      ...{ code: 'coverage-area', file: p.outlines.name },
      remedy: 'Choose one of its areas, or another file.',
    });
  const c = await coverageOf(cloud, settings, areas, groundOnly, part(watch, 0, 0.95));
  const shelf = new Shelf(r.storeFolder);
  const { grid } = c;
  const sdMostM = 2 * p.toleranceM;
  const density = await gridPicture(grid, false, (k) =>
    !c.area[k] ? undefined : c.perM2[k] > 0 ? densityColour(c.perM2[k], settings.targetPerM2) : VOID,
  );
  const precision = await gridPicture(grid, false, (k) =>
    c.sdM[k] > 0 ? onScale(PRECISION_SCALE, c.sdM[k] / sdMostM) : undefined,
  );
  const plain = (v: number) => (Number.isFinite(v) ? v : null);
  const all = (o: Record<string, number>) => Object.fromEntries(Object.entries(o).map(([k, v]) => [k, plain(v)]));
  const content = {
    figures: {
      ...all({ areaM2: c.areaM2, coveredM2: c.coveredM2, median: c.median, p5: c.p5, belowShare: c.belowShare }),
      ...all({ voidM2: c.voidM2, voidCount: c.voidCount, points: c.points, listed: c.voids.length }),
      ...{ steep: all(c.steep), precision: all(c.precision), spacing: all(c.spacing) },
    },
    voids: c.voids.slice(0, MOST_VOIDS).map(({ x, y, ...v }) => ({
      ...v,
      ...{ eastingM: cloud.origin[0] + x, northingM: cloud.origin[1] + y },
    })),
    ...{ settings: p.settings, ordered: areas.length > 0, crs: p.crs, toleranceM: p.toleranceM, sdMostM },
    pictures: {
      density: await shelf.bytes(density, 'png'),
      precision: c.precision.statedM2 ? await shelf.bytes(precision, 'png') : null,
    },
    layout: {
      ...{ cellM: grid.cellM, columns: grid.columns, rows: grid.rows, westM: grid.minX + cloud.origin[0] },
      northM: grid.minY + cloud.origin[1] + grid.rows * grid.cellM,
    },
  };
  return {
    content,
    contentHash: jsonHash(content),
    objects: shelf.objects,
    notices: coverageNotices(c, settings, areas.length > 0, p.toleranceM, cloud.origin),
    log: [`${c.points} points counted in ${grid.columns} by ${grid.rows} cells; ${c.voidCount} voids.`],
  };
}
