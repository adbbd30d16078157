/** Edge of the cells in plan by which it is kept where somebody has looked, metres; they begin at whole multiples of it. */
export const LOOK_CELL_M = 5;
/** Pixels a metre from which a place is seen at close range, in 3D and in a section. */
export const CLOSE_PX_PER_M = 20;
export const SECTION_PX_PER_M = 10;

export type LookKind = 'close' | 'section';

/** For how long, and when last, somebody has looked at a cell. */
export interface Look {
  /** Easting and northing of the cell's corner in cells. */
  x: number;
  y: number;
  how: LookKind;
  seconds: number;
  /** ISO date. */
  lastAt: string;
}

/** A cell with points, and how many of them were changed by hand. */
export interface CloudCell {
  x: number;
  y: number;
  points: number;
  changed: number;
}

/** What is known of a cell: seen close, in a section, both, or never; and whether something was changed in it. */
export interface LookedCell extends CloudCell {
  closeS: number;
  sectionS: number;
}

export interface Looked {
  cells: LookedCell[];
  /** Areas in plan of the cells with points. */
  coveredM2: number;
  closeM2: number;
  sectionM2: number;
  neverM2: number;
  changedPoints: number;
  /** ISO dates; null when nobody has looked. */
  lastAt: string | null;
}

export const cellOf = (eastingM: number, northingM: number): [number, number] => [
  Math.floor(eastingM / LOOK_CELL_M),
  Math.floor(northingM / LOOK_CELL_M),
];

const keyOf = (x: number, y: number) => `${x} ${y}`;

/** Where somebody has looked, laid over where the cloud has points; looks beside the cloud do not count. */
export function lookedAt(cells: CloudCell[], looks: Look[]): Looked {
  const times = new Map<string, { close: number; section: number }>();
  let lastAt: string | null = null;
  const there = new Set(cells.map((c) => keyOf(c.x, c.y)));
  for (const l of looks) {
    const key = keyOf(l.x, l.y);
    if (!there.has(key)) continue;
    let t = times.get(key);
    if (!t) times.set(key, (t = { close: 0, section: 0 }));
    t[l.how] += l.seconds;
    if (lastAt === null || l.lastAt > lastAt) lastAt = l.lastAt;
  }
  const merged = cells.map((c): LookedCell => {
    const t = times.get(keyOf(c.x, c.y));
    return { ...c, closeS: t?.close ?? 0, sectionS: t?.section ?? 0 };
  });
  const area = (f: (c: LookedCell) => boolean) => merged.filter(f).length * LOOK_CELL_M ** 2;
  return {
    cells: merged,
    coveredM2: area(() => true),
    closeM2: area((c) => c.closeS > 0),
    sectionM2: area((c) => c.sectionS > 0),
    neverM2: area((c) => c.closeS === 0 && c.sectionS === 0),
    changedPoints: merged.reduce((n, c) => n + c.changed, 0),
    lastAt,
  };
}

/** Cells that a strip about a line crosses, by its axis and both sides. */
export function cellsAlong(line: {
  from: readonly number[];
  to: readonly number[];
  widthM: number;
}): Array<[number, number]> {
  const [dx, dy] = [line.to[0] - line.from[0], line.to[1] - line.from[1]];
  const length = Math.hypot(dx, dy);
  const steps = Math.max(1, Math.ceil((2 * length) / LOOK_CELL_M));
  const across = Math.max(1, Math.ceil(line.widthM / LOOK_CELL_M));
  const found = new Map<string, [number, number]>();
  for (let i = 0; i <= steps; i++)
    for (let j = -across; j <= across; j++) {
      const [t, s] = [i / steps, (j / across) * (line.widthM / 2)];
      const [nx, ny] = length > 0 ? [-dy / length, dx / length] : [0, 0];
      const cell = cellOf(line.from[0] + t * dx + s * nx, line.from[1] + t * dy + s * ny);
      found.set(keyOf(...cell), cell);
    }
  return [...found.values()];
}
