import { flag, number, operation } from '../declare';

export default operation({
  name: 'surface',
  title: 'Make the terrain model',
  past: 'made',
  stage: 'deliver',
  version: 2,
  result: 'surface',
  resultName: 'Terrain model',
  tolerance: 'surface',
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud with ground', flag: 'cloud' } },
  settings: {
    cellM: number({
      label: 'Cell',
      flag: 'cell',
      unit: 'm',
      min: 0.001,
      max: 100000,
      step: 0.05,
      digits: 2,
      usual: 0.5,
      reason: 'Cell edges lie on whole multiples. Half a metre shows kerbs; finer than the point spacing adds nothing.',
    }),
    maxGapM: number({
      label: 'Fill within',
      flag: 'max-gap',
      unit: 'm',
      min: 0,
      max: 1e6,
      step: 0.5,
      digits: 1,
      usual: 3,
      reason:
        'Cells of the grid this near to a ground point are filled, the others stay empty. Triangles with a longer edge are left out of the TIN.',
    }),
    contoursM: number({
      label: 'Contour interval',
      flag: 'contours',
      unit: 'm',
      min: 0,
      max: 1000,
      step: 0.05,
      digits: 2,
      usual: 0.25,
      reason: '0: no contours. Every fifth is an index contour.',
    }),
    tinSpacingM: number({
      label: 'TIN point spacing',
      flag: 'tin-spacing',
      unit: 'm',
      min: 0,
      max: 50,
      step: 0.1,
      digits: 2,
      usual: 0.5,
      reason:
        'One ground point a square of this size goes into the delivered TIN; 0 takes every point. What is lost in height is stated.',
    }),
    class: number({
      label: 'Class of the points',
      flag: 'class',
      unit: '',
      min: 0,
      max: 255,
      whole: true,
      usual: 2,
      reason: 'Those that make the surface: the ground.',
      shown: () => false,
    }),
    lonLat: flag({
      label: 'Contours in longitude and latitude',
      flag: 'lonlat',
      usual: false,
      shown: () => false,
      reason: 'GeoJSON after RFC 7946; else in the system of the cloud.',
    }),
  },
  command: {
    name: 'surface',
    what: 'terrain grid, TIN and contours',
    system: { flag: 'crs', reason: 'System of a file that names none.' },
    files: {
      out: { file: 'geotiff', reason: 'Terrain grid, GeoTIFF.' },
      asc: { file: 'asciiGrid', reason: 'Terrain grid, ASCII.' },
      'contours-out': { file: 'contoursGeoJson', reason: 'Contours, GeoJSON.' },
      dxf: { file: 'contoursDxf', reason: 'Contours, DXF.' },
      landxml: { file: 'landXml', reason: 'TIN, LandXML.' },
      'highest-out': { file: 'highestTiff', reason: 'Grid of the highest points, GeoTIFF.' },
      'above-out': { file: 'aboveTiff', reason: 'Grid of heights above ground, GeoTIFF.' },
    },
    meant: (given, _more, asked) => {
      if (!given.contoursM && (asked.includes('contours-out') || asked.includes('dxf')))
        throw new Error('Contours are to be written but no interval is given: add --contours 0.25.');
      return { contoursM: 0, tinSpacingM: 0, ...given };
    },
    example: `npx longheron surface --cloud classified.las --cell 0.5 --out dtm.tif --contours 0.25 \\
           --contours-out contours.geojson --landxml tin.xml`,
  },
});
