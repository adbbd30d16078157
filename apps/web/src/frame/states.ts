import { type StageState } from '@longheron/contract/api';

/** Class of the colour in which the state of a stage is shown. */
export const STATE_CLASS: Record<StageState, 'ok' | 'warn' | 'busy' | 'none'> = {
  done: 'ok',
  given: 'ok',
  'needs attention': 'warn',
  'out of date': 'warn',
  'in progress': 'busy',
  'nothing yet': 'none',
};
