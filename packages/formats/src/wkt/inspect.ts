import { readFile } from 'node:fs/promises';
import { gridText } from '@longheron/core/frames';
import { readSystemWkt, type HeightsWkt, type PlanWkt } from '../crs/wkt';
import { type Inspect } from '../format/facts';

const RAD_SEC = (180 / Math.PI) * 3600;
const UNIT_OF = { angle: '°', length: ' m', scale: '' };

/** What the system of a file is: projection with its values, local system, heights. */
export const inspectSystem: Inspect = async ({ path, name }, out) => {
  const { plan, heights, name: title } = readSystemWkt(new TextDecoder().decode(await readFile(path)), name);
  out.details.push(['System', title], ...(plan ? planDetails(plan) : []), ...(heights ? heightDetails(heights) : []));
};

function planDetails({ geographic: g, method, values, unit, site, name }: PlanWkt): Array<[string, string]> {
  return [
    ['Plan', name],
    ['Datum', `${g.datum}, ${g.ellipsoid.name}`],
    ['Projection', method.epsg],
    ...method.parameters.map((p): [string, string] => [p.epsg, `${values[p.key]}${UNIT_OF[p.of]}`]),
    ['Unit', unit.name],
    ...(site
      ? ([
          ['Local system', site.name],
          ['Scale', `${((site.similarity.scale - 1) * 1e6).toFixed(2)} ppm against the projection`],
          ['Turn', `${(site.similarity.turnRad * RAD_SEC).toFixed(3)}″ clockwise`],
        ] as Array<[string, string]>)
      : []),
  ];
}

function heightDetails({ name, base, correction: c, depths, unit }: HeightsWkt): Array<[string, string]> {
  const from =
    base === 'ellipsoid' ? 'the ellipsoid' : typeof base === 'number' ? `EPSG:${base}` : `the geoid ${gridText(base)}`;
  return [
    [depths ? 'Depths' : 'Heights', name],
    ['Counted from', `${from}${c ? `, corrected by ${c.offsetM.toFixed(4)} m` : ''}`],
    ...(c && (c.slopeNorth || c.slopeEast)
      ? ([
          [
            'Slope',
            `${(c.slopeNorth * 1e6).toFixed(2)} mm per km to the north, ${(c.slopeEast * 1e6).toFixed(2)} to the east`,
          ],
        ] as Array<[string, string]>)
      : []),
    ['Counted', depths ? 'positive down' : 'positive up'],
    ['Unit of heights', unit.name],
  ];
}
