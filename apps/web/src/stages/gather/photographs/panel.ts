import { panel } from '../../panel';

export default panel({
  title: 'Photographs',
  what: 'Photographs with their cameras, and where they were taken',
  order: 15,
  operations: ['exif-positions'],
  kinds: ['photo-set'],
  component: () => import('./PhotographsIntake.vue'),
});
