import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { ellipseShape, type MapShape } from '../../../map/shapes';

/** A standardised residual that one in a thousand exceeds by chance. */
export const TEST_LIMIT = 3.29;

const SOUND = '#0e5e66';
const WRONG = '#a8402e';

/** One sentence on an adjusted job: what it is good for, or what speaks against it. */
export function verdict(f: TraverseFigures): { words: string; state: 'ok' | 'warn' } {
  if (f.rejected.length)
    return {
      words: `${f.rejected.length === 1 ? 'one error' : `${f.rejected.length} errors`} found and left out`,
      state: 'warn',
    };
  if (f.sigma0 === null) return { words: 'no observation to spare: nothing is checked', state: 'warn' };
  if (f.sigma0_expected && f.sigma0 > f.sigma0_expected[1])
    return { words: 'residuals larger than the deviations allow', state: 'warn' };
  if (f.closures.some((c) => c.ok === false)) return { words: 'a traverse does not close', state: 'warn' };
  return { words: 'residuals as their deviations allow', state: 'ok' };
}

type Place = [number, number];

/**
 * Rays, error ellipses and points for the map, and how much larger the ellipses are drawn than they are.
 * @param hovered name of the point whose rays stand out.
 */
export function jobShapes(f: TraverseFigures, hovered?: string | null): { shapes: MapShape[]; scale: number } {
  const at = new Map(f.points.map((p): [string, Place] => [p.name, [p.easting_m, p.northing_m]]));
  const largest = Math.max(...f.points.map((p) => p.major_m), 1e-4);
  const lengths = f.observations.map((o) => o.length_m);
  // a round number, so that it can be said
  const wanted = Math.max(...lengths, 1) / 8 / largest;
  const ten = 10 ** Math.floor(Math.log10(wanted));
  const scale = ten * (wanted >= 5 * ten ? 5 : wanted >= 2 * ten ? 2 : 1);
  const rays = new Map<string, { a: string; b: string; worst: number }>();
  for (const o of f.observations) {
    const key = `${o.from}\u0000${o.to}`;
    const own = rays.get(key) ?? { a: o.from, b: o.to, worst: 0 };
    own.worst = Math.max(own.worst, o.test ?? 0);
    rays.set(key, own);
  }
  const wrong = new Set(f.rejected.flatMap((r) => (r.station && r.target ? [`${r.station}\u0000${r.target}`] : [])));
  const lines = [...rays].map(([key, { a, b, worst }]): MapShape => {
    const bad = worst > TEST_LIMIT || wrong.has(key);
    return {
      kind: 'line',
      points: [at.get(a)!, at.get(b)!],
      colour: bad ? WRONG : hovered === a || hovered === b ? '#c97a00' : SOUND,
      widthPx: bad || hovered === a || hovered === b ? 2 : 1,
    };
  });
  // a whole sighting that was left out has no ray any more
  for (const r of f.rejected)
    if (r.what === 'sighting' && at.has(r.station!) && at.has(r.target!))
      lines.push({
        kind: 'line',
        points: [at.get(r.station!)!, at.get(r.target!)!],
        colour: WRONG,
        widthPx: 2,
        dashed: true,
      });
  const ellipses = f.points
    .filter((p) => p.kind !== 'control')
    .map((p) =>
      ellipseShape(
        at.get(p.name)!,
        { majorM: p.major_m, minorM: p.minor_m, bearingRad: (p.bearing_deg * Math.PI) / 180 },
        scale,
        '#7a4b8c',
      ),
    );
  const points = f.points.map((p): MapShape => ({
    kind: 'point',
    points: [at.get(p.name)!],
    colour: p.checked ? (p.kind === 'station' ? SOUND : '#53666d') : '#c97a00',
    label: p.name,
  }));
  return { shapes: [...lines, ...ellipses, ...points], scale };
}
