import { panel } from '../../panel';

export default panel({
  title: 'Side-scan',
  what: 'A mosaic of side-scan lines, with the first return from the bed tracked',
  order: 27,
  operations: ['sidescan'],
  kinds: ['sonar'],
  component: () => import('./SidescanPage.vue'),
});
