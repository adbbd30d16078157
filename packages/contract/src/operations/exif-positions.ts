import { choice, number, operation } from '../declare';

export default operation({
  name: 'exif-positions',
  title: 'Take positions from the photographs',
  past: 'taken from photographs',
  stage: 'gather',
  version: 1,
  result: 'positions',
  resultName: 'Positions of the photographs themselves',
  roles: {
    photos: {
      kind: 'photo-set',
      label: 'Photographs',
      flag: 'photos',
      reason: 'A folder or a ZIP archive of JPEG files whose EXIF says where they were taken.',
    },
  },
  settings: {
    heights: choice({
      label: 'Their heights are',
      flag: 'heights',
      usual: 'sea',
      choices: { sea: 'above sea level', ellipsoid: 'above the ellipsoid' },
      reason: 'EXIF means sea level; some cameras write what their receiver has.',
    }),
    sdPlanM: number({
      label: '1 SD in plan',
      flag: 'sd-plan',
      unit: 'm',
      min: 0.005,
      max: 1000,
      step: 0.5,
      digits: 3,
      usual: 3,
      reason: 'Of each axis, where a photograph does not say it: a receiver on its own is good to metres.',
    }),
    sdHeightM: number({
      label: '1 SD in height',
      flag: 'sd-height',
      unit: 'm',
      min: 0.005,
      max: 1000,
      step: 0.5,
      digits: 3,
      usual: 8,
      reason: 'Of the heights; a barometer drifts by more than a receiver.',
    }),
  },
  command: {
    name: 'exif-positions',
    what: 'where photographs say that they were taken, as a list',
    system: { flag: 'crs', reason: 'For heights above sea level, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'positions', must: true, reason: 'Positions, CSV.' } },
    example: 'npx longheron exif-positions --photos photos.zip --crs EPSG:25832+5773 --out positions.csv',
  },
});
