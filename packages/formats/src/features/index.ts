import { DEG, type ReferenceSystem } from '@longheron/core/frames';
import { csvCell } from '../csv';
import { crsUrn } from '../geojson/write';
import { landXmlHead, xmlText } from '../landxml/head';

/** A point, line or area with its code, as it is delivered. */
export interface DeliveredFeature {
  name: string;
  shape: 'point' | 'line' | 'area';
  code: string;
  note: string;
  corners: ReadonlyArray<{ at: readonly number[]; sd: readonly number[]; angleDeg: number; rays: readonly unknown[] }>;
}

const axesOf = (system: ReferenceSystem | undefined) =>
  system
    ? { plan: system.definition.metresPerUnit, height: system.definition.verticalMetresPerUnit }
    : { plan: 1, height: 1 };

/**
 * Corners of features as CSV, docs/formats/features.md; metres, whatever the unit of the system.
 * @param crs the system as text; undefined in a frame of its own.
 */
export function featuresCsv(features: readonly DeliveredFeature[], crs: string | undefined): string {
  const place = crs ? 'easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m' : 'x_m,y_m,z_m,sd_x_m,sd_y_m,sd_z_m';
  const rows = features.flatMap((f) =>
    f.corners.map((c, k) =>
      [
        csvCell(f.name),
        f.shape,
        csvCell(f.code),
        k + 1,
        ...c.at.map((v) => v.toFixed(4)),
        ...c.sd.map((v) => v.toFixed(4)),
        c.rays.length,
        c.angleDeg.toFixed(2),
        csvCell(f.note),
      ].join(','),
    ),
  );
  return [
    crs ? `# crs: ${crs}` : '# frame: local',
    `name,shape,code,corner,${place},rays,angle_deg,note`,
    ...rows,
    '',
  ].join('\n');
}

/**
 * Features as GeoJSON: longitude, latitude and height above the ellipsoid (RFC 7946), or with `grid` coordinates of the
 * system in its unit under the older "crs" member.
 */
export function featuresGeoJson(features: readonly DeliveredFeature[], system: ReferenceSystem, grid = false): string {
  const geo = new Float64Array(3);
  const { plan, height } = axesOf(system);
  const place = (at: readonly number[]): number[] => {
    if (grid) return [at[0] / plan, at[1] / plan, at[2] / height].map((v) => Number(v.toFixed(4)));
    system.unproject(at[0], at[1], at[2], geo);
    return [Number((geo[1] / DEG).toFixed(9)), Number((geo[0] / DEG).toFixed(9)), Number(geo[2].toFixed(4))];
  };
  const geometry = (f: DeliveredFeature) => {
    const points = f.corners.map((c) => place(c.at));
    if (f.shape === 'point') return { type: 'Point', coordinates: points[0] };
    if (f.shape === 'line') return { type: 'LineString', coordinates: points };
    // an outer ring goes against the clock
    const ring = areaOf(f.corners) < 0 ? points.reverse() : points;
    return { type: 'Polygon', coordinates: [[...ring, ring[0]]] };
  };
  return `${JSON.stringify(
    {
      type: 'FeatureCollection',
      ...(grid ? { crs: { type: 'name', properties: { name: crsUrn(system.definition) } } } : {}),
      features: features.map((f) => ({
        type: 'Feature',
        properties: {
          name: f.name,
          code: f.code,
          note: f.note,
          sd_m: f.corners.map((c) => c.sd.map((v) => Number(v.toFixed(4)))),
        },
        geometry: geometry(f),
      })),
    },
    null,
    1,
  )}\n`;
}

/** Twice signed area in plan, positive against the clock. */
function areaOf(corners: DeliveredFeature['corners']): number {
  return corners.reduce((s, { at: a }, k) => {
    const b = corners[(k + 1) % corners.length].at;
    return s + a[0] * b[1] - b[0] * a[1];
  }, 0);
}

/** Features as LandXML 1.2: points of the geometry, lines and areas as features of the plan. */
export function featuresLandXml(
  features: readonly DeliveredFeature[],
  system: ReferenceSystem,
  name: string,
  date: Date,
): string {
  const { plan, height } = axesOf(system);
  const text = ({ at }: { at: readonly number[] }) =>
    `${(at[1] / plan).toFixed(4)} ${(at[0] / plan).toFixed(4)} ${(at[2] / height).toFixed(4)}`;
  const points = features.filter((f) => f.shape === 'point');
  const others = features.filter((f) => f.shape !== 'point');
  const about = (f: DeliveredFeature) =>
    `name="${xmlText(f.name)}"${f.code ? ` code="${xmlText(f.code)}"` : ''}${f.note ? ` desc="${xmlText(f.note)}"` : ''}`;
  const line = (f: DeliveredFeature) => {
    const all = f.shape === 'area' ? [...f.corners, f.corners[0]] : f.corners;
    // a feature of the plan has no code of its own
    const property = f.code ? `<Feature code="${xmlText(f.code)}"/>` : '';
    return (
      `<PlanFeature name="${xmlText(f.name)}"${f.note ? ` desc="${xmlText(f.note)}"` : ''}><CoordGeom><IrregularLine>` +
      `<Start>${text(all[0])}</Start><End>${text(all[all.length - 1])}</End><PntList3D>${all.map(text).join(' ')}</PntList3D>` +
      `</IrregularLine></CoordGeom>${property}</PlanFeature>\n`
    );
  };
  return (
    landXmlHead(system.definition, date) +
    (points.length
      ? `<CgPoints name="${xmlText(name)}">\n${points.map((f) => `<CgPoint ${about(f)}>${text(f.corners[0])}</CgPoint>\n`).join('')}</CgPoints>\n`
      : '') +
    (others.length ? `<PlanFeatures name="${xmlText(name)}">\n${others.map(line).join('')}</PlanFeatures>\n` : '') +
    '</LandXML>\n'
  );
}
