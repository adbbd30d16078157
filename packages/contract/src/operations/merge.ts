import { choice, operation } from '../declare';

export default operation({
  name: 'merge',
  title: 'Merge clouds',
  past: 'merged',
  stage: 'clean',
  version: 1,
  result: 'point-cloud',
  resultName: 'Merged cloud',
  roles: {
    clouds: {
      kind: 'point-cloud',
      label: 'Clouds',
      several: true,
      flag: 'in',
      reason: 'LAS or LAZ of one coordinate system.',
    },
  },
  settings: {
    strips: choice({
      label: 'Strips of one number are',
      flag: 'strips',
      usual: 'by time',
      choices: {
        'by time': 'one when seen within two minutes',
        same: 'always one (tiles of a delivery)',
        apart: 'never one (other sessions)',
      },
      reason: 'Strips of the later clouds that clash are moved up.',
    }),
  },
  refuse: (_s, chosen) => (chosen.clouds > 1 ? undefined : 'Two clouds at least are needed.'),
  command: {
    name: 'merge',
    what: 'several clouds as one',
    files: { out: { file: 'cloud', must: true, reason: 'LAS 1.4 in the point format that holds what all hold.' } },
    example: 'npx longheron merge --in tile_1.laz,tile_2.laz --out merged.las',
  },
});
