import { DEG, gridText, type ReferenceSystem, type SystemDefinition } from '@longheron/core/frames';
import { type Contour } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';

/** Name of a system's plan for the older "crs" member. */
export const crsUrn = ({ horizontalCode, file }: SystemDefinition) =>
  file ? gridText(file) : `urn:ogc:def:crs:EPSG::${horizontalCode}`;

/**
 * Writes contours as GeoJSON lines with `height_m` and `index`. Coordinates are easting, northing and height in the units
 * of the system with the older "crs" member, or with `lonLat` longitude, latitude and height above the ellipsoid, as
 * RFC 7946 has it.
 */
export async function writeContoursGeoJson(
  path: string,
  contours: Contour[],
  system: ReferenceSystem,
  lonLat = false,
): Promise<void> {
  const { definition } = system;
  const geo = new Float64Array(3);
  await writeFileWhole(path, async (out) => {
    const crs = lonLat ? '' : `"crs":{"type":"name","properties":{"name":"${crsUrn(definition)}"}},`;
    await out.write(`{"type":"FeatureCollection",${crs}"features":[\n`);
    for (const [k, c] of contours.entries()) {
      const points: string[] = [];
      const height = Number((c.heightM / definition.verticalMetresPerUnit).toFixed(4));
      for (let i = 0; i < c.coordinates.length; i += 2) {
        if (lonLat) {
          system.unproject(c.coordinates[i], c.coordinates[i + 1], c.heightM, geo);
          points.push(`[${(geo[1] / DEG).toFixed(9)},${(geo[0] / DEG).toFixed(9)},${geo[2].toFixed(3)}]`);
        } else
          points.push(
            `[${(c.coordinates[i] / definition.metresPerUnit).toFixed(3)},${(c.coordinates[i + 1] / definition.metresPerUnit).toFixed(3)},${height}]`,
          );
      }
      await out.write(
        `${k ? ',\n' : ''}{"type":"Feature","properties":{"height_m":${Number(c.heightM.toFixed(4))},"index":${c.index}},"geometry":{"type":"LineString","coordinates":[${points.join(',')}]}}`,
      );
    }
    await out.write('\n]}\n');
  });
}
