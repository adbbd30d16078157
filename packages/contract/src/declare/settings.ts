/**
 * Settings as plain data: from one declaration come their types, the validator, the usual values, the form, and the
 * flags of the command line. Types cannot be inferred from decorators, so the schema comes first.
 */

/** Settings as a request or a file holds them, before they are checked. */
export type Given = { readonly [key: string]: unknown };
type Draft = { -readonly [K in keyof Given]: Given[K] };

interface Text {
  /** Name in forms, messages and the trail. */
  label: string;
  /** What it does, or why the usual value is what it is: one sentence. */
  reason: string;
  /** Name on the command line, without the dashes; none: it is not offered there. */
  flag?: string;
  /** Whether it stands in the form, by the settings so far and the roles that are filled. */
  shown?: (settings: Given, chosen: { readonly [role: string]: boolean }) => boolean;
}

/** A number between two, ends counted in; `usual` null: it may be left out. */
export interface NumberSetting extends Text {
  type: 'number';
  /** '' for plain numbers. */
  unit: string;
  min: number;
  max: number;
  whole?: true;
  /** Of the buttons beside the field, and decimals shown. */
  step?: number;
  digits?: number;
  usual: number | null;
}

export interface ChoiceSetting extends Text {
  type: 'choice';
  /** Words by value. */
  choices: { readonly [value: string]: string };
  /** A flag of the command line that stands for one of the values. */
  switches?: { readonly [flag: string]: string };
  usual: string | null;
}

export interface FlagSetting extends Text {
  type: 'flag';
  /** A flag of the command line that says no. */
  flagOff?: string;
  /** Null: it follows from something else. */
  usual: boolean | null;
}

export interface TextSetting extends Text {
  type: 'text';
  most: number;
  pattern?: RegExp;
  /** What it looks like, for messages. */
  like?: string;
  least?: number;
  usual: string | null;
}

/** Several rows of settings. */
export interface ListSetting extends Text {
  type: 'list';
  of: Schema;
  least: number;
  most: number;
  /** Says what is missing when there are too few. */
  fewer: string;
}

/** Several numbers or words. */
export interface ValuesSetting extends Text {
  type: 'values';
  of: NumberSetting | TextSetting;
  least: number;
  most: number;
}

/** What no schema can say: read by a function that throws a Problem; the form has a slot for it. */
export interface OwnSetting<T = unknown> extends Text {
  type: 'own';
  read: (given: unknown) => T;
}

export type Setting =
  NumberSetting | ChoiceSetting | FlagSetting | TextSetting | ListSetting | ValuesSetting | OwnSetting;

export interface Schema {
  readonly [key: string]: Setting;
}

type Value<S> = S extends { type: 'number'; usual: infer U }
  ? null extends U
    ? number | undefined
    : number
  : S extends { type: 'flag'; usual: infer U }
    ? null extends U
      ? boolean | undefined
      : boolean
    : S extends { type: 'choice'; choices: infer C; usual: infer U }
      ? null extends U
        ? (keyof C & string) | undefined
        : keyof C & string
      : S extends { type: 'text'; usual: infer U }
        ? null extends U
          ? string | undefined
          : string
        : S extends { type: 'list'; of: infer O extends Schema }
          ? Array<SettingsOf<O>>
          : S extends { type: 'values'; of: { type: 'number' } }
            ? number[]
            : S extends { type: 'values' }
              ? string[]
              : S extends OwnSetting<infer T>
                ? T
                : never;

/** Settings that are checked and complete. */
export type SettingsOf<S extends Schema> = { [K in keyof S]: Value<S[K]> };

export const number = <const T extends Omit<NumberSetting, 'type'>>(s: T) => ({ ...s, type: 'number' as const });
export const flag = <const T extends Omit<FlagSetting, 'type'>>(s: T) => ({ ...s, type: 'flag' as const });
export const text = <const T extends Omit<TextSetting, 'type'>>(s: T) => ({ ...s, type: 'text' as const });
export const list = <const T extends Omit<ListSetting, 'type'>>(s: T) => ({ ...s, type: 'list' as const });
export const values = <const T extends Omit<ValuesSetting, 'type'>>(s: T) => ({ ...s, type: 'values' as const });
export const own = <T>(s: Omit<OwnSetting<T>, 'type'>) => ({ ...s, type: 'own' as const });
export const choice = <const C extends { readonly [value: string]: string }, const U extends (keyof C & string) | null>(
  s: Text & { choices: C; usual: U; switches?: { readonly [flag: string]: keyof C & string } },
) => ({ ...s, type: 'choice' as const });

/** The usual value of each setting that has one. */
export function usualOf<S extends Schema>(schema: S): Given {
  const out: Draft = {};
  for (const [key, s] of Object.entries(schema)) {
    if (s.type === 'list' || s.type === 'values') out[key] = [];
    else if (s.type !== 'own' && s.usual !== null) out[key] = s.usual;
  }
  return out;
}

/** Given settings over the usual ones; what is null or absent has the usual value. They must have been checked. */
export function complete<S extends Schema>(schema: S, given: Given): SettingsOf<S> {
  const out: Draft = { ...usualOf(schema) };
  for (const [key, value] of Object.entries(given))
    if (value !== null && value !== undefined && key in schema) {
      const s = schema[key];
      if (s.type === 'own') out[key] = s.read(value);
      else if (s.type === 'list' && Array.isArray(value)) out[key] = value.map((row: Given) => complete(s.of, row));
      else out[key] = value;
    }
  return out as SettingsOf<S>;
}
