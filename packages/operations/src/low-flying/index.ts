import declaration from '@longheron/contract/operations/low-flying';
import { lowFlyingSurface, type LowFlyingSurface } from '@longheron/core/surface';
import { part, Problem } from '@longheron/core/shared';
import { writeGeographicTiff } from '@longheron/formats/geotiff';
import { WITHHELD } from '@longheron/formats/las';
import { computation } from '../computation/types';
import { areaRings, isWithin, outlinesIn } from '../shared/outlines';
import { ReportBuilder } from '../shared/report';

const GROUND = 2;

/** The highest surface of a cloud in longitude and latitude, holes filled or refused, a margin on top. */
export default computation(declaration, async ({ cloud, outlines }, settings, _context, out, watch) => {
  const builder = new ReportBuilder('low-flying', settings);
  const loaded = await cloud.load(part(watch, 0, 0.4));
  try {
    const { system, set, points } = loaded;
    if (!system)
      throw new Problem('The cloud names no coordinate system.', {
        code: 'las-crs',
        file: cloud.name,
        remedy: 'Say which it is in, in Clean under Clouds.',
        command: 'Give the system with --crs.',
      });
    const rings = outlines
      ? areaRings(await outlinesIn(outlines.path, outlines.name, system.label, outlines.content?.crs), settings.area)
      : [];
    if (outlines && !rings.length)
      throw new Problem('There is no such area among the outlines.', {
        code: 'area',
        file: outlines.name,
        remedy: 'Choose one of the areas of the file.',
      });
    const rejected = Uint8Array.from(points.flags, (f) => (f & WITHHELD ? 1 : 0));
    for (let i = 0; i < rejected.length; i++)
      if (points.classification[i] === 7 || points.classification[i] === 18) rejected[i] = 1;
    if (points.classification.every((c, i) => c === GROUND || rejected[i]))
      builder.notice({
        code: 'low-flying-ground',
        severity: 'error',
        text: 'The cloud holds ground points alone.',
        effect: 'Trees, buildings and wires are not in the surface.',
        remedy: 'Use the cloud with everything that stands on the ground.',
      });
    const found = lowFlyingSurface(
      set,
      rejected,
      system,
      settings,
      rings.length ? within(rings) : undefined,
      part(watch, 0.4, 0.9),
    );
    if (found.holes && !settings.allowHoles) throw holes(found, settings.fillM);
    if (!/WGS ?84/.test(system.definition.horizontalName))
      builder.notice({
        code: 'low-flying-frame',
        severity: 'info',
        text: `Longitude and latitude of ${system.definition.horizontalName.split(' /')[0]} are written as those of WGS 84, without a transformation.`,
        effect: 'In Europe ETRS89 lies about 0.9 m to the south-west of it in 2026, elsewhere it may be metres.',
        remedy: 'Take cells and a margin that such a shift does not matter to.',
      });
    const tiff = await out.file('geotiff', 'tif', (path) => writeGeographicTiff(path, found, settings.heights));
    if (found.filled || found.holes)
      builder.notice({
        code: 'low-flying-filled',
        severity: found.holes ? 'warning' : 'info',
        text: `${found.filled} of ${found.inside} cells hold no point and took the highest within ${settings.fillM} m${found.holes ? `; ${found.holes} stay empty` : ''}.`,
        effect: 'What stands there unseen may be higher.',
      });
    const figures = {
      cell_m: settings.cellM,
      margin_m: settings.marginM,
      fill_m: settings.fillM,
      heights: settings.heights,
      cells: found.inside,
      filled: found.filled,
      holes: found.holes,
      height_min_m: found.lowestM,
      height_max_m: found.highestM,
      west_deg: found.westDeg,
      north_deg: found.northDeg,
      cell_lon_deg: found.cellLonDeg,
      cell_lat_deg: found.cellLatDeg,
      columns: found.columns,
      rows: found.rows,
    };
    const above = settings.heights === 'EGM96' ? 'EGM96' : 'the WGS 84 ellipsoid';
    return {
      content: { figures, object: tiff.sha256, bytes: tiff.bytes },
      hash: tiff.sha256,
      report: builder.finish('EPSG:4326', figures),
      log: [
        `${found.inside} cells of ${settings.cellM} m in longitude and latitude, heights above ${above}, with a margin of ${settings.marginM} m: ${found.lowestM.toFixed(1)} to ${found.highestM.toFixed(1)} m; ${found.filled} filled, ${found.holes} empty.`,
      ],
    };
  } finally {
    await loaded.file.close();
  }
});

const holes = ({ holes: count, hole, inside }: LowFlyingSurface, fillM: number) =>
  new Problem(
    `${count} of ${inside} cells of the area have no point within ${fillM} m, the first at latitude ${hole!.latDeg.toFixed(6)}°, longitude ${hole!.lonDeg.toFixed(6)}°.`,
    {
      code: 'low-flying-holes',
      place: `${hole!.latDeg.toFixed(6)}, ${hole!.lonDeg.toFixed(6)}`,
      remedy: 'An aircraft would descend into them. Fill from farther, make the area smaller, or survey them.',
    },
  );

/** Whether a place lies in any of the areas, by crossings of their rings, which are flat lists of corners. */
function within(areas: number[][][]) {
  const corners = areas.flat(2);
  const of = (axis: 0 | 1) => corners.filter((_, i) => i % 2 === axis);
  const [e, n] = [of(0), of(1)];
  // corners of large areas are too many to be arguments
  const least = (v: number[]) => v.reduce((m, x) => Math.min(m, x), Infinity);
  const most = (v: number[]) => v.reduce((m, x) => Math.max(m, x), -Infinity);
  const box: readonly [number, number, number, number] = [least(e), least(n), most(e), most(n)];
  return {
    box,
    within: (x: number, y: number) => isWithin(areas, x, y),
  };
}
