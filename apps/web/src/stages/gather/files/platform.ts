import { sensorToBody, type Mounting } from '@longheron/core/frames';

/** A point of a platform in its body frame: x forward, y right, z down, metres. */
export interface PlatformPoint {
  name: string;
  kind: 'reference' | 'antenna' | 'sensor';
  at: [number, number, number];
  /** Direction of a sensor's own x axis. */
  axis?: [number, number, number];
}

/** Reference point, antenna and sensors of a mounting. */
export function platformPoints(m: Mounting): PlatformPoint[] {
  const sensors = Object.entries(m.sensors).map(([name, s]): PlatformPoint => {
    const r = sensorToBody(s);
    return { name, kind: 'sensor', at: [...s.leverArmM], axis: [r[0], r[3], r[6]] };
  });
  return [
    { name: 'reference point', kind: 'reference', at: [0, 0, 0] },
    ...(m.gnssLeverArmM
      ? [{ name: 'GNSS antenna', kind: 'antenna' as const, at: [...m.gnssLeverArmM] as [number, number, number] }]
      : []),
    ...sensors,
  ];
}

/** Distances between each two points, metres: what a tape on the platform must show. */
export function platformDistances(points: PlatformPoint[]): Array<{ from: string; to: string; distanceM: number }> {
  return points.flatMap((a, i) =>
    points.slice(i + 1).map((b) => ({
      from: a.name,
      to: b.name,
      distanceM: Math.hypot(...[0, 1, 2].map((k) => a.at[k] - b.at[k])),
    })),
  );
}

export type View = 'side' | 'above';

/** A drawing's coordinates: forward is to the right; in the side view down is down, from above right is down. */
export const flatten = (v: [number, number, number], view: View): [number, number] => [
  v[0],
  view === 'side' ? v[2] : v[1],
];

/** What is drawn, metres: around all points, at least a third of a metre. */
export function frameOf(points: PlatformPoint[], view: View): { middle: [number, number]; halfM: number } {
  const flat = points.map((p) => flatten(p.at, view));
  const ends = [0, 1].map((k) => [Math.min(...flat.map((f) => f[k])), Math.max(...flat.map((f) => f[k]))]);
  return {
    middle: [(ends[0][0] + ends[0][1]) / 2, (ends[1][0] + ends[1][1]) / 2],
    halfM: Math.max(0.33, ...ends.map(([a, b]) => (b - a) / 2)),
  };
}
