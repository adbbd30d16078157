import { COVERAGE_DEFAULTS } from '@longheron/core/accuracy';
import { flag, number, operation, text } from '../declare';

export default operation({
  name: 'coverage',
  title: 'Measure density and voids',
  past: 'measured',
  stage: 'prove',
  version: 1,
  result: 'coverage',
  resultName: 'Coverage',
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'cloud' },
    outlines: {
      ...{ kind: 'outlines', label: 'Ordered area', none: 'where the points are, gaps closed', flag: 'area' },
      reason: 'GeoJSON.',
    },
  },
  settings: {
    cellM: number({
      ...{ label: 'Cell', flag: 'cell', unit: 'm', min: 0.1, max: 100, step: 0.5, digits: 2 },
      ...{ usual: COVERAGE_DEFAULTS.cellM, reason: 'Voids narrower than it are not seen.' },
    }),
    targetPerM2: number({
      ...{ label: 'Wanted density', flag: 'density', unit: 'points/m²', min: 0.01, max: 100000, step: 10, digits: 2 },
      ...{ usual: COVERAGE_DEFAULTS.targetPerM2 },
      reason: 'On the surface: a bank needs more points than its plan shows.',
    }),
    fewest: number({
      ...{ label: 'Fewest points', flag: 'fewest', unit: '', min: 1, max: 10000, whole: true, step: 1 },
      ...{ usual: COVERAGE_DEFAULTS.fewest, reason: 'Of a cell that counts as covered.', shown: () => false },
    }),
    leastVoidM2: number({
      ...{ label: 'Minimum void area', flag: 'least-void', unit: 'm²', min: 0, max: 1e6, step: 1, digits: 1 },
      ...{ usual: COVERAGE_DEFAULTS.leastVoidM2, reason: 'A parked car hides about 8 m².' },
    }),
    closeM: number({
      ...{ label: 'Gaps closed, half width', flag: 'close', unit: 'm', min: 0, max: 200, step: 1, digits: 1 },
      ...{ usual: COVERAGE_DEFAULTS.closeM, reason: 'Wider gaps are taken as the outside.' },
      shown: (_s, chosen) => !chosen.outlines,
    }),
    groundOnly: flag({
      ...{ label: 'Ground points only', flag: 'ground-only', usual: false },
      reason: 'Leaves everything but class 2 out.',
    }),
    area: text({
      ...{ label: 'Of its areas', flag: 'name', most: 120, usual: null, shown: () => false },
      reason: 'Name of the area in the file; all of its areas without it.',
    }),
  },
  command: {
    name: 'coverage',
    what: 'density, voids and stated precision within an ordered area',
    system: { flag: 'crs', reason: 'System of the cloud, for an area in another one.' },
    files: { csv: { file: 'voids', aside: true, reason: 'Voids as a table.' } },
    example: 'npx longheron coverage --cloud cloud.las --area demo/area_of_work.geojson --density 100',
  },
  chapter: 40,
});
