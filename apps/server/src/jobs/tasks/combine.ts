import { placeByPoints, planFactor, type PlacingScale } from '@longheron/core/frames';
import { part, Problem, type Notice, type Watch } from '@longheron/core/shared';
import { type Mark } from '@longheron/core/accuracy';
import { parseSystem } from '@longheron/formats/crs';
import { type MergedStrips } from '@longheron/formats/las';
import { mergeClouds, placeCloud, reprojectCloud } from '@longheron/operations/combine';
import { storeCloud } from './cloudStore';
import { bringEditsIn, type EditedCloud } from './edit';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Several clouds as one, with what was done to them by hand. */
export async function merge(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    clouds: Array<{ cloud: EditedCloud; name: string }>;
    crs: string;
    strips?: MergedStrips;
  };
  const shelf = new Shelf(r.storeFolder);
  const files: Array<{ path: string; name: string }> = [];
  for (const [i, { cloud, name }] of p.clouds.entries()) {
    const las = await bringEditsIn(
      r.storeFolder,
      cloud,
      part(watch, (0.2 * i) / p.clouds.length, (0.2 * (i + 1)) / p.clouds.length),
    );
    files.push({ path: objectPath(r.storeFolder, las), name });
  }
  let made!: Awaited<ReturnType<typeof mergeClouds>>;
  const las = await shelf.file(async (path) => {
    made = await mergeClouds(files, path, new Date(), p.strips, part(watch, 0.2, 0.6));
  }, 'las');
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.6, 1));
  const notices: Notice[] = [];
  if (made.lost.length)
    notices.push({
      ...{ code: 'merge-lost', severity: 'warning' },
      text: `Not carried over: ${made.lost.join('; ')}.`,
      effect: 'The merged cloud does not hold it; the clouds that it was made of do.',
    });
  const moved = made.stripsMovedBy.flatMap((by, i) => (by ? [`${files[i].name} by ${by}`] : []));
  if (moved.length)
    notices.push({
      ...{ code: 'merge-strips', severity: 'info' },
      text: `Strip numbers were moved up so that strips stay apart: ${moved.join(', ')}.`,
      effect: 'Strips of these clouds have other numbers here.',
    });
  const figures = { points: made.written, clouds: files.length, point_format: made.pointFormat };
  return {
    content: {
      ...{ las: las.sha256, bytes: las.bytes, ...stored, figures, crs: p.crs },
      merged: files.map(({ name }, i) => ({ name, points: made.points[i], stripsMovedBy: made.stripsMovedBy[i] })),
    },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices,
    log: [`${made.written} points of ${files.length} clouds, point format ${made.pointFormat}.`],
  };
}

/** A cloud of another system in that of the project. */
export async function reproject(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as { las: string; crs: string; from?: string; name: string };
  const shelf = new Shelf(r.storeFolder);
  const to = parseSystem(p.crs);
  const stated = p.from ? parseSystem(p.from) : undefined;
  let made!: Awaited<ReturnType<typeof reprojectCloud>>;
  const las = await shelf.file(async (path) => {
    made = await reprojectCloud(objectPath(r.storeFolder, p.las), path, to, stated, part(watch, 0, 0.5), p.name);
  }, 'las');
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.5, 1));
  const [a, b] = [made.from.label, to.label];
  return {
    name: `${p.name} in ${to.label}`,
    content: {
      ...{ las: las.sha256, bytes: las.bytes, ...stored, figures: { points: made.written }, crs: p.crs },
      reprojected: { from: a, to: b, stated: !!stated },
    },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices: [
      {
        ...{ code: 'reprojected', severity: 'info' },
        text: `From ${a}${stated ? ' (as stated, the file says nothing)' : ''} to ${b}, over geographic coordinates without a shift of datum. ${made.from.geoid.name === to.geoid.name ? '' : `Heights: ${made.from.geoid.statement} to ${to.geoid.statement}.`}`.trim(),
        effect: 'Frames that move against each other (WGS 84 against ETRS89: some 2.5 cm a year) are taken as one.',
      },
    ],
    log: [`${made.written} points carried from ${a} to ${b}.`],
  };
}

/** A cloud in a frame of its own, placed by marks that are known in it. */
export async function align(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    las: string;
    crs: string;
    name: string;
    pairs: Array<{ mark: string; x: number; y: number; z: number }>;
    marks: Mark[];
    scale: 'one' | 'plan' | 'free';
    level: boolean;
  };
  const to = parseSystem(p.crs);
  const known = p.pairs.map(({ mark }) => {
    const found = p.marks.find((m) => m.name === mark);
    if (found) return found;
    throw new Problem(`There is no mark ${mark}.`, {
      ...{ code: 'align-mark', place: mark },
      remedy: 'Choose the file of marks that holds it.',
    });
  });
  const given = known.map((m): [number, number, number] => [m.eastingM, m.northingM, m.heightM]);
  const middle = [0, 1, 2].map((k) => given.reduce((s, g) => s + g[k] / given.length, 0)) as [number, number, number];
  const scale: PlacingScale = p.scale === 'plan' ? { kind: 'plan', factor: planFactor(to, middle) } : { kind: p.scale };
  const placing = placeByPoints(
    p.pairs.map(({ x, y, z }) => [x, y, z] as const),
    given,
    { scale, level: p.level },
  );
  const shelf = new Shelf(r.storeFolder);
  let written = 0;
  const las = await shelf.file(async (path) => {
    const at = objectPath(r.storeFolder, p.las);
    ({ written } = await placeCloud(at, path, to, placing, part(watch, 0, 0.5), p.name));
  }, 'las');
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.5, 1));
  const { residuals, missesM, sdM, redundancy, stretch, headingDeg, tiltDeg } = placing;
  const points = known.map((m, i) => ({ mark: m.name, ...residuals[i], missM: missesM[i] }));
  const used = known.map((m) => m.name).join(', ');
  const notices: Notice[] = [
    {
      ...{ code: 'aligned', severity: 'info' },
      text: `Placed by ${used}${sdM === null ? '; nothing is left over to judge it by' : `: 1 SD of a coordinate ${(100 * sdM).toFixed(1)} cm`}.`,
      effect: 'These marks cannot prove this cloud.',
    },
  ];
  if (redundancy === 0 || points.every((q) => q.missM === null))
    notices.push({
      ...{ code: 'align-few', severity: 'warning' },
      text: `${points.length} points place the cloud, none checks another.`,
      effect: 'A point that was picked wrongly would not show.',
      remedy: 'Add a point.',
    });
  return {
    name: `${p.name} placed`,
    content: {
      ...{ las: las.sha256, bytes: las.bytes, ...stored, figures: { points: written }, crs: p.crs },
      aligned: { points, sdM, redundancy, stretch, headingDeg, tiltDeg, scale: p.scale, level: p.level },
    },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices,
    log: [`${written} points placed by ${used}.`],
  };
}
