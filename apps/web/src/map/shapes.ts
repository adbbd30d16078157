import Feature from 'ol/Feature';
import { LineString, Point, Polygon } from 'ol/geom';
import { Fill, RegularShape, Stroke, Style, Text } from 'ol/style';

/** A line, an area or a named point that a stage draws on the map, in the project's plan, metres. */
export interface MapShape {
  kind: 'line' | 'area' | 'point';
  points: Array<[number, number]>;
  colour: string;
  widthPx?: number;
  dashed?: boolean;
  label?: string;
}

export function shapeFeature(s: MapShape): Feature {
  const feature = new Feature(
    s.kind === 'line'
      ? new LineString(s.points)
      : s.kind === 'point'
        ? new Point(s.points[0])
        : new Polygon([[...s.points, s.points[0]]]),
  );
  feature.setStyle(
    new Style({
      stroke: new Stroke({ color: s.colour, width: s.widthPx ?? 1.5, lineDash: s.dashed ? [6, 4] : undefined }),
      fill: s.kind === 'area' ? new Fill({ color: `${s.colour}22` }) : undefined,
      image:
        s.kind === 'point'
          ? new RegularShape({
              points: 3,
              radius: 6,
              fill: new Fill({ color: '#ffffff' }),
              stroke: new Stroke({ color: s.colour, width: 1.6 }),
            })
          : undefined,
      text: s.label
        ? new Text({
            text: s.label,
            font: '12px IBM Plex Sans',
            placement: s.kind === 'line' ? 'line' : 'point',
            textBaseline: 'bottom',
            offsetY: s.kind === 'point' ? -7 : 0,
            fill: new Fill({ color: '#15262c' }),
            stroke: new Stroke({ color: '#ffffff', width: 3 }),
          })
        : undefined,
    }),
  );
  return feature;
}

/** Outline of an ellipse; half axes in metres of the map, bearing of the major one from north by east. */
export function ellipseShape(
  centre: [number, number],
  e: { majorM: number; minorM: number; bearingRad: number },
  scale: number,
  colour: string,
): MapShape {
  const points = Array.from({ length: 48 }, (_, k): [number, number] => {
    const t = (k / 48) * 2 * Math.PI;
    const [a, b] = [scale * e.majorM * Math.cos(t), scale * e.minorM * Math.sin(t)];
    const [s, c] = [Math.sin(e.bearingRad), Math.cos(e.bearingRad)];
    return [centre[0] + a * s + b * c, centre[1] + a * c - b * s];
  });
  return { kind: 'area', points, colour };
}
