import { type Patches } from './patches';

/** Patches that enter at most. */
export const MAX_CELLS = 24_000;
/** Below this slope a patch is level for the choice. */
const LEVEL = 0.03;
const SECTORS = 8;

/**
 * Chooses patches so that every direction of slope is there in equal share (normal-space sampling, Rusinkiewicz & Levoy
 * 2001), evenly over the site: steep ones tell of plan, level ones of height and tilt.
 */
export function chooseCells(patches: Patches, most = MAX_CELLS): Int32Array {
  const classes: number[][] = Array.from({ length: 2 * SECTORS + 1 }, () => []);
  for (let c = 0; c < patches.cells; c++) {
    const [e, n, u] = [patches.normal[3 * c], patches.normal[3 * c + 1], patches.normal[3 * c + 2]];
    const slope = Math.hypot(e, n) / u;
    const sector = Math.min(SECTORS - 1, Math.floor(((Math.atan2(n, e) / Math.PI + 1) / 2) * SECTORS));
    classes[slope < LEVEL ? 0 : 1 + sector + (slope > 0.2 ? SECTORS : 0)].push(c);
  }
  // small classes are taken whole, what they leave free goes to the larger ones
  const order = classes.map((_, k) => k).sort((a, b) => classes[a].length - classes[b].length);
  const out: number[] = [];
  let left = most;
  order.forEach((k, done) => {
    const list = classes[k];
    const share = Math.min(list.length, Math.floor(left / (order.length - done)));
    for (let i = 0; i < share; i++) out.push(list[Math.floor((i * list.length) / share)]);
    left -= share;
  });
  return Int32Array.from(out).sort();
}
