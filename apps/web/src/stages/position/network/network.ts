import { factsOf, type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import { type NetworkContent } from '@longheron/contract/kinds/parts/network';
import { ellipseShape, type MapShape } from '../../../map/shapes';

export const networkOf = (d: DatasetOf<'marks'> | undefined) => d?.revision.content.network;

/** A standardised residual that one in a thousand exceeds by chance. */
export const TEST_LIMIT = 3.29;

/** One sentence on a network: what it is good for, or what speaks against it. */
export function verdict(n: NetworkContent): { words: string; state: 'ok' | 'warn' } {
  const unchecked = n.points.filter((p) => !p.checked).map((p) => p.name);
  const floating = n.observations.filter((o) => o.kind === 'vector' && o.solution !== 'fixed');
  const worst = n.observations.reduce((m, o) => Math.max(m, o.test ?? 0), 0);
  if (floating.length)
    return { words: `${floating.length} of its vectors not fixed: good to decimetres there`, state: 'warn' };
  if (unchecked.length) return { words: `nothing checks ${unchecked.join(', ')}`, state: 'warn' };
  if (worst > TEST_LIMIT) return { words: `one observation is ${worst.toFixed(1)} deviations off`, state: 'warn' };
  if (n.varianceFactor !== null && n.expected && n.varianceFactor > n.expected[1])
    return { words: 'residuals larger than the deviations allow', state: 'warn' };
  return { words: 'residuals as their deviations allow', state: 'ok' };
}

/** Vectors and ellipses for the map, and how much larger the ellipses are drawn than they are. */
export function networkShapes(n: NetworkContent): { shapes: MapShape[]; scale: number } {
  const at = new Map(n.points.map((p) => [p.name, [p.eastingM, p.northingM] as [number, number]]));
  const lengths = n.observations.map((o) => o.lengthM);
  const largest = Math.max(...n.points.map((p) => p.ellipse.majorM), 1e-4);
  // the largest ellipse takes a twentieth of the longest side; a round number, so that it can be said
  const wanted = Math.max(...lengths, 1) / 20 / largest;
  const scale = 10 ** Math.floor(Math.log10(wanted));
  const lines = n.observations.map((o): MapShape => {
    const bad = (o.test ?? 0) > TEST_LIMIT || (o.kind === 'vector' && o.solution !== 'fixed');
    return {
      kind: 'line',
      points: [at.get(o.from)!, at.get(o.to)!],
      dashed: o.kind !== 'vector',
      colour: bad ? '#a8402e' : '#0e5e66',
      widthPx: 2,
    };
  });
  const ellipses = n.points
    .filter((p) => !p.held)
    .map((p) => ellipseShape([p.eastingM, p.northingM], p.ellipse, scale, '#7a4b8c'));
  const held = n.points
    .filter((p) => p.held)
    .map((p): MapShape => ({ kind: 'point', points: [at.get(p.name)!], colour: '#15262c', label: p.name }));
  return { shapes: [...lines, ...ellipses, ...held], scale };
}

/** Marker of a recording as the network names its point. */
export function markerOf(d: DatasetDto): string {
  return (factsOf(d)?.details.find(([k]) => k === 'Marker')?.[1] ?? '').trim().toUpperCase();
}

/**
 * Recordings that seem to stand still: none of their marker observes more often than once a second, or was the rover of
 * a trajectory.
 */
export function seemAtRest(recordings: DatasetDto[], rovers: ReadonlySet<number>): DatasetDto[] {
  const rate = (d: DatasetDto) => factsOf(d)?.rateHz ?? 1;
  const moving = new Set(recordings.filter((d) => rate(d) > 1.01 || rovers.has(d.id)).map(markerOf));
  const seen = new Set<string>();
  return recordings.filter((d) => {
    const marker = markerOf(d);
    if (!marker || moving.has(marker) || seen.has(marker)) return false;
    seen.add(marker);
    return true;
  });
}
