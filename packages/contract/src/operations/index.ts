import { type Declaration, type Given, type Setting } from '../declare';
import { OPERATIONS } from './index.generated';

export { OPERATIONS };
export { SENSOR_ROLE } from './events';

/** An operation of the trail; each is a file of this folder. */
export type Operation = keyof typeof OPERATIONS;
export type DeclarationOf<N extends Operation> = (typeof OPERATIONS)[N];

export const OPERATION_NAMES = Object.keys(OPERATIONS) as Operation[];
export const isOperation = (name: string): name is Operation => name in OPERATIONS;
/** The declaration of an operation by its name; undefined for jobs that are none, such as taking a file in. */
export const operationOf = (name: string): Declaration | undefined =>
  isOperation(name) ? OPERATIONS[name] : undefined;

/** Jobs that are no operation, in the trail. */
const OTHERS: { [madeBy: string]: string } = { intake: 'imported', edit: 'edited by hand', recipe: 'a recipe done' };

/** How a revision was made, in the past tense. */
export const pastOf = (madeBy: string): string => OTHERS[madeBy] ?? operationOf(madeBy)?.past ?? madeBy;

/** A setting's value as people read it; undefined for what says nothing. */
function valueWords(s: Setting, value: unknown): string | undefined {
  switch (s.type) {
    case 'number':
      return typeof value === 'number' ? `${value}${s.unit ? ` ${s.unit}` : ''}` : undefined;
    case 'flag':
      return value ? 'yes' : 'no';
    case 'choice':
      return s.choices[String(value)] ?? String(value);
    case 'values':
      return Array.isArray(value) && value.length ? value.join(' ') : undefined;
    case 'list':
      return Array.isArray(value) && value.length ? String(value.length) : undefined;
    case 'own':
      return 'as chosen';
    case 'text':
      return value === '' ? undefined : String(value);
  }
}

/** Settings of a run by their labels, with units; what belongs to the run alone is left out. */
export function settingWords(madeBy: string, settings: Given): string[] {
  const schema = operationOf(madeBy)?.settings ?? {};
  return Object.entries(settings).flatMap(([key, value]) => {
    const setting = schema[key];
    if (!setting || value === null || value === undefined) return [];
    const words = valueWords(setting, value);
    return words === undefined ? [] : [`${setting.label}: ${words}`];
  });
}
