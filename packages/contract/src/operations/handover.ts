import { choice, number, operation } from '../declare';

export default operation({
  name: 'handover',
  title: 'Write the trajectory to a file',
  past: 'written',
  stage: 'position',
  version: 1,
  result: 'export',
  resultName: 'Trajectory to a file',
  roles: {
    trajectory: { kind: 'trajectory', label: 'Trajectory', flag: 'in' },
    geoid: {
      kind: 'geoid',
      label: 'Geoid grid',
      none: 'none',
      flag: 'geoid',
      reason: 'GTX or GeoTIFF: heights above that geoid.',
    },
  },
  settings: {
    plan: choice({
      label: 'Plan',
      usual: 'grid',
      switches: { geographic: 'geographic' },
      choices: { grid: 'easting, northing', geographic: 'latitude, longitude' },
      reason: 'Easting and northing are in the system of the project.',
    }),
    heights: choice({
      label: 'Heights',
      flag: 'heights',
      usual: 'project',
      choices: { project: 'of the project', ellipsoidal: 'ellipsoidal', geoid: 'by a geoid grid' },
      reason: 'Which kind they are stands in the file.',
    }),
    interpolation: choice({
      label: 'Between values of the grid',
      usual: 'bilinear',
      switches: { bicubic: 'bicubic' },
      choices: { bilinear: 'straight', bicubic: 'curved' },
      reason: 'As the maker of the grid says.',
      shown: (s) => s.heights === 'geoid',
    }),
    rateHz: number({
      label: 'Rows a second',
      flag: 'rate',
      unit: 'Hz',
      min: 0.001,
      max: 10000,
      usual: null,
      reason: 'All of them without it.',
    }),
  },
  command: {
    name: 'trajectory',
    what: 'a trajectory in another system, height or rate',
    system: { flag: 'crs', must: true, reason: 'System to write it in, e.g. EPSG:25832+5773.' },
    files: {
      out: { file: 'trajectory', must: true, reason: 'CSV; it names system, kind of height, epoch and point.' },
    },
    meant: (given, _more, asked) =>
      given.heights === undefined && asked.includes('geoid') ? { ...given, heights: 'geoid' } : given,
    example:
      'npx longheron trajectory --in vehicle.csv --crs EPSG:25832 --geoid geoid.gtx --rate 1 --out vehicle_grid.csv',
  },
});
