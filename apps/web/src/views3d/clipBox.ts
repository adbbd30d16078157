/** The box that a section makes with a range of heights: its corners, and moving one of its faces. */
export interface ClipBox {
  from: [number, number];
  to: [number, number];
  /** Across the line, half on either side, metres. */
  widthM: number;
  /** Lowest and highest height, metres. */
  heightM: [number, number];
}

/** Faces by the way they look: along the line, across it to the left and right, up and down. */
export const FACES = ['start', 'end', 'left', 'right', 'bottom', 'top'] as const;
export type Face = (typeof FACES)[number];
type Place = [number, number, number];

/** No box is thinner than this, metres. */
export const THINNEST_M = 0.1;

/** Unit vectors along the line and to its left. */
function axes({ from, to }: ClipBox): { along: [number, number]; left: [number, number]; lengthM: number } {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const lengthM = Math.hypot(dx, dy);
  const along: [number, number] = lengthM > 0 ? [dx / lengthM, dy / lengthM] : [1, 0];
  return { along, left: [-along[1], along[0]], lengthM };
}

/** Corners: from the start, right then left, below then above; then the same at the end. */
export function cornersOf(box: ClipBox): Place[] {
  const { left } = axes(box);
  const out: Place[] = [];
  for (const at of [box.from, box.to])
    for (const h of box.heightM)
      for (const side of [-0.5, 0.5])
        out.push([at[0] + left[0] * side * box.widthM, at[1] + left[1] * side * box.widthM, h]);
  return out;
}

/** Pairs of corners that are joined by an edge: they differ in one of end, height and side. */
export const EDGES: ReadonlyArray<readonly [number, number]> = Array.from({ length: 8 }, (_, a) => a).flatMap((a) =>
  [1, 2, 4].filter((bit) => !(a & bit)).map((bit) => [a, a | bit] as const),
);

/** The middle of a face, and the way out of the box there. */
export function faceOf(box: ClipBox, face: Face): { at: Place; out: Place } {
  const { along, left } = axes(box);
  const middle: Place = [
    (box.from[0] + box.to[0]) / 2,
    (box.from[1] + box.to[1]) / 2,
    (box.heightM[0] + box.heightM[1]) / 2,
  ];
  if (face === 'start') return { at: [box.from[0], box.from[1], middle[2]], out: [-along[0], -along[1], 0] };
  if (face === 'end') return { at: [box.to[0], box.to[1], middle[2]], out: [along[0], along[1], 0] };
  if (face === 'bottom') return { at: [middle[0], middle[1], box.heightM[0]], out: [0, 0, -1] };
  if (face === 'top') return { at: [middle[0], middle[1], box.heightM[1]], out: [0, 0, 1] };
  const s = face === 'left' ? 1 : -1;
  const half = (s * box.widthM) / 2;
  return {
    at: [middle[0] + left[0] * half, middle[1] + left[1] * half, middle[2]],
    out: [s * left[0], s * left[1], 0],
  };
}

/** The box with one face moved outwards (inwards when negative) by metres; the opposite one stays where it is. */
export function moveFace(box: ClipBox, face: Face, byM: number): ClipBox {
  const { along, left, lengthM } = axes(box);
  const grow = (sizeM: number) => Math.max(byM, THINNEST_M - sizeM);
  if (face === 'top' || face === 'bottom') {
    const by = grow(box.heightM[1] - box.heightM[0]);
    return {
      ...box,
      heightM: face === 'top' ? [box.heightM[0], box.heightM[1] + by] : [box.heightM[0] - by, box.heightM[1]],
    };
  }
  if (face === 'start' || face === 'end') {
    const by = grow(lengthM);
    const s = face === 'start' ? -by : by;
    const moved = (p: [number, number]): [number, number] => [p[0] + along[0] * s, p[1] + along[1] * s];
    return face === 'start' ? { ...box, from: moved(box.from) } : { ...box, to: moved(box.to) };
  }
  const by = grow(box.widthM);
  const s = ((face === 'left' ? 1 : -1) * by) / 2;
  const moved = (p: [number, number]): [number, number] => [p[0] + left[0] * s, p[1] + left[1] * s];
  return { ...box, from: moved(box.from), to: moved(box.to), widthM: box.widthM + by };
}

/** The box in plan, corner by corner, flat, as a selection takes it. */
export function planOf(box: ClipBox): number[] {
  const c = cornersOf(box);
  return [c[0], c[1], c[5], c[4]].flatMap(([e, n]) => [e, n]);
}
