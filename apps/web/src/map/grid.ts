import Feature from 'ol/Feature';
import { type Extent } from 'ol/extent';
import { LineString, Point } from 'ol/geom';
import { Fill, Stroke, Style, Text } from 'ol/style';

/** Distances of lines, and the room that a coordinate beside the next takes. */
const STEPS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000, 50000, 100000, 1e6];
const LABEL_PX = 84;

/** Lines of equal easting and northing over an extent, with their coordinates; the map's only background. */
export function gridFeatures(extent: Extent, size: number[]): Feature[] {
  const span = Math.max(extent[2] - extent[0], extent[3] - extent[1]);
  if (!(span > 0) || !Number.isFinite(span)) return [];
  const perPixel = span / Math.max(size[0], size[1]);
  const step = STEPS.find((s) => s / perPixel >= LABEL_PX && span / s <= 8) ?? 1e7;
  const out: Feature[] = [];
  const line = (a: number[], b: number[], text: string, vertical: boolean) => {
    // names keep clear of the buttons and of each other in the corner
    const named = vertical
      ? (a[0] - extent[0]) / perPixel > 64 && (extent[2] - a[0]) / perPixel > LABEL_PX
      : (extent[3] - a[1]) / perPixel > 70 && (a[1] - extent[1]) / perPixel > 24;
    const f = new Feature(new LineString([a, b]));
    f.setStyle([
      new Style({ stroke: new Stroke({ color: '#dfe7e8', width: 1 }) }),
      ...(named
        ? [
            new Style({
              geometry: new Point(a),
              text: new Text({
                text,
                font: '12px IBM Plex Mono',
                fill: new Fill({ color: '#53666d' }),
                backgroundFill: new Fill({ color: '#ffffffd0' }),
                padding: [1, 2, 0, 2],
                textAlign: 'left',
                offsetX: 4,
                offsetY: vertical ? -8 : 0,
              }),
            }),
          ]
        : []),
    ]);
    out.push(f);
  };
  for (let x = Math.ceil(extent[0] / step) * step; x < extent[2]; x += step)
    line([x, extent[1]], [x, extent[3]], `${x} E`, true);
  for (let y = Math.ceil(extent[1] / step) * step; y < extent[3]; y += step)
    line([extent[0], y], [extent[2], y], `${y} N`, false);
  return out;
}
