import 'reflect-metadata';
import { plainToInstance, Type, type ClassConstructor } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsDefined,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  registerDecorator,
  ValidateNested,
  validateSync,
  type ValidationError,
} from 'class-validator';
import { type Declaration } from './operation';
import { type Given, type NumberSetting, type Schema, type Setting, type TextSetting } from './settings';

/** What is wrong with a body or with settings: the field at fault, and a sentence for the person. */
export interface Fault {
  field: string;
  message: string;
}

type Rule = (target: object, key: string) => void;

const commas = (words: readonly string[]) =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} or ${words[words.length - 1]}`;

/** The sentence that says between which ends a number lies; server, form and command line say the same. */
export function rangeSentence({ label, min, max, unit, whole }: NumberSetting): string {
  const ends = `between ${min} and ${max}${unit ? ` ${unit}` : ''}`;
  return `${label} must be ${whole ? 'a whole number ' : ''}${ends}.`;
}

function numberRules(s: NumberSetting, each: boolean): Rule[] {
  const how = { message: rangeSentence(s), each };
  return [s.whole ? IsInt(how) : IsNumber({}, how), Min(s.min, how), Max(s.max, how)];
}

function textRules(s: TextSetting, each: boolean): Rule[] {
  const { label, least = 0, most, pattern, like } = s;
  const long = least > 0 ? `${least} to ${most}` : `at most ${most}`;
  const plain = { message: `${label} must be text of ${long} characters.`, each };
  return [
    IsString(plain),
    MaxLength(most, plain),
    ...(least ? [MinLength(least, plain)] : []),
    ...(pattern
      ? [Matches(pattern, { message: `${label} must be written like ${like ?? pattern.source}.`, each })]
      : []),
  ];
}

/** Reads by the setting's own function; its message is the sentence. */
function readBy(read: (given: unknown) => unknown): Rule {
  const messageOf = (value: unknown): string => {
    try {
      read(value);
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  return (target, propertyName) =>
    registerDecorator({
      name: 'own',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value) => messageOf(value) === '',
        defaultMessage: (args) => messageOf(args?.value),
      },
    });
}

function rulesOf(s: Setting): Rule[] {
  switch (s.type) {
    case 'number':
      return [IsOptional(), ...numberRules(s, false)];
    case 'text':
      return [IsOptional(), ...textRules(s, false)];
    case 'flag':
      return [IsOptional(), IsBoolean({ message: `${s.label} must be yes or no.` })];
    case 'choice': {
      const known = Object.keys(s.choices);
      return [IsOptional(), IsIn(known, { message: `${s.label} must be ${commas(known)}.` })];
    }
    case 'values': {
      const many = { message: `${s.label}: at least ${s.least} and at most ${s.most} are taken.` };
      const each = s.of.type === 'number' ? numberRules(s.of, true) : textRules(s.of, true);
      return [IsOptional(), IsArray(many), ArrayMaxSize(s.most, many), ...each];
    }
    case 'list': {
      const Row = classOf(s.of);
      return [
        ...(s.least === 0 ? [IsOptional()] : [IsDefined({ message: s.fewer })]),
        IsArray({ message: s.fewer }),
        ArrayMinSize(s.least, { message: s.fewer }),
        ArrayMaxSize(s.most, { message: `${s.label}: at most ${s.most} are taken.` }),
        ValidateNested({ each: true }),
        Type(() => Row) as Rule,
      ];
    }
    case 'own':
      return [IsDefined({ message: `${s.label} is missing.` }), readBy(s.read)];
  }
}

const classes = new WeakMap<Schema, ClassConstructor<object>>();

/** The class-validator class of a schema, made once. */
export function classOf(schema: Schema): ClassConstructor<object> {
  const known = classes.get(schema);
  if (known) return known;
  const Made = class {};
  for (const [key, setting] of Object.entries(schema)) for (const rule of rulesOf(setting)) rule(Made.prototype, key);
  classes.set(schema, Made);
  return Made;
}

/** The first sentence among errors, those of rows within lists included. */
function firstFault(errors: ValidationError[], above = ''): Fault {
  const [first] = errors;
  const field = above + first.property;
  if (first.constraints) {
    const { whitelistValidation, ...rules } = first.constraints;
    const said = Object.values(rules)[0];
    return { field, message: said ?? (whitelistValidation ? `There is no setting "${first.property}".` : '') };
  }
  if (first.children?.length) return firstFault(first.children, `${field}.`);
  return { field, message: `${field} is not valid.` };
}

/** Validates a plain body. @returns the instance, or the first sentence and field at fault. */
export function check<T extends object>(type: ClassConstructor<T>, body: unknown): { value: T } | Fault {
  const given = body ?? {};
  // a list of nothing has no field that could be wrong
  if (typeof given !== 'object' || Array.isArray(given)) return { field: '', message: 'An object is needed.' };
  const value = plainToInstance(type, given);
  const errors = validateSync(value, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: false });
  return errors.length === 0 ? { value } : firstFault(errors);
}

/** What is wrong with settings, by their schema and the rule across them; undefined when nothing is. */
export function faultOf(
  { settings, refuse }: Pick<Declaration, 'settings' | 'refuse'>,
  given: Given,
  chosen: { readonly [role: string]: number } = {},
): Fault | undefined {
  const checked = check(classOf(settings), given);
  if ('message' in checked) return checked;
  const message = refuse?.(given, chosen);
  return message ? { field: '', message } : undefined;
}
