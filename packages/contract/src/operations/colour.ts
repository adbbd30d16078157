import { flag, number, operation } from '../declare';

export default operation({
  name: 'colour',
  title: 'Colour from photographs',
  past: 'coloured',
  stage: 'clean',
  version: 2,
  result: 'point-cloud',
  resultName: 'Coloured cloud',
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'cloud' },
    photos: {
      kind: 'photo-set',
      label: 'Photographs',
      flag: 'photos',
      reason: 'Folder or ZIP archive of JPEG files.',
    },
    positions: {
      kind: 'positions',
      label: 'Where they were taken',
      flag: 'positions',
      reason: 'Positions of events with attitude, or orientations of an adjusted block.',
    },
    cameras: { kind: 'cameras', label: 'Cameras', flag: 'cameras', reason: 'JSON.' },
    mounting: {
      kind: 'mounting',
      label: 'Mounting',
      none: 'none',
      flag: 'mount',
      reason: 'Where positions are not those of a camera: its lever arm and angles, and which way it looks.',
    },
  },
  settings: {
    proof: flag({
      label: 'Prove by edges',
      flagOff: 'no-proof',
      usual: true,
      reason: 'Edges of intensity against edges of each picture: a wrong lever arm or a late clock shows at once.',
    }),
    farthestM: number({
      label: 'Distance up to',
      flag: 'farthest',
      unit: 'm',
      min: 0,
      max: 20000,
      step: 10,
      usual: 0,
      reason: 'From the camera; farther pixels are larger than what they show. 0: no limit.',
    }),
  },
  command: {
    name: 'colour',
    what: 'a cloud with colours from oriented photographs',
    system: { flag: 'crs', reason: 'Of a cloud that names none, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'cloud', must: true, reason: 'Coloured cloud, LAS or LAZ, point format 7 or 8.' } },
    example: `npx longheron colour --cloud cloud.laz --photos photos --positions positions.csv --cameras cameras.json \\
           --out coloured.laz`,
  },
});
