import { parse } from 'csv-parse/sync';
import { type Vector3 } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { decodeText } from '../csv';

/** A point of an adjusted block: easting, northing, height, or x, y, z of its own frame, metres, with 1 SD. */
export interface BlockPointRow {
  point: string;
  kind: string;
  at: Vector3;
  sd: Vector3;
  rays: number;
}

const PLACES = [
  ['easting_m', 'northing_m', 'height_m', 'sd_e_m', 'sd_n_m', 'sd_h_m'],
  ['x_m', 'y_m', 'z_m', 'sd_x_m', 'sd_y_m', 'sd_z_m'],
];

/** Points of an adjusted block that have a place, docs/formats/block.md. @throws Problem for another table. */
export function readBlockPoints(bytes: Uint8Array, file: string): BlockPointRow[] {
  const [header, ...rows] = parse(decodeText(bytes, file), { comment: '#', comment_no_infix: true }) as string[][];
  const columns = PLACES.find((names) => names.every((n) => header?.includes(n)));
  if (!columns || !header.includes('point'))
    throw new Problem('These are no points of a block.', {
      code: 'block-points',
      file,
      place: 'header',
      remedy: 'See docs/formats/block.md for the columns.',
    });
  const at = columns.map((n) => header.indexOf(n));
  const [point, kind, rays] = ['point', 'kind', 'rays'].map((n) => header.indexOf(n));
  return rows.flatMap((r): BlockPointRow[] => {
    if (!r[at[0]]) return [];
    const [x, y, z, sx, sy, sz] = at.map((c) => Number(r[c]));
    return [{ point: r[point], kind: r[kind], at: [x, y, z], sd: [sx, sy, sz], rays: Number(r[rays]) }];
  });
}
