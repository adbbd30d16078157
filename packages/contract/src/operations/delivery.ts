import { DELIVERY_DEFAULTS } from '@longheron/core/cloud';
import { number, operation } from '../declare';

export default operation({
  name: 'delivery',
  title: 'Check a delivery of tiles',
  past: 'checked',
  stage: 'clean',
  version: 1,
  result: 'delivery',
  resultName: 'Delivery of tiles',
  roles: {
    clouds: { kind: 'point-cloud', label: 'Tiles', several: true, flag: 'in' },
    outlines: {
      kind: 'outlines',
      label: 'Index',
      none: 'none came with them',
      flag: 'index',
      reason: 'GeoJSON: an area a tile, with the name of its file.',
    },
  },
  settings: {
    capPoints: number({
      label: 'Most points in a tile',
      flag: 'cap',
      unit: 'points',
      min: 0,
      max: 1e9,
      whole: true,
      step: 1e6,
      digits: 0,
      usual: DELIVERY_DEFAULTS.capPoints,
      reason: 'As agreed; 0 looks for tiles that end at one number.',
    }),
    seamSpacings: number({
      label: 'An open seam from',
      flag: 'seam',
      unit: 'spacings',
      min: 1,
      max: 1000,
      step: 1,
      digits: 1,
      usual: DELIVERY_DEFAULTS.seamSpacings,
      reason: 'Of points; narrower is chance.',
      shown: () => false,
    }),
  },
  command: {
    name: 'delivery',
    what: 'tiles of a delivery against their index and each other',
    system: { flag: 'crs', reason: 'System of the tiles, for an index in another one.' },
    files: { csv: { file: 'faults', aside: true, reason: 'Faults as a table.' } },
    note: 'Exit code 1 when something is wrong with them.',
    example: 'npx longheron delivery --in tile_1.laz,tile_2.laz --index tiles.geojson',
  },
});
