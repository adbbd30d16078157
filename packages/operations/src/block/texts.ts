import { type Astray } from './misplaced';
import { DEG } from '@longheron/core/frames';
import { multiply3, transpose3, type Matrix3 } from '@longheron/core/numeric';
import { CAMERA_TERMS, type AdjustedBlock, type Block } from '@longheron/core/photo';
import { TERM_NAMES } from '@longheron/formats/cameras';
import { csvCell } from '@longheron/formats/csv';
import { gridOf, gridSds, omegaPhiKappaDeg, quaternionOf, type Axes } from '../shared/photographs';

/** A block as adjusted, with the pictures that are in it by their place among all. */
export interface Outcome {
  block: Block;
  a: AdjustedBlock;
  axes: Axes | undefined;
  /** Names of pictures that could not be oriented. */
  leftOut: string[];
  /** Of what shifts of positions are, in their order. */
  shiftNames: readonly string[];
  /** Pictures that were taken elsewhere than is said. */
  astray: Astray[];
}

const DEFINITION =
  '# omega, phi, kappa turn grid axes (east, north, up) into picture axes (x right, y up, z backwards): R3(kappa)*R2(phi)*R1(omega)';
const text = (v: number, digits: number) => (Number.isFinite(v) ? v.toFixed(digits) : '');

/** Of each picture: rays that count, and the RMS of their residuals, pixels. */
export function raysOfImages({ block, a }: Outcome): Array<{ rays: number; rms: number }> {
  const out = block.images.map(() => ({ rays: 0, rms: 0 }));
  for (let r = 0; r < block.rays.count; r++) {
    if (!a.alive[r]) continue;
    const o = out[block.rays.image[r]];
    o.rays++;
    o.rms += a.residualPx[2 * r] ** 2 + a.residualPx[2 * r + 1] ** 2;
  }
  return out.map(({ rays, rms }) => ({ rays, rms: rays ? Math.sqrt(rms / (2 * rays)) : Number.NaN }));
}

/** Orientations as CSV, docs/formats/block.md. */
export function orientedCsv(outcome: Outcome, crs: string): string {
  const { block, a, axes, leftOut } = outcome;
  const local = !axes;
  const place = local ? 'x_m,y_m,z_m' : 'lat_deg,lon_deg,h_ell_m';
  const sds = local ? 'sd_x_m,sd_y_m,sd_z_m' : 'sd_n_m,sd_e_m,sd_d_m';
  const head = [
    ...(local ? ['# frame: local'] : [`# crs: ${crs}`]),
    '# point: camera',
    DEFINITION,
    `image,camera,${place},qw,qx,qy,qz,${sds},sd_rot_deg,omega_deg,phi_deg,kappa_deg,rays,rms_px`,
  ];
  const counts = raysOfImages(outcome);
  const rows = block.images.map((image, i) => {
    const camera = block.cameras[image.camera].name;
    const { rays, rms } = counts[i];
    if (!a.oriented[i]) return empty(image.name, camera, rays);
    const at = a.state.centres.subarray(3 * i, 3 * i + 3);
    const r: Matrix3 = a.state.rotations.slice(9 * i, 9 * i + 9);
    const column = a.imageAt[i];
    const variance = (k: number) => a.covariances.of(column + k, column + k);
    const turnDeg = Math.sqrt((variance(3) + variance(4) + variance(5)) / 3) / DEG;
    const [east, north, up] = [0, 1, 2].map((k) => Math.sqrt(variance(k)));
    let where: string[];
    let turn = r;
    if (axes) {
      const [lat, lon, h] = axes.frame.toGeodetic(at[0], at[1], at[2]);
      where = [(lat / DEG).toFixed(10), (lon / DEG).toFixed(10), h.toFixed(4)];
      turn = multiply3(transpose3(axes.frame.fromNed(lat, lon)), r);
    } else where = [...at].map((v) => v.toFixed(5));
    const angles = omegaPhiKappaDeg(axes ? multiply3(axes.toGrid, r) : r);
    return [
      csvCell(image.name),
      csvCell(camera),
      ...where,
      ...quaternionOf(turn).map((v) => v.toFixed(10)),
      ...(local ? [east, north, up] : [north, east, up]).map((v) => text(v, 5)),
      text(turnDeg, 6),
      ...angles.map((v) => text(v, 5)),
      rays,
      text(rms, 3),
    ].join(',');
  });
  return [...head, ...rows, ...leftOut.map((name) => empty(name, '', 0)), ''].join('\n');
}

const empty = (name: string, camera: string, rays: number) =>
  `${csvCell(name)},${csvCell(camera)},,,,,,,,,,,,,,,${rays},`;

/** Points as CSV. */
export function pointsCsv({ block, a, axes }: Outcome, crs: string): string {
  const head = axes
    ? [`# crs: ${crs}`, 'point,kind,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,rays,angle_deg,rms_px']
    : ['# frame: local', 'point,kind,x_m,y_m,z_m,sd_x_m,sd_y_m,sd_z_m,rays,angle_deg,rms_px'];
  const list: number[][] = block.points.map(() => []);
  for (let r = 0; r < block.rays.count; r++) if (a.alive[r]) list[block.rays.point[r]].push(r);
  const rows = block.points.map((p, i) => {
    const rays = list[i];
    const c = a.covariances.point(i);
    const name = `${csvCell(p.name)},${p.kind}`;
    if (!c || rays.length < 2) return `${name},,,,,,,${rays.length},,`;
    const at = a.state.points.subarray(3 * i, 3 * i + 3);
    const rms = Math.sqrt(
      rays.reduce((s, r) => s + a.residualPx[2 * r] ** 2 + a.residualPx[2 * r + 1] ** 2, 0) / (2 * rays.length),
    );
    return [
      name,
      ...(axes ? gridOf(axes, at) : [...at]).map((v) => v.toFixed(axes ? 4 : 5)),
      ...gridSds(axes, c).map((v) => v.toFixed(5)),
      rays.length,
      angleDeg(block, a, i, rays).toFixed(2),
      rms.toFixed(3),
    ].join(',');
  });
  return [...head, ...rows, ''].join('\n');
}

/** Largest angle at which rays of a point meet, degrees. */
export function angleDeg(block: Block, a: AdjustedBlock, point: number, rays: readonly number[]): number {
  const ways = rays.map((r) => {
    const i = block.rays.image[r];
    const d = [0, 1, 2].map((k) => a.state.centres[3 * i + k] - a.state.points[3 * point + k]);
    const size = Math.hypot(...d);
    return d.map((v) => v / size);
  });
  let most = 0;
  ways.forEach((v, k) => {
    for (const w of ways.slice(k + 1))
      most = Math.max(most, Math.acos(Math.min(1, Math.max(-1, v[0] * w[0] + v[1] * w[1] + v[2] * w[2]))));
  });
  return most / DEG;
}

/** Adjusted cameras as JSON, docs/formats/cameras.md. @param names what else the list said of each. */
export function camerasJson(
  { block, a }: Outcome,
  names: ReadonlyArray<{ bodySerial?: string; lens?: string }>,
  title: string,
): string {
  const round = (v: number) => Number(v.toPrecision(12));
  const cameras = block.cameras.map((c, k) => {
    const { model, widthPx, heightPx } = c.camera;
    const images = block.images.filter((i) => i.camera === k).map((i) => i.name);
    const named = {
      ...(names[k].bodySerial ? { body_serial: names[k].bodySerial } : {}),
      ...(names[k].lens ? { lens: names[k].lens } : {}),
      ...(model === 'sphere' ? { model } : {}),
      width_px: widthPx,
      height_px: heightPx,
    };
    if (model === 'sphere') return [c.name, { ...named, images }];
    const adjusted = a.cameras[k];
    const now = a.state.cameras[k];
    return [
      c.name,
      {
        ...named,
        ...Object.fromEntries(CAMERA_TERMS.map((t) => [TERM_NAMES[t], round(now[t])])),
        sd: Object.fromEntries(CAMERA_TERMS.map((t) => [TERM_NAMES[t], round(adjusted.sd[t])])),
        correlation: {
          terms: adjusted.found.map((t) => TERM_NAMES[t]),
          values: adjusted.correlation.map((row) => row.map((v) => Number(v.toFixed(4)))),
        },
        from: 'adjusted',
        block: title,
        images,
      },
    ];
  });
  return `${JSON.stringify({ cameras: Object.fromEntries(cameras) }, null, 2)}\n`;
}

/** Ties that fit, in the layout of picks. */
export function tiesCsv({ block, a }: Outcome): string {
  const { rays, images, points } = block;
  let out = 'image,point,x_px,y_px,sd_px\n';
  for (let r = 0; r < rays.count; r++)
    if (rays.group?.[r] === 1 && a.alive[r])
      out += `${images[rays.image[r]].name},${points[rays.point[r]].name},${rays.uPx[r].toFixed(3)},${rays.vPx[r].toFixed(3)},${rays.sdPx[r].toFixed(3)}\n`;
  return out;
}
