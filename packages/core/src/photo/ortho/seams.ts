/** Pictures that show a node of the orthophoto, the best first. */
export interface Nodes {
  columns: number;
  rows: number;
  /** Places for pictures at a node; −1: none. */
  most: number;
  picture: Int16Array;
  /** How far from upright it is seen: square of the tangent of the angle from the plumb line. */
  lean: Float32Array;
  /** Red, green, blue. */
  rgb: Uint8Array;
}

/** What a lean of 45 degrees costs, in grey levels of a seam. */
const LEAN_COSTS = 160;
/** A neighbour's picture that does not show a node. */
const UNSEEN = 120;
/** A seam costs this anyway, so that there are few. */
const ANY_SEAM = 4;
const SWEEPS = 8;

/**
 * Which picture each node is taken from: seen as upright as may be, with seams where both pictures look alike. From the most
 * upright picture at each node, node by node the one that costs least with its neighbours (iterated conditional modes, Besag
 * 1986). @returns place of the picture at each node; −1 where none shows it.
 */
export function chooseSeams(n: Nodes, gains: Float64Array): Int8Array {
  const { columns, rows, most, picture } = n;
  const out = new Int8Array(columns * rows);
  for (let k = 0; k < out.length; k++) out[k] = picture[k * most] < 0 ? -1 : 0;
  const placeOf = (node: number, p: number): number => {
    for (let j = node * most; j < (node + 1) * most; j++) if (picture[j] === p) return j;
    return -1;
  };
  const apart = (a: number, b: number): number => {
    let sum = 0;
    for (let c = 0; c < 3; c++)
      sum += Math.abs(n.rgb[3 * a + c] * gains[3 * picture[a] + c] - n.rgb[3 * b + c] * gains[3 * picture[b] + c]);
    return sum / 3;
  };
  const steps = [-1, 1, -columns, columns];
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let changed = 0;
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const k = r * columns + c;
        if (out[k] < 0 || picture[k * most + 1] < 0) continue;
        const there = [c > 0, c + 1 < columns, r > 0, r + 1 < rows];
        // amid one picture nothing is gained
        const own = picture[k * most + out[k]];
        let alike = out[k] === 0;
        for (let s = 0; s < 4 && alike; s++) {
          const m = k + steps[s];
          alike = !there[s] || out[m] < 0 || picture[m * most + out[m]] === own;
        }
        if (alike) continue;
        let [best, least] = [out[k] as number, Number.POSITIVE_INFINITY];
        for (let j = 0; j < most && picture[k * most + j] >= 0; j++) {
          const a = k * most + j;
          let cost = LEAN_COSTS * n.lean[a];
          for (let s = 0; s < 4; s++) {
            const m = k + steps[s];
            if (!there[s] || out[m] < 0) continue;
            const b = m * most + out[m];
            if (picture[b] === picture[a]) continue;
            const [here, beside] = [placeOf(k, picture[b]), placeOf(m, picture[a])];
            cost += ANY_SEAM + (here < 0 ? UNSEEN : apart(a, here)) + (beside < 0 ? UNSEEN : apart(beside, b));
          }
          if (cost < least - 1e-9) [best, least] = [j, cost];
        }
        if (best !== out[k]) {
          out[k] = best;
          changed++;
        }
      }
    if (!changed) break;
  }
  return out;
}
