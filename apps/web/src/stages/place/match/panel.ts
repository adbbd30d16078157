import { panel } from '../../panel';

export default panel({
  title: 'Cloud from photographs',
  what: 'Match oriented photographs pair by pair to a coloured cloud with deviations',
  order: 50,
  operations: ['match'],
  kinds: ['block'],
  component: () => import('./MatchPage.vue'),
});
