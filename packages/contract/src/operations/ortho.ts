import { choice, flag, number, operation } from '../declare';

export default operation({
  name: 'ortho',
  title: 'Make the orthophoto',
  past: 'made',
  stage: 'deliver',
  version: 1,
  result: 'orthophoto',
  resultName: 'Orthophoto',
  roles: {
    photos: {
      kind: 'photo-set',
      label: 'Photographs',
      several: true,
      flag: 'photos',
      reason: 'A folder or a ZIP archive of JPEG files; of a block of several sets each of them.',
    },
    oriented: {
      kind: 'block',
      label: 'Block of photographs',
      flag: 'oriented',
      reason: 'Orientations, CSV, as the adjusted block writes them.',
    },
    cameras: {
      kind: 'cameras',
      label: 'Cameras',
      none: 'as adjusted in the block',
      flag: 'cameras',
      reason: 'JSON, as adjusted in the block.',
    },
    surface: {
      kind: 'surface',
      label: 'Surface',
      flag: 'surface',
      reason: 'GeoTIFF of heights: with buildings and trees these stand upright, without them they lean.',
    },
  },
  settings: {
    cellM: number({
      label: 'Cell',
      flag: 'cell',
      unit: 'm',
      min: 0.001,
      max: 1000,
      step: 0.01,
      digits: 3,
      usual: 0.2,
      reason: 'About what a pixel shows of the ground; finer adds nothing.',
    }),
    surface: choice({
      label: 'Heights',
      usual: 'highest',
      choices: { highest: 'the highest of each place', ground: 'the ground' },
      reason: 'On the highest surface buildings and trees stand upright, and hide nothing that is seen elsewhere.',
    }),
    even: flag({
      label: 'Even the brightness',
      flag: 'even',
      flagOff: 'as-taken',
      usual: true,
      reason: 'Photographs are made as bright as others where both show the same.',
    }),
  },
  command: {
    name: 'ortho',
    what: 'an orthophoto from oriented photographs and a surface',
    system: { flag: 'crs', reason: 'Of a surface that does not name its own, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'geotiff', must: true, reason: 'GeoTIFF: red, green, blue and opacity, with overviews.' } },
    example: `npx longheron ortho --photos photos --oriented oriented.csv --cameras adjusted.json --surface dtm.tif \\
           --cell 0.2 --out ortho.tif`,
  },
});
