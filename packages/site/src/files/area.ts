import { type ReferenceSystem } from '@longheron/core/frames';
import { roadCentreX, SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';

/** Half the width of the strip of land along the road that was ordered, metres. */
export const AREA_HALF_WIDTH_M = 14;
const STEP_M = 10;

/** The area of work and the centre line of the road, site metres. @param from, to site y of its ends. */
export function orderedArea(
  from: number,
  to: number,
): { area: Array<[number, number]>; centre: Array<[number, number]> } {
  const ys = Array.from({ length: Math.ceil((to - from) / STEP_M) + 1 }, (_, i) => Math.min(to, from + i * STEP_M));
  const side = (s: number) => ys.map((y): [number, number] => [roadCentreX(y) + s * AREA_HALF_WIDTH_M, y]);
  return {
    area: [...side(1), ...side(-1).reverse()],
    centre: ys.map((y): [number, number] => [roadCentreX(y), y]),
  };
}

/** Both as GeoJSON in longitude and latitude (RFC 7946), as an office would send them. */
export function areaText(from: number, to: number, system: ReferenceSystem): string {
  const { area, centre } = orderedArea(from, to);
  const geo = new Float64Array(3);
  const degrees = ([x, y]: [number, number]) => {
    system.unproject(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y, 0, geo);
    return [geo[1], geo[0]].map((v) => Number(((v * 180) / Math.PI).toFixed(9)));
  };
  const feature = (name: string, type: string, coordinates: unknown) => ({
    type: 'Feature',
    properties: { name },
    geometry: { type, coordinates },
  });
  const ring = [...area, area[0]].map(degrees);
  return `${JSON.stringify({
    type: 'FeatureCollection',
    features: [
      feature('area of work', 'Polygon', [ring]),
      feature('centre of the Lines road', 'LineString', centre.map(degrees)),
    ],
  })}\n`;
}
