import Feature from 'ol/Feature';
import { LineString, Point, Polygon } from 'ol/geom';
import { Circle, Fill, Stroke, Style } from 'ol/style';
import { type SectionLine } from '../section/cut';

/** The point under consideration. */
export function pickedFeature(eastingM: number, northingM: number): Feature {
  const f = new Feature(new Point([eastingM, northingM]));
  f.setStyle(new Style({ image: new Circle({ radius: 6, stroke: new Stroke({ color: '#c97a00', width: 2.5 }) }) }));
  return f;
}

/** A section line with its width. */
export function sectionFeatures(s: SectionLine): Feature[] {
  const [dx, dy] = [s.to[0] - s.from[0], s.to[1] - s.from[1]];
  const length = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [(-dy / length) * (s.widthM / 2), (dx / length) * (s.widthM / 2)];
  const corners = [
    [s.from[0] + nx, s.from[1] + ny],
    [s.to[0] + nx, s.to[1] + ny],
    [s.to[0] - nx, s.to[1] - ny],
    [s.from[0] - nx, s.from[1] - ny],
    [s.from[0] + nx, s.from[1] + ny],
  ];
  const box = new Feature(new Polygon([corners]));
  box.setStyle(
    new Style({ stroke: new Stroke({ color: '#a8402e', width: 1 }), fill: new Fill({ color: '#a8402e22' }) }),
  );
  const axis = new Feature(new LineString([s.from, s.to]));
  axis.setStyle(new Style({ stroke: new Stroke({ color: '#a8402e', width: 2 }) }));
  return [box, axis];
}
