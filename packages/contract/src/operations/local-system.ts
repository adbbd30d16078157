import { choice, operation, text, values } from '../declare';

export default operation({
  name: 'local-system',
  title: 'Fit a local system to marks',
  past: 'fitted to marks',
  stage: 'gather',
  version: 1,
  result: 'system',
  resultName: 'Local system',
  // it stays what it is when the project then works in it
  referenceLine: 'none',
  roles: {
    local: {
      kind: 'marks',
      label: 'Marks in the local system',
      several: true,
      flag: 'local',
      reason: 'East, north and height on site.',
    },
    control: {
      kind: 'marks',
      label: 'The same marks in the project’s system',
      several: true,
      flag: 'control',
      reason: 'Found by name.',
    },
  },
  settings: {
    name: text({
      label: 'Name of the system',
      flag: 'name',
      least: 1,
      most: 60,
      usual: 'Local system',
      reason: 'Stands in every file in it.',
    }),
    plan: choice({
      label: 'Plan',
      flag: 'plan',
      choices: {
        similarity: 'shift, turn and scale',
        ground: 'shift and turn, lengths as on the ground',
        rigid: 'shift and turn, lengths as in the projection',
        shift: 'shift alone',
        none: 'stays as it is',
      },
      usual: 'similarity',
      reason: 'What separates local coordinates from those of the projection.',
    }),
    heights: choice({
      label: 'Heights',
      flag: 'heights',
      choices: { shift: 'shift', slopes: 'shift and slopes', none: 'stay as they are' },
      usual: 'shift',
      reason: 'Slopes take three marks around the site.',
    }),
    leftOut: values({
      label: 'Marks left out',
      flag: 'leave-out',
      least: 0,
      most: 1000,
      of: text({ label: 'Name of a mark', reason: '', least: 1, most: 60, usual: null }),
      reason: 'They are shown with what they are off, and have no part in it.',
    }),
  },
  refuse: ({ plan, heights }) =>
    plan === 'none' && heights === 'none' ? 'Neither plan nor heights are to be fitted.' : undefined,
  command: {
    name: 'local-system',
    what: 'a local system, or heights of its own, from marks that are known twice',
    system: { flag: 'crs', must: true, reason: 'System of the control marks, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'system', must: true, reason: 'The system as WKT 2; --crs of other commands takes it.' } },
    note: 'With --plan none the result is a height surface: the geoid of --crs with the fitted correction.',
    example: `npx longheron local-system --local site.csv --control control.csv --crs EPSG:25832+5773 \\
           --heights slopes --out quay.wkt`,
  },
  chapter: 15,
});
