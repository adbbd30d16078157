import { type SiteContent } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/own-projection';
import { DEG, GRS80, METRES_PER, UNIT_NAME } from '@longheron/core/frames';
import { METHODS, type SystemWkt } from '@longheron/formats/crs';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { keepSystem } from '../shared/systems';
import { systemChapter } from '../shared/systems/chapter';

const CODES = { 'transverse-mercator': 9807, 'lambert-conic': 9801, stereographic: 9809 };
const ETRS89 = {
  name: 'ETRS89',
  datum: 'European Terrestrial Reference System 1989',
  ellipsoid: { name: 'GRS 1980', aM: GRS80.a, rf: 1 / GRS80.f },
  primeDeg: 0,
  code: 4258,
};

/** Scale at a place for lengths as on the ground at a height, by the mean radius of curvature. */
export function groundScale(latDeg: number, heightM: number): number {
  const e2 = GRS80.f * (2 - GRS80.f);
  const radiusM = (GRS80.a * Math.sqrt(1 - e2)) / (1 - e2 * Math.sin(latDeg * DEG) ** 2);
  return 1 + heightM / radiusM;
}

/** A projection with parameters of its own, on ETRS89. */
export default computation(
  declaration,
  async (_inputs, settings, _context, out) => {
    const { name, projection, latDeg, lonDeg, groundM, falseEastM, falseNorthM, unit } = settings;
    const scale = groundM === undefined ? settings.scale : groundScale(latDeg, groundM);
    const method = METHODS.find((m) => m.code === CODES[projection])!;
    const model: SystemWkt = {
      name,
      plan: {
        name,
        geographic: ETRS89,
        method,
        values: { lat0: latDeg, lon0: lonDeg, k0: scale, x0: falseEastM, y0: falseNorthM },
        unit: { name: unit === 'usSurveyFoot' ? 'US survey foot' : unit, metres: METRES_PER[unit] },
      },
    };
    const site: SiteContent = {
      name,
      kind: 'projection',
      marks: [],
      facts: [
        ['Datum', 'ETRS89, GRS 1980'],
        ['Projection', method.epsg],
        ['Origin', `${latDeg}°, ${lonDeg}°`],
        [
          'Scale at the origin',
          `${scale.toFixed(10)}${groundM === undefined ? '' : `, for the ground at ${groundM} m`}`,
        ],
        ['False easting and northing', `${falseEastM} m, ${falseNorthM} m`],
        ['Unit of its files', UNIT_NAME[unit]],
      ],
    };
    const builder = new ReportBuilder('own-projection', { ...settings });
    return {
      ...(await keepSystem(model, site, out)),
      report: builder.finish(null, { name, scale }),
      log: [`${name}: ${method.epsg}, scale ${scale.toFixed(10)} at ${latDeg}°, ${lonDeg}°.`],
    };
  },
  { chapter: systemChapter },
);
