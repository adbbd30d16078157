import { kind } from '../declare/kind';
import { type FeatureDto } from '../api/photographs';

/** Points, lines and areas that were measured in photographs. */
export interface Content {
  features: FeatureDto[];
  /** The block they were measured in, by its dataset and revision. */
  block: number;
  blockRevision: number;
  crs: string;
  /** Objects with them as files. */
  csv: string;
  geojson: string;
  landxml: string;
  /** What was done last, for the trail. */
  how: string;
}

export default kind<Content>({
  name: 'Measured in photographs',
  counts: 'features',
  card: ({ features }) => {
    const many = (shape: string, name: string) => {
      const n = features.filter((f) => f.shape === shape).length;
      return n ? [`${n} ${name}${n > 1 ? 's' : ''}`] : [];
    };
    return [...many('point', 'point'), ...many('line', 'line'), ...many('area', 'area')].join(', ') || 'nothing yet';
  },
  exports: {
    csv: { label: 'Points, lines, areas, CSV', extension: 'csv', type: 'text/csv', object: (c) => c.csv || undefined },
    geojson: {
      label: 'Points, lines, areas, GeoJSON',
      extension: 'geojson',
      type: 'application/geo+json',
      object: (c) => c.geojson || undefined,
    },
    landxml: {
      label: 'Points, lines, areas, LandXML',
      extension: 'xml',
      type: 'application/xml',
      object: (c) => c.landxml || undefined,
    },
  },
});
