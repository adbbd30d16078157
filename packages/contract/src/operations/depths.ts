import { choice, flag, number, operation } from '../declare';

export default operation({
  name: 'depths',
  title: 'Make the depth grid',
  past: 'gridded',
  stage: 'deliver',
  version: 1,
  result: 'depths',
  resultName: 'Depth grid',
  roles: { cloud: { kind: 'point-cloud', label: 'Soundings', flag: 'cloud' } },
  settings: {
    cellM: number({
      label: 'Cell',
      flag: 'cell',
      unit: 'm',
      min: 0.01,
      max: 10000,
      step: 0.1,
      digits: 2,
      usual: 0.5,
      reason: 'Cell edges lie on whole multiples. Finer than the soundings lie apart it shows holes and noise.',
    }),
    method: choice({
      label: 'Height of a cell',
      flag: 'method',
      choices: {
        shoalest: 'shoalest sounding',
        median: 'median',
        mean: 'mean',
        weighted: 'mean weighted by uncertainty',
      },
      usual: 'weighted',
      reason: 'For safe passage the shoalest; for volumes and comparison a mean.',
    }),
    fillM: number({
      label: 'Fill holes within',
      flag: 'fill',
      unit: 'm',
      min: 0,
      max: 1000,
      step: 0.5,
      digits: 1,
      usual: 0,
      reason: 'Empty cells with soundings this near on two opposite sides are filled, and marked. 0: none.',
    }),
    contoursM: number({
      label: 'Contour interval',
      flag: 'contours',
      unit: 'm',
      min: 0,
      max: 1000,
      step: 0.25,
      digits: 2,
      usual: 0.5,
      reason: '0: no contours. Every fifth is an index contour.',
    }),
    positiveDown: flag({
      label: 'Depths, positive down',
      flag: 'positive-down',
      usual: false,
      reason: 'In rasters; otherwise heights, negative below the datum.',
    }),
  },
  command: {
    name: 'depths',
    what: 'a grid of soundings, with count, spread, uncertainty and age of each cell',
    system: { flag: 'crs', reason: 'System of a file that names none.' },
    files: {
      out: { file: 'geotiff', must: true, reason: 'Heights, GeoTIFF.' },
      asc: { file: 'asciiGrid', reason: 'Heights, ASCII grid.' },
      'count-out': { file: 'countTiff', reason: 'Soundings a cell, GeoTIFF.' },
      'spread-out': { file: 'spreadTiff', reason: 'Spread of the soundings of a cell, 1 SD, GeoTIFF.' },
      'sd-out': { file: 'sdTiff', reason: 'Uncertainty of the height of a cell, 1 SD, GeoTIFF.' },
      'age-out': { file: 'ageTiff', reason: 'Days from the latest sounding of a cell to the latest of all, GeoTIFF.' },
      'filled-out': { file: 'filledTiff', reason: '1 where a cell was filled, GeoTIFF.' },
      'contours-out': { file: 'contoursGeoJson', reason: 'Contours, GeoJSON.' },
      dxf: { file: 'contoursDxf', reason: 'Contours, DXF.' },
    },
    meant: (given, _more, asked) => {
      if (!given.contoursM && (asked.includes('contours-out') || asked.includes('dxf')))
        throw new Error('Contours are to be written but no interval is given: add --contours 0.5.');
      return { contoursM: 0, ...given };
    },
    example: 'npx longheron depths --cloud soundings.laz --cell 0.5 --method shoalest --fill 1 --out depth.tif',
  },
  chapter: 33,
});
