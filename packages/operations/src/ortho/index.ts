import { readFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/ortho';
import { Orthophoto, View, type OrthoGrid, type Pixels } from '@longheron/core/photo';
import { part, Problem, tick } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { writePictureTiff } from '@longheron/formats/geotiff';
import { readPhotoPositions } from '@longheron/formats/photo-set';
import { readCameras } from '@longheron/formats/cameras';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { openPhotoSets, pairOriented, readPixels, type Oriented } from '../shared/photographs';
import { rasterContent } from '../shared/raster';
import { frameNotices, percent } from '../shared/words';

/** So many cells are made at once. */
const MOST_CELLS = 3e8;

/** An orthophoto: a surface as oriented photographs show it, seen from straight above. */
export default computation(
  declaration,
  async ({ photos, oriented, cameras, surface }, settings, context, out, watch) => {
    const builder = new ReportBuilder('ortho', settings);
    const notice = builder.notice.bind(builder);
    const { grid: heights, crs, findings } = await surface.heights(settings.surface);
    builder.notices.push(...findings);
    const text = crs ?? context.crs;
    if (!text)
      throw new Problem('The surface names no coordinate system.', {
        code: 'surface-crs',
        file: surface.name,
        remedy: 'Set the reference line of the project.',
        command: 'Give the system with --crs, e.g. EPSG:25832+5773.',
      });
    const system = parseSystem(text);
    const { photos: set, names: sets } = await openPhotoSets(photos);
    const where = readPhotoPositions(await readFile(oriented.path), oriented.name);
    builder.notices.push(...frameNotices(where.crs, system, oriented.name));
    const list = cameras ?? camerasOf(oriented, out);
    const known = readCameras(await readFile(list.path), list.name);
    const names = { photos: sets.join(', '), positions: oriented.name, cameras: list.name };
    const { pictures } = await pairOriented(set, where, known, undefined, names, notice);
    const grid = gridOver(heights, settings.cellM);
    const made = new Orthophoto(
      grid,
      heights,
      pictures.map(({ pose, camera }) => new View(pose, camera, system)),
    );
    const pixels = async ({ photo, camera }: Oriented): Promise<Pixels> => {
      const { widthPx, heightPx, bytes } = await readPixels(photo, camera, 'rgb');
      return { widthPx, heightPx, rgb: bytes };
    };
    const each = async (what: string, all: readonly number[], from: number, to: number, act: typeof made.look) => {
      // the next one is decoded while one is worked on
      let next = all.length ? pixels(pictures[all[0]]) : undefined;
      for (const [i, k] of all.entries()) {
        tick(watch, from + ((to - from) * i) / all.length, `${what} ${pictures[k].photo.name}`);
        const own = (await next)!;
        next = i + 1 < all.length ? pixels(pictures[all[i + 1]]) : undefined;
        // a fault of the next is told when it is its turn
        next?.catch(() => undefined);
        act.call(made, k, own);
      }
    };
    const all = pictures.map((_, k) => k);
    await each('Looking through', all, 0, 0.4, made.look);
    tick(watch, 0.4, 'Finding where seams show least');
    made.settle(settings.even);
    await each('Drawing from', all, 0.45, 0.75, made.fill);
    await each('Drawing what was hidden from', made.patching(), 0.75, 0.85, made.patch);
    const { empty, bare, patched } = made.count();
    if (empty - bare === grid.columns * grid.rows - bare)
      throw new Problem('None of the photographs shows the surface.', {
        code: 'ortho-none',
        file: names.photos,
        remedy: 'Check that photographs, orientations and surface are of one place and one system of heights.',
      });
    const writing = part(watch, 0.85, 1);
    const tiff = await out.file('geotiff', 'tif', (path) =>
      writePictureTiff(path, { ...grid, rgba: made.rgba }, system.definition, (share) =>
        tick(writing, share, 'Writing the orthophoto'),
      ),
    );
    const figures = {
      cell_m: grid.cellM,
      columns: grid.columns,
      rows: grid.rows,
      cells: grid.columns * grid.rows,
      empty: empty - bare,
      no_height: bare,
      patched,
      pictures: made.shares().map(({ cells, gains: [red, green, blue] }, k) => ({
        image: pictures[k].photo.name,
        cells,
        red,
        green,
        blue,
      })),
      surface: settings.surface,
    };
    const shown = figures.cells - empty;
    return {
      content: {
        figures,
        object: tiff.sha256,
        bytes: tiff.bytes,
        raster: out.keeps ? await rasterContent(out.store.path(tiff.sha256), 'ortho.tif') : null,
        crs: system.label,
      },
      hash: tiff.sha256,
      report: builder.finish(system.label, figures),
      log: [
        `${shown} of ${figures.cells} cells of ${grid.cellM} m (${percent(shown / figures.cells)}) from ${figures.pictures.filter((p) => p.cells > 0).length} photographs; ${figures.empty} cells no photograph shows, ${bare} have no height.`,
      ],
    };
  },
);

/** The cameras of a block as it was adjusted. @throws Problem where nothing but its orientations is there. */
function camerasOf(
  oriented: { name: string; content?: { cameras: string } },
  out: { store: { path(object: string): string } },
): { name: string; path: string } {
  const object = oriented.content?.cameras;
  if (object) return { name: `cameras of ${oriented.name}`, path: out.store.path(object) };
  throw new Problem('No cameras were named.', {
    code: 'ortho-cameras',
    file: oriented.name,
    remedy: 'Give the adjusted cameras.',
    command: 'Give them with --cameras.',
  });
}

/** Cells over a surface, their edges on whole multiples. @throws Problem for more than can be made at once. */
function gridOver(
  surface: { westM: number; northM: number; cellM: number; columns: number; rows: number },
  cellM: number,
): OrthoGrid {
  const west = Math.floor(surface.westM / cellM + 1e-6);
  const north = Math.ceil(surface.northM / cellM - 1e-6);
  const east = Math.ceil((surface.westM + surface.columns * surface.cellM) / cellM - 1e-6);
  const south = Math.floor((surface.northM - surface.rows * surface.cellM) / cellM + 1e-6);
  const [columns, rows] = [east - west, north - south];
  if (columns * rows > MOST_CELLS)
    throw new Problem(`${columns} by ${rows} cells are more than can be made at once.`, {
      code: 'ortho-cells',
      place: 'cell',
      remedy: `Take cells of at least ${(cellM * Math.sqrt((columns * rows) / MOST_CELLS)).toPrecision(2)} m, or a smaller surface.`,
    });
  return { cellM, westM: west * cellM, northM: north * cellM, columns, rows };
}
