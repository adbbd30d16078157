import { panel } from '../../panel';

export default panel({
  title: 'Files',
  what: 'Import files, give columns their meaning, edit marks and mounting',
  order: 10,
  component: () => import('./GatherPage.vue'),
});
