/** Points in squares of a metre; row 0 is the northernmost. */
export interface Density {
  westM: number;
  northM: number;
  columns: number;
  rows: number;
  perM2: Uint32Array;
}
