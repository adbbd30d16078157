import { panel } from '../../panel';

export default panel({
  title: 'Recipes',
  what: 'Do to another cloud what was done to one',
  order: 40,
  component: () => import('./Recipes.vue'),
});
