import { panel } from '../../panel';

export default panel({
  title: 'Files',
  what: 'Take in files, give columns their meaning, edit marks and mounting',
  order: 10,
  component: () => import('./GatherPage.vue'),
});
