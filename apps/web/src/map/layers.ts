import VectorLayer from 'ol/layer/Vector';
import VectorSource from 'ol/source/Vector';

/** What is drawn on a map, from below, with the order it lies in. */
const ORDER = {
  grid: 0,
  extents: 2,
  contours: 3,
  path: 4,
  shapes: 4,
  section: 5,
  dots: 5,
  marks: 6,
} as const;
export type Drawn = keyof typeof ORDER;

/** What a person can leave out, and the layers that belong to it. */
export const LAYERS: Array<[name: string, layers: Array<Drawn | 'picture'>]> = [
  ['trajectory', ['path', 'dots']],
  ['marks', ['marks']],
  ['extents', ['extents']],
  ['lines and areas', ['shapes', 'contours']],
  ['pictures', ['picture']],
  ['grid', ['grid']],
];

/** A source and a layer for each thing that is drawn. */
export function mapLayers(): {
  sources: Record<Drawn, VectorSource>;
  layers: Record<Drawn, VectorLayer<VectorSource>>;
} {
  const made = (Object.keys(ORDER) as Drawn[]).map((name) => {
    const source = new VectorSource();
    // names of areas and marks give way to each other; more of them appear on zooming in
    const settings = {
      source,
      zIndex: ORDER[name],
      declutter: name === 'shapes' || name === 'marks',
      updateWhileInteracting: true,
    };
    return { name, source, layer: new VectorLayer(settings) };
  });
  return {
    sources: Object.fromEntries(made.map((m) => [m.name, m.source])) as Record<Drawn, VectorSource>,
    layers: Object.fromEntries(made.map((m) => [m.name, m.layer])) as Record<Drawn, VectorLayer<VectorSource>>,
  };
}
