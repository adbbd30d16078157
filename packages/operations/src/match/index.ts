import { readFile, rm } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/match';
import { type MatchFigures } from '@longheron/contract/kinds/point-cloud';
import { median, quantile } from '@longheron/core/numeric';
import { type OrientedPicture } from '@longheron/core/photo';
import { part, Problem, tick } from '@longheron/core/shared';
import { readBlockPoints } from '@longheron/formats/block-points';
import { LasFile, LasWriter, ADJUSTED_GPS_OFFSET_S, writeColoured } from '@longheron/formats/las';
import { writeFileWhole } from '@longheron/formats/bytes';
import { parseSystem, wktOfSystem } from '@longheron/formats/crs';
import { imageKey } from '@longheron/formats/picks';
import { computation } from '../computation/types';
import { areaRings, isWithin, outlinesIn } from '../shared/outlines';
import { fromBlock, openPhotoSets, type Axes } from '../shared/photographs';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { centimetres } from '../shared/words';
import { boxOf, common, tilesOf, type Box } from './area';
import { openBlock } from './open';
import { Pixels } from './pixels';
import { makeTile } from './tile';

/** Cells of one cloud. */
const MOST_CELLS = 2e8;
/** Of the spread of the points' heights, and metres: so far beyond them things may lie. */
const BEYOND = 0.25;
const BEYOND_LEAST_M = 3;

/** A coloured cloud from pairs of oriented photographs, one point a cell where two pairs agree. */
export default computation(
  declaration,
  async ({ photos, oriented, cameras, outlines }, settings, context, out, watch) => {
    const builder = new ReportBuilder('match', settings);
    const block = await openBlock(oriented, cameras, context.crs, out.store);
    const axes = block.axes;
    const crs = axes.system.label;
    const system = parseSystem(crs);
    const { photos: set, names } = await openPhotoSets(photos);
    const shown = new Set(set.map((p) => imageKey(p.name)));
    const pictures = block.pictures.filter((p) => shown.has(imageKey(p.name)));
    if (pictures.length < 2)
      throw new Problem(`${pictures.length} of the photographs are oriented in this block; it takes two.`, {
        code: 'match-photographs',
        file: names.join(', '),
        remedy: 'Choose the photographs of the block.',
      });
    const [low, high] = numbersOf(settings.heights) ?? (await heightsOf(oriented, out.store));
    const heightsM: [number, number] = [low, high];
    const areas = outlines ? areaRings(await outlinesIn(outlines.path, outlines.name, crs, outlines.content?.crs)) : [];
    const area = areaOf(pictures, { ...block, axes }, heightsM, numbersOf(settings.corners), areas);
    const cellM = settings.cellM || roundCell(settings.shrink * groundPx(pictures, { ...block, axes }, heightsM));
    const cells = ((area.east - area.west) * (area.north - area.south)) / cellM ** 2;
    if (cells > MOST_CELLS)
      throw new Problem(`${Math.round(cells / 1e6)} million cells are more than can be made at once.`, {
        code: 'match-cells',
        place: 'cell',
        remedy: `Take cells of at least ${(cellM * Math.sqrt(cells / MOST_CELLS)).toPrecision(2)} m, or a smaller area.`,
      });
    const pixels = new Pixels(set, settings.shrink);
    const small = { ...block, axes, pictures: pictures.map((p) => pixels.shrunk(p)) };
    const tiles = tilesOf(area, cellM);
    const rgb: Uint8Array[] = [];
    const total = { points: 0, pairs: 0, disagreed: 0, alone: 0, labels: [] as number[], squares: 0 };
    const matching = part(watch, 0, out.keeps ? 0.85 : 0.95);
    const las = await out.file('cloud', 'las', async (path) => {
      const plain = `${path}.plain`;
      try {
        await writeFileWhole(plain, async (file) => {
          const writer = await LasWriter.create(
            file,
            wktOfSystem(system.definition),
            offsetOf(area, system.definition.metresPerUnit),
            new Date(),
          );
          for (const [k, tile] of tiles.entries()) {
            const doing = `Matching photographs${tiles.length > 1 ? `, part ${k + 1} of ${tiles.length}` : ''}`;
            const each = (share: number) => tick(matching, (k + share) / tiles.length, doing);
            each(0);
            const made = await makeTile(tile, { block: small, pixels: (p) => pixels.of(p), cellM, heightsM, each });
            if (!made) continue;
            const { surface, grid, poseSdM } = made;
            const kept = keptOf(surface.cell, grid, areas);
            const n = kept.length;
            const pick = (value: (i: number) => number) => Float64Array.from(kept, value);
            const own = new Uint8Array(3 * n);
            kept.forEach((i, at) => own.set(surface.rgb.subarray(3 * i, 3 * i + 3), 3 * at));
            const { metresPerUnit, verticalMetresPerUnit } = system.definition;
            const plan = Math.hypot(cellM / Math.sqrt(12), Math.max(poseSdM[0], poseSdM[1]));
            const sdH = Float32Array.from(kept, (i) => Math.hypot(surface.sdM[i], poseSdM[2]));
            await writer.append({
              easting: pick((i) => (grid.westM + ((surface.cell[i] % grid.columns) + 0.5) * cellM) / metresPerUnit),
              northing: pick(
                (i) => (grid.northM - (Math.floor(surface.cell[i] / grid.columns) + 0.5) * cellM) / metresPerUnit,
              ),
              height: pick((i) => surface.heightM[i] / verticalMetresPerUnit),
              intensity: Uint16Array.from(kept, (_, at) => 257 * greyOf(own, at)),
              returnNumber: new Uint8Array(n).fill(1),
              returnCount: new Uint8Array(n).fill(1),
              scannerChannel: 0,
              strip: new Uint16Array(n),
              gpsS: new Float64Array(n).fill(ADJUSTED_GPS_OFFSET_S),
              sdE: new Float32Array(n).fill(plan),
              sdN: new Float32Array(n).fill(plan),
              sdH,
            });
            rgb.push(own);
            total.points += n;
            total.pairs += made.pairs;
            total.disagreed += surface.disagreed;
            total.alone += surface.alone;
            total.squares += sdH.reduce((s, v) => s + v * v, 0);
            total.labels.push(...surface.labelSdPx.filter(Number.isFinite));
          }
          await writer.finish();
        });
        if (!total.points)
          throw new Problem('No place was found alike by two pairs of photographs.', {
            code: 'match-none',
            file: names.join(', '),
            remedy:
              'It takes photographs of which three or more show each place, from sides that differ by 5 to 35 degrees, and heights between which things lie.',
          });
        const file = await LasFile.openPath(plain);
        try {
          const colours = joined(rgb, total.points);
          await writeColoured(file, path, system.definition, new Date(), colours, () => true);
        } finally {
          await file.close();
        }
      } finally {
        await rm(plain, { force: true });
      }
    });
    const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.85, 1)) : undefined;
    const figures: MatchFigures = {
      points: total.points,
      cell_m: cellM,
      cells: Math.round(cells),
      share: total.points / cells,
      photographs: pictures.length,
      pairs: total.pairs,
      disagreed: total.disagreed,
      alone: total.alone,
      label_sd_px: total.labels.length ? [Math.min(...total.labels), Math.max(...total.labels)] : null,
      sd_h_m: Math.sqrt(total.squares / total.points),
      heights_m: heightsM,
      area_m: [area.west, area.south, area.east, area.north],
    };
    return {
      content: {
        las: las.sha256,
        bytes: las.bytes,
        ...stored,
        crs,
        figures: { points: total.points },
        matched: figures,
      },
      hash: las.sha256,
      report: builder.finish(crs, { ...figures }),
      log: [
        `${total.points} points in cells of ${cellM} m from ${total.pairs} pairs of photographs; ${total.alone} cells one pair alone saw, on ${total.disagreed} pairs disagreed: these are left empty.`,
        `Matches err by ${figures.label_sd_px ? figures.label_sd_px.map((v) => v.toFixed(2)).join(' to ') : '?'} px, by how much the photographs show; heights by ${centimetres(figures.sd_h_m)} (1 SD, RMS), poses included.`,
      ],
    };
  },
);

type Block = Awaited<ReturnType<typeof openBlock>> & { axes: Axes };

const numbersOf = (text: string): number[] | undefined => (text.trim() ? text.split(',').map(Number) : undefined);
const greyOf = (rgb: Uint8Array, k: number) =>
  Math.round(0.299 * rgb[3 * k] + 0.587 * rgb[3 * k + 1] + 0.114 * rgb[3 * k + 2]);

/** Points that lie in the areas; all where there is none. */
function keptOf(
  cell: Int32Array,
  { westM, northM, cellM, columns }: { westM: number; northM: number; cellM: number; columns: number },
  areas: number[][][],
): Int32Array {
  const all = Int32Array.from(cell, (_, i) => i);
  if (!areas.length) return all;
  return all.filter((i) =>
    isWithin(
      areas,
      westM + ((cell[i] % columns) + 0.5) * cellM,
      northM - (Math.floor(cell[i] / columns) + 0.5) * cellM,
    ),
  );
}

function joined(parts: readonly Uint8Array[], points: number): Uint8Array {
  const out = new Uint8Array(3 * points);
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** Whole kilometres at or below a corner, in units of the file. */
const offsetOf = ({ west, south }: Box, unit: number): [number, number, number] => [
  Math.floor(west / unit / 1000) * 1000,
  Math.floor(south / unit / 1000) * 1000,
  0,
];

/** Between which heights things lie, by the points of the block. */
async function heightsOf(
  oriented: { name: string; content?: { points: string } },
  store: { path(object: string): string },
): Promise<[number, number]> {
  const object = oriented.content?.points;
  const known = object ? readBlockPoints(await readFile(store.path(object)), `points of ${oriented.name}`) : [];
  if (known.length < 3)
    throw new Problem('Between which heights things lie is not known.', {
      code: 'match-heights',
      file: oriented.name,
      place: 'heights',
      remedy: 'Say the lowest and the highest, metres.',
      command: 'Give them with --heights, e.g. --heights=-5,40.',
    });
  const z = known.map((p) => p.at[2]);
  const [low, high] = [quantile(z, 0.01), quantile(z, 0.99)];
  const beyond = Math.max(BEYOND_LEAST_M, BEYOND * (high - low));
  return [low - beyond, high + beyond];
}

/** What is asked for, as far as photographs show it. */
function areaOf(
  pictures: readonly OrientedPicture[],
  block: Block,
  heightsM: readonly number[],
  corners: readonly number[] | undefined,
  areas: number[][][],
): Box {
  const reach = pictures.flatMap((p) => {
    const [e, n, h] = fromBlock(block, p.centreM);
    const above = Math.max(1, h - heightsM[0]);
    const half = (above * Math.max(p.camera.widthPx, p.camera.heightPx)) / 2 / p.camera.focalPx;
    return [[e - half, n - half] as const, [e + half, n + half] as const];
  });
  let area: Box | undefined = boxOf(reach);
  if (corners) area = common(area, { west: corners[0], south: corners[1], east: corners[2], north: corners[3] });
  if (area && areas.length) {
    const flat = areas.flat();
    area = common(area, boxOf(flat.flatMap((r) => r.flatMap((_, i) => (i % 2 ? [] : [[r[i], r[i + 1]] as const])))));
  }
  if (area) return area;
  throw new Problem('The photographs show nothing of this area.', {
    code: 'match-area',
    place: corners ? 'corners' : 'area',
    remedy: 'Give corners in the system of the project, within what the photographs show.',
  });
}

/** What a pixel shows of the ground in the middle, metres. */
function groundPx(pictures: readonly OrientedPicture[], block: Block, heightsM: readonly number[]): number {
  const ground = (heightsM[0] + heightsM[1]) / 2;
  return median(pictures.map((p) => Math.max(0.1, fromBlock(block, p.centreM)[2] - ground) / p.camera.focalPx));
}

/** Two digits are enough. */
const roundCell = (m: number) => Number(m.toPrecision(2));
