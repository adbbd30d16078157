import { choice } from '../../declare';

/** Unit of the angles of a job whose file does not state it. */
export const angularUnit = choice({
  label: 'Unit of angles',
  flag: 'angular-unit',
  choices: {
    stated: 'as the file says',
    degrees: 'decimal degrees',
    'dd.mmss': 'degrees, minutes, seconds (dd.mmss)',
    grads: 'gon',
    radians: 'radians',
  },
  usual: 'stated',
  reason: 'Only where the file does not state it.',
});
