import { flag, number, operation, text } from '../declare';

export default operation({
  name: 'chart-datum',
  title: 'Set up a chart datum',
  past: 'set up',
  stage: 'gather',
  version: 1,
  result: 'system',
  resultName: 'Chart datum',
  referenceLine: 'none',
  roles: {
    surface: {
      kind: 'geoid',
      label: 'Separation surface',
      none: 'none',
      flag: 'surface',
      reason: 'Height of the datum above the ellipsoid as a grid: GTX, GeoTIFF, text.',
    },
    gauge: {
      kind: 'water-level',
      label: 'Gauge',
      none: 'none',
      flag: 'gauge',
      reason: 'Water levels that name their datum and its height above the ellipsoid.',
    },
  },
  settings: {
    name: text({
      label: 'Name of the datum',
      flag: 'name',
      least: 1,
      most: 60,
      usual: 'Chart datum',
      reason: 'Stands in every view, file and report.',
    }),
    separationM: number({
      label: 'Datum above the ellipsoid',
      flag: 'separation',
      unit: 'm',
      min: -500,
      max: 500,
      step: 0.01,
      digits: 3,
      usual: null,
      reason: 'Where it is one number for the site.',
    }),
    depths: flag({
      label: 'Depths, positive down',
      flag: 'depths',
      usual: false,
      reason: 'In rasters and lists that are delivered; otherwise heights, positive up.',
    }),
  },
  refuse: ({ separationM }, chosen) => {
    const given = [separationM !== undefined && separationM !== null, chosen.surface > 0, chosen.gauge > 0];
    return given.filter(Boolean).length === 1
      ? undefined
      : 'Give one of the three: a surface, a gauge, or the height of the datum above the ellipsoid.';
  },
  command: {
    name: 'chart-datum',
    what: 'a chart datum that heights or depths count from',
    files: { out: { file: 'system', must: true, reason: 'The heights as WKT 2; give them as --crs EPSG:25832+F.' } },
    example: 'npx longheron chart-datum --name "Reach datum" --separation 39.21 --depths --out reach_datum.wkt',
  },
  chapter: 18,
});
