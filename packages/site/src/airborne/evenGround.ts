import { KIND } from '../objects';
import { WATER } from '../pictures';
import { siteRelief } from './relief';

/** What is no hard ground: what grows, poles, wires, water. */
const SOFT: ReadonlySet<number> = new Set([KIND.vegetation, KIND.pole, KIND.wire, WATER]);
/** Cells on each side, and by how much they may differ, metres. */
const ABOUT = 3;
const EVEN_M = 0.25;

/**
 * True height of hard ground that is even all about, metres; undefined on what grows, on water, and beside edges.
 * @param x, y metres from the origin of the site.
 */
export function evenGroundAt(x: number, y: number): number | undefined {
  const { cellM, columns, heightM, kind } = siteRelief();
  const k = Math.floor(y / cellM) * columns + Math.floor(x / cellM);
  if (SOFT.has(kind[k])) return undefined;
  for (let r = -ABOUT; r <= ABOUT; r++)
    for (let c = -ABOUT; c <= ABOUT; c++)
      if (Math.abs(heightM[k + r * columns + c] - heightM[k]) > EVEN_M) return undefined;
  return heightM[k];
}
