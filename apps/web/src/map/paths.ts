import Feature from 'ol/Feature';
import { LineString, Point, Polygon } from 'ol/geom';
import { Circle, Fill, Stroke, Style, Text } from 'ol/style';
import { css, VIRIDIS } from '../ui/colour';

type Span = readonly [number, number];

/** A line by time, in the system of the project. */
export interface MapPath {
  eastingM: number[];
  northingM: number[];
  time: number[];
  /** Metres; colours the line. */
  value?: number[];
  /** Metres in the height system of the project. */
  heightM?: number[];
}

/** A place that belongs to a time; the grey ones do not count. */
export interface MapDot {
  eastingM: number;
  northingM: number;
  time: number;
  counts: boolean;
}

/** More pieces than this no line is drawn in. */
const MAX_PIECES = 5000;
/** A span may begin or end so long before or after an epoch, seconds. */
const SLACK_S = 0.1;

/**
 * Pieces of a line, coloured by the worst value in each; what lies outside the brush, or counts for nothing, is grey.
 * @param limits of the colours. @param spans times that count; all without them.
 */
export function pathFeatures(
  p: MapPath,
  limits: Span | undefined,
  spans: readonly Span[] | undefined,
  brush: Span | null,
): Feature[] {
  const step = Math.max(1, Math.ceil(p.time.length / MAX_PIECES));
  const [low, high] = limits ?? [0, 1];
  const out: Feature[] = [];
  for (let i = 0; i + step < p.time.length; i += step) {
    const j = i + step;
    let worst = 0;
    for (let k = i; k <= j; k++) worst = Math.max(worst, p.value?.[k] ?? 0);
    const counts = !spans || spans.some(([a, b]) => p.time[i] >= a - SLACK_S && p.time[j] <= b + SLACK_S);
    const inside = counts && (!brush || (p.time[i] >= brush[0] && p.time[j] <= brush[1]));
    const f = new Feature(
      new LineString([
        [p.eastingM[i], p.northingM[i]],
        [p.eastingM[j], p.northingM[j]],
      ]),
    );
    const colour = p.value && limits ? css(VIRIDIS, (worst - low) / Math.max(1e-9, high - low)) : '#0e5e66';
    f.setStyle(
      new Style({
        stroke: new Stroke({ color: inside ? colour : '#d3ddde', width: inside ? 3 : 1.5 }),
        zIndex: inside ? 2 : 1,
      }),
    );
    out.push(f);
  }
  return out;
}

/** Places of events. */
export function dotFeature(d: MapDot, brush: Span | null): Feature {
  const inside = d.counts && (!brush || (d.time >= brush[0] && d.time <= brush[1]));
  const f = new Feature(new Point([d.eastingM, d.northingM]));
  f.setStyle(
    new Style({
      image: new Circle({
        radius: inside ? 3.5 : 2.5,
        fill: new Fill({ color: inside ? '#7a4b8c' : '#c4ccce' }),
        stroke: new Stroke({ color: '#fff', width: 1 }),
      }),
    }),
  );
  return f;
}

/** The frame of what a file covers, with its name. */
export function extentFeature({ name, extent: [a, b, c, d] }: { name: string; extent: number[] }): Feature {
  const corners = [
    [a, b],
    [c, b],
    [c, d],
    [a, d],
    [a, b],
  ];
  const f = new Feature(new Polygon([corners]));
  f.setStyle(
    new Style({
      stroke: new Stroke({ color: '#0e5e66', width: 1, lineDash: [4, 3] }),
      text: new Text({
        text: name,
        font: '12px IBM Plex Sans',
        fill: new Fill({ color: '#53666d' }),
        placement: 'point',
        offsetY: -8,
      }),
    }),
  );
  return f;
}
