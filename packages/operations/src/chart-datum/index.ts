import { readFile } from 'node:fs/promises';
import { type SiteContent } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/chart-datum';
import { gridNameOf, gridText, type GridName } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { hashFile } from '@longheron/formats/bytes';
import { type HeightsWkt } from '@longheron/formats/crs';
import { readWaterLevel } from '@longheron/formats/water-level';
import { computation, type OpenedFile } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { keepSystem } from '../shared/systems';
import { systemChapter } from '../shared/systems/chapter';

/** A chart datum: by a surface, by a gauge, or one number above the ellipsoid. */
export default computation(
  declaration,
  async ({ surface, gauge }, { name, separationM, depths }, _context, out) => {
    const grid = surface && (await gridOf(surface));
    const level = gauge && readWaterLevel(await readFile(gauge.path), gauge.name);
    if (gauge && level?.datumEllM === null)
      throw new Problem('The gauge does not say how high its datum lies above the ellipsoid.', {
        code: 'chart-gauge',
        file: gauge.name,
        place: 'comment datum_ell_m',
        remedy: 'Add a line “# datum_ell_m: HEIGHT IN METRES”, or give the number by hand.',
      });
    const heightM = level?.datumEllM ?? separationM;
    const heights: HeightsWkt = {
      name,
      base: grid ?? 'ellipsoid',
      unit: { name: 'metre', metres: 1 },
      depths,
      ...(grid ? {} : { correction: { lat0Rad: 0, lon0Rad: 0, offsetM: -heightM!, slopeNorth: 0, slopeEast: 0 } }),
    };
    const from = grid ? `the surface ${gridText(grid)}` : `${heightM!.toFixed(3)} m above the ellipsoid`;
    const site: SiteContent = {
      name,
      kind: 'chart datum',
      marks: [],
      facts: [
        ['Datum', from],
        ...(gauge
          ? ([['Gauge', `${gauge.name}${level?.above ? `, ${level.above}` : ''}`]] as Array<[string, string]>)
          : []),
        ['Counted', depths ? 'depths, positive down' : 'heights, positive up'],
      ],
    };
    const builder = new ReportBuilder('chart-datum', { name, separation_m: separationM ?? null, depths });
    if (gauge && level?.above && level.above !== name)
      builder.notice({
        code: 'chart-name',
        severity: 'info',
        text: `The gauge counts from “${level.above}”; the datum is called “${name}”.`,
      });
    return {
      ...(await keepSystem({ name, heights }, site, out)),
      report: builder.finish(null, { name, separation_m: heightM ?? null, grid: grid ? gridText(grid) : null, depths }),
      log: [`${name}: ${from}.`],
    };
  },
  { chapter: systemChapter },
);

async function gridOf({ name, path }: OpenedFile): Promise<GridName> {
  return gridNameOf(name, (await hashFile(path)).sha256);
}
