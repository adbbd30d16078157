/** An event with its place and its photograph. */
export interface EventRow {
  event: number;
  label: string;
  gps: number;
  reason: '' | 'outside' | 'gap';
  kept: boolean;
  stray: boolean;
  photo: string | null;
  offS: number | null;
  xyz: [number, number, number] | null;
  attitudeDeg: number[] | null;
  sdM: number[] | null;
  solution: string;
  /** Corners in plan of what the photograph shows of level ground; null without. */
  footprint: Array<[number, number]> | null;
  cut: boolean;
  /** Shares with the next one and with the best of another line. */
  overlap: number | null;
  side: number | null;
}

/** What a row says of its event. @param leftOut why it was left out by hand. */
export function stateOf(r: EventRow, leftOut: string | undefined): string {
  if (leftOut) return `left out: ${leftOut}`;
  if (r.reason === 'outside') return 'outside the trajectory';
  if (r.reason === 'gap') return 'in a gap';
  if (r.stray && !r.kept) return 'stray, left out';
  return r.photo ?? (r.label || (r.kept ? '' : 'no photograph'));
}
