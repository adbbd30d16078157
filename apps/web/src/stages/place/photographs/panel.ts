import { panel } from '../../panel';

export default panel({
  title: 'Photographs',
  what: 'Orient photographs together, with their cameras, and prove them at marks and distances',
  order: 30,
  operations: ['block'],
  kinds: ['picks', 'photo-set'],
  component: () => import('./PhotographsPage.vue'),
});
