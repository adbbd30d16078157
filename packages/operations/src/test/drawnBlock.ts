import { anglesFromRotation, DEG, LocalFrame } from '@longheron/core/frames';
import { multiply3, transpose3 } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { type TrueBlock } from '@longheron/site/blocks';

/** Drawn blocks as the files that people bring. */

export const CRS = 'EPSG:25832+5773';
export const system = parseSystem(CRS);
const ORIGIN = [56.08 * DEG, 8.47 * DEG, 60] as const;
export const frame = new LocalFrame(system.ellipsoid, ...ORIGIN);

export const picksOf = (t: TrueBlock) =>
  `image,point,x_px,y_px\n${t.seen.map((s) => `${t.pictures[s.image].name},${t.points[s.point].name},${s.u.toFixed(4)},${s.v.toFixed(4)}\n`).join('')}`;
export const camerasOf = (t: TrueBlock, more = {}) =>
  JSON.stringify({
    cameras: {
      air: {
        body_serial: 'C-1',
        width_px: 1200,
        height_px: 800,
        focal_px: t.nominal.f,
        cx_px: 599.5,
        cy_px: 399.5,
        ...more,
      },
    },
  });
export function positionsOf(t: TrueBlock, sd = '0.03,0.03,0.05'): string {
  const rows = t.pictures.map((p, i) => {
    const [lat, lon, h] = frame.toGeodetic(...t.places[i]);
    const ned = multiply3(transpose3(frame.fromNed(lat, lon)), t.startAxes[i]);
    const { rollRad, pitchRad, headingRad } = anglesFromRotation(ned);
    return `${p.name},${(lat / DEG).toFixed(11)},${(lon / DEG).toFixed(11)},${h.toFixed(4)},${rollRad / DEG},${pitchRad / DEG},${headingRad / DEG},${sd}\n`;
  });
  return `# crs: EPSG:4937\n# point: air\nlabel,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,sd_n_m,sd_e_m,sd_d_m\n${rows.join('')}`;
}
/** Control as it was given, check marks as they truly are. */
export function marksOf(t: TrueBlock): string {
  const at = new Float64Array(3);
  const rows = t.points.flatMap((p, i) => {
    if (p.kind === 'tie') return [];
    system.project(...frame.toGeodetic(...(t.given[i] ?? p.at)), at);
    return [`${p.name},${p.kind},${[...at].map((v) => v.toFixed(5)).join(',')},0.01,0.01,0.01\n`];
  });
  return `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${rows.join('')}`;
}
