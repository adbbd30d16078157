/** A line in plan with the width of a section about it, metres of the project. */
export interface SelectionLine {
  from: [number, number];
  to: [number, number];
  widthM: number;
}

/** What a person drew. Lists of places are flat: x, y, x, y … */
export type SelectionShape =
  /** A polygon on the picture of a 3D view: −1 to 1, right and up. The matrix, by columns, maps metres about the cloud's origin to it. */
  | { kind: 'view'; matrix: number[]; polygon: number[] }
  /** A polygon in plan, easting and northing, perhaps between two heights. */
  | { kind: 'plan'; polygon: number[]; heightM?: [number, number] }
  /** A polygon in a section: metres along its line, and height. */
  | { kind: 'section'; line: SelectionLine; polygon: number[] }
  /** A brush drawn in a section: within an ellipse about the path of the pointer. */
  | { kind: 'brush'; line: SelectionLine; path: number[]; alongM: number; heightM: number }
  /** Rows that something else has found: the object of the store that holds them. */
  | { kind: 'rows'; object: string; name: string };

/** Shapes are taken in their order: added, taken away, or what is selected is kept within them alone. */
export interface SelectionRegion {
  mode: 'add' | 'subtract' | 'within';
  shape: SelectionShape;
}

/** Which of several echoes of a beam a point is. */
export type EchoKind = 'single' | 'first' | 'between' | 'last';
export const ECHO_KINDS: EchoKind[] = ['single', 'first', 'between', 'last'];

/** Heights above ground that count, by a grid of the ground that was made of the cloud. */
export interface AboveGround {
  /** Object of the store: heights about the cloud's zero, 32-bit floats, row by row. */
  object: string;
  cellM: number;
  minX: number;
  minY: number;
  columns: number;
  rows: number;
  rangeM: [number, number];
}

/** Which points count at all, by their attributes. */
export interface SelectionFilter {
  hiddenClasses: number[];
  rejected: 'hidden' | 'shown' | 'only';
  /** GPS seconds. */
  time?: [number, number];
  strips?: number[];
  intensity?: [number, number];
  echoes?: EchoKind[];
  /** Largest stated deviation of height, 1 SD, metres. */
  sdMostM?: number;
  above?: AboveGround;
  /** Heights in the system of the project, metres. */
  heightM?: [number, number];
  /** Only what lies in a section of this line counts, whatever the shapes. */
  clip?: SelectionLine;
}

export interface Selection {
  /** None: all points that the filter lets through. */
  regions: SelectionRegion[];
  /** Everything but them; the filter holds as before. */
  inverted: boolean;
  filter: SelectionFilter;
}
