import { type MapShape } from '../../../map/shapes';
import { STRIP_COLOURS } from '../../../ui/colour';
import { type SoundingFigures } from '@longheron/contract/kinds/parts/soundings';

/** Easting and northing one after the other as places. */
export const placesOf = (path: readonly number[]): Array<[number, number]> =>
  Array.from({ length: path.length >> 1 }, (_, k) => [path[2 * k], path[2 * k + 1]]);

export const lineColour = (id: number) => STRIP_COLOURS[(id - 1) % STRIP_COLOURS.length];

/** Lines with their numbers, and casts with their names. */
export function soundingShapes(f: SoundingFigures, hovered: number | null): MapShape[] {
  return [
    ...f.lines.map((l): MapShape => ({
      kind: 'line',
      points: placesOf(l.path),
      colour: lineColour(l.id),
      widthPx: hovered === l.id ? 4 : 2,
      label: String(l.id),
    })),
    ...f.casts.map((c): MapShape => ({
      kind: 'point',
      points: [[c.easting_m, c.northing_m]],
      colour: c.pings ? '#7a4b8c' : '#8a8f92',
      label: `cast ${c.name}`,
    })),
  ];
}

/** One sentence on where heights come from, and whether they may be used as such. */
export function heightsSaid(f: SoundingFigures): { words: string; state: 'ok' | 'warn' } {
  if (f.heights === 'relative') return { words: `relative heights: they count from ${f.heights_above}`, state: 'warn' };
  return f.heights === 'gauge'
    ? { words: 'heights by heave, waterline and gauge', state: 'ok' }
    : { words: 'heights by the trajectory', state: 'ok' };
}
