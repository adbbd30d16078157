import { panel } from '../../panel';

export default panel({
  title: 'Orthophoto',
  what: 'A picture in plan from oriented photographs and a surface',
  order: 20,
  operations: ['ortho'],
  kinds: ['block'],
  component: () => import('./OrthophotoPage.vue'),
});
