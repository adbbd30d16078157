import { number, operation, text } from '../declare';

export default operation({
  name: 'match',
  title: 'Make a cloud from photographs',
  past: 'made',
  stage: 'place',
  version: 1,
  result: 'point-cloud',
  resultName: 'Cloud from photographs',
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
    outlines: {
      kind: 'outlines',
      label: 'Area',
      none: 'all that the photographs show',
      flag: 'area',
      reason: 'GeoJSON; nothing is made beside it.',
    },
  },
  settings: {
    corners: text({
      label: 'West, south, east, north',
      flag: 'corners',
      most: 120,
      usual: '',
      reason: 'Metres in the system of the project, with commas between. Empty: the whole area.',
    }),
    heights: text({
      label: 'Lowest, highest',
      flag: 'heights',
      most: 60,
      usual: '',
      reason:
        'Heights between which things lie, metres, as -5, 40. Empty: those of the points of the block, and some beyond.',
    }),
    cellM: number({
      label: 'Cell',
      flag: 'cell',
      unit: 'm',
      min: 0,
      max: 1000,
      step: 0.01,
      digits: 3,
      usual: 0,
      reason: 'One point a cell. 0: as large as a pixel on the ground.',
    }),
    shrink: number({
      label: 'Pixels taken as one',
      flag: 'shrink',
      unit: '',
      min: 1,
      max: 8,
      step: 1,
      usual: 1,
      reason: 'Along each side: 2 takes a quarter of the time and doubles the deviations.',
    }),
  },
  refuse: (s) => {
    const numbers = (v: unknown) =>
      String(v ?? '')
        .split(',')
        .map((w) => (w.trim() === '' ? Number.NaN : Number(w)));
    if (String(s.corners ?? '').trim()) {
      const [w, so, e, n, ...more] = numbers(s.corners);
      if (more.length || !(w < e && so < n))
        return 'Corners are west, south, east, north: four numbers, west before east.';
    }
    if (String(s.heights ?? '').trim()) {
      const [low, high, ...more] = numbers(s.heights);
      if (more.length || !(low < high)) return 'Heights are two numbers, the lower one first.';
    }
    return undefined;
  },
  command: {
    name: 'match',
    what: 'a coloured cloud from oriented photographs, where pairs of them agree',
    system: { flag: 'crs', reason: 'Of the cloud, e.g. EPSG:25832+5773.' },
    files: {
      out: { file: 'cloud', must: true, reason: 'LAS or LAZ, point format 7, with deviations as extra bytes.' },
    },
    example: `npx longheron match --photos photos --oriented oriented.csv --cameras adjusted.json --crs EPSG:25832+5773 \\
           --corners 467000,6215200,467150,6215350 --heights=-5,40 --out cloud.laz`,
  },
});
