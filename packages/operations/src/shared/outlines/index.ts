import { DEG, type GridName, type ReferenceSystem } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { parseSystem, systemOf, systemParts } from '@longheron/formats/crs';
import { type Outline } from '@longheron/formats/geojson';
import { openAs } from '@longheron/formats/registry';

/**
 * Areas and lines of a file in a system's plan, metres. Positions on the ellipsoid are taken as they are: no datum shift.
 * @param crs text of the system that is wanted.
 */
export async function outlinesIn(path: string, name: string, crs: string, own?: string): Promise<Outline[]> {
  const { outlines, horizontal: named } = await openAs('outlines', path, name);
  const horizontal = named ?? (own ? (systemParts(own)?.plan ?? null) : null);
  if (!crs)
    throw new Problem('The cloud names no coordinate system, so an area cannot be laid over it.', {
      code: 'crs-none',
      file: name,
      remedy: 'Say the system of the cloud, e.g. EPSG:25832+5773.',
    });
  const to = parseSystem(crs);
  const carry = carrier(horizontal, to);
  return outlines.map((o) => ({ ...o, parts: o.parts.map((p) => carryAll(p, carry, name, o.name)) }));
}

type Carry = (x: number, y: number, out: Float64Array) => void;

function carrier(horizontal: number | GridName | null, to: ReferenceSystem): Carry {
  const geo = new Float64Array(3);
  if (horizontal === 0) return (x, y, out) => to.project(y * DEG, x * DEG, 0, out);
  const own = to.definition.metresPerUnit;
  const { file, horizontalCode } = to.definition;
  const same = typeof horizontal === 'object' ? horizontal?.sha12 === file?.sha12 : horizontal === horizontalCode;
  if (horizontal === null || same)
    return (x, y, out) => {
      out[0] = x * own;
      out[1] = y * own;
    };
  const from = systemOf(horizontal, 0);
  const unit = from.definition.metresPerUnit;
  return (x, y, out) => {
    from.unproject(x * unit, y * unit, 0, geo);
    to.project(geo[0], geo[1], 0, out);
  };
}

function carryAll(part: number[], carry: Carry, file: string, outline: string): number[] {
  const at = new Float64Array(3);
  const out: number[] = [];
  for (let i = 0; i < part.length; i += 2) {
    carry(part[i], part[i + 1], at);
    if (!Number.isFinite(at[0]) || !Number.isFinite(at[1]))
      throw new Problem(`"${outline}" has no place in the system of the project.`, {
        code: 'outline-place',
        file,
        place: `corner ${i / 2 + 1}`,
        remedy: 'Check its coordinates and the system of the file.',
      });
    out.push(at[0], at[1]);
  }
  return out;
}

/** Rings of each area, for an even-odd test within it; of one area where its name is given. */
/** Whether a place lies in one of the areas, each of rings of x and y by turns: even–odd. */
export const isWithin = (areas: readonly number[][][], x: number, y: number): boolean =>
  areas.some((rings) => {
    let inside = false;
    for (const r of rings)
      for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2)
        if (r[i + 1] > y !== r[j + 1] > y && x < ((r[j] - r[i]) * (y - r[i + 1])) / (r[j + 1] - r[i + 1]) + r[i])
          inside = !inside;
    return inside;
  });

export function areaRings(outlines: Outline[], name?: string): number[][][] {
  return outlines.filter((o) => o.kind === 'area' && (!name || o.name === name)).map((o) => o.parts);
}
