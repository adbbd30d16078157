import { kind, rawExport, type FileContent } from '../declare/kind';
import { type SiteContent } from './parts/site';

export interface Content extends FileContent {
  /** How it was found, when it was computed here. */
  site?: SiteContent;
  /** Object with the grid that its heights count from: kept as long as this is. */
  uses?: string;
}

export default kind<Content>({
  name: 'Coordinate system',
  counts: 'systems',
  exports: {
    ...rawExport,
    wkt: {
      label: 'Coordinate system, WKT 2',
      extension: 'wkt',
      type: 'text/plain',
      object: (c) => c.object,
      there: (c) => !!c.site,
    },
  },
});
