import { number, operation, text } from '../declare';

const coordinate = (label: string, flag: string, reason: string) =>
  number({ label, flag, unit: 'm', min: -1e8, max: 1e8, step: 1, digits: 3, usual: null, reason });

export default operation({
  name: 'ground-system',
  title: 'Set up a ground system',
  past: 'set up',
  stage: 'gather',
  version: 1,
  result: 'system',
  resultName: 'Ground system',
  // it stays what it is when the project then works in it
  referenceLine: 'none',
  roles: {},
  settings: {
    name: text({
      label: 'Name of the system',
      flag: 'name',
      least: 1,
      most: 60,
      usual: 'Ground system',
      reason: 'Stands in every file in it.',
    }),
    eastingM: coordinate('Easting of its point', 'easting', 'In the projection; lengths are true around it.'),
    northingM: coordinate('Northing of its point', 'northing', 'In the projection.'),
    heightM: number({
      label: 'Height of the ground',
      flag: 'height',
      unit: 'm',
      min: -500,
      max: 9000,
      step: 1,
      digits: 2,
      usual: 0,
      reason: 'In the height system: 10 m change lengths by 1.6 mm in 1 km.',
    }),
    localEastM: coordinate('Easting it has there', 'local-easting', 'The same as in the projection without it.'),
    localNorthM: coordinate('Northing it has there', 'local-northing', 'The same as in the projection without it.'),
  },
  refuse: ({ eastingM, northingM }) =>
    typeof eastingM === 'number' && typeof northingM === 'number'
      ? undefined
      : 'Say easting and northing of the point around which lengths are true.',
  command: {
    name: 'ground-system',
    what: 'a system whose lengths are those on the ground',
    system: { flag: 'crs', must: true, reason: 'The projection and its heights, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'system', must: true, reason: 'The system as WKT 2; --crs of other commands takes it.' } },
    example: `npx longheron ground-system --crs EPSG:25832+5773 --easting 467000 --northing 6215000 --height 12 \\
           --local-easting 5000 --local-northing 5000 --out ground.wkt`,
  },
  chapter: 16,
});
