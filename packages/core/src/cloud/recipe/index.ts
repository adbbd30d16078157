/** Recipes: what was done to one cloud, in a form that can be done to others. */
import { Problem } from '../../shared/problem';
import { type EditAct } from '../edits';
import { FINDERS, finderSettings, type FinderName } from '../finders';
import { parseAct, parseSelection, type Selection, type SelectionFilter, type SelectionRegion } from '../selection';

/** What a finder found, as it was used in a selection. */
export interface RecipeFind {
  mode: SelectionRegion['mode'];
  finder: FinderName;
  settings: Record<string, number>;
}

/** A selection that says which points are meant without naming any place: by finders and by attributes. */
export interface RepeatableSelection {
  /** None: all points that the filter lets through. */
  finds: RecipeFind[];
  inverted: boolean;
  filter: Omit<SelectionFilter, 'above' | 'clip'>;
  /** Heights above the ground of each cloud that count, metres. */
  aboveM?: [number, number];
}

export type RecipeStep =
  /** Strays, ground and what stands on it; the settings are those of the operation of that name. */
  | { kind: 'classify'; settings: Record<string, number | string | boolean> }
  | { kind: 'act'; selection: RepeatableSelection; act: EditAct };

export const MAX_STEPS = 100;

/**
 * A selection in a form for other clouds, or why there is none: what was drawn means places of one cloud.
 * @param found the finder that found the rows of an object of the store.
 */
export function repeatable(
  selection: Selection,
  found: (object: string) => { finder: FinderName; settings: Record<string, number> } | undefined,
): RepeatableSelection | { why: string } {
  const finds: RecipeFind[] = [];
  for (const { mode, shape } of selection.regions) {
    if (shape.kind !== 'rows') return { why: 'drawn by hand' };
    const by = found(shape.object);
    if (!by) return { why: 'how its points were found is not known any more' };
    if (FINDERS[by.finder].needs === 'point') return { why: 'found from a point that was picked' };
    finds.push({ mode, ...by });
  }
  const { above, clip, ...filter } = selection.filter;
  if (clip) return { why: 'within a section' };
  return { finds, inverted: selection.inverted, filter, ...(above ? { aboveM: above.rangeM } : {}) };
}

function wrong(place: string, needed: string): Problem {
  return new Problem(`${place} of the recipe must be ${needed}.`, {
    code: 'recipe',
    place,
    remedy: 'Make the recipe again from a cloud.',
  });
}

/** Reads the steps of a recipe as they come from outside. @throws Problem that names the step and member at fault. */
export function parseRecipe(json: unknown): RecipeStep[] {
  if (!Array.isArray(json) || json.length === 0 || json.length > MAX_STEPS)
    throw wrong('The list of steps', `one of 1 to ${MAX_STEPS}`);
  return json.map((value, i): RecipeStep => {
    const at = `Step ${i + 1}`;
    if (typeof value !== 'object' || value === null) throw wrong(at, 'an object');
    const s = value as Record<string, unknown>;
    if (s.kind === 'classify') return { kind: 'classify', settings: plainSettings(s.settings, at) };
    if (s.kind !== 'act') throw wrong(at, 'of kind classify or act');
    return { kind: 'act', selection: selectionOf(s.selection, at), act: parseAct(s.act) };
  });
}

function plainSettings(value: unknown, at: string): Record<string, number | string | boolean> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw wrong(`${at}, settings`, 'an object');
  for (const [key, v] of Object.entries(value))
    if (!['number', 'string', 'boolean'].includes(typeof v) || (typeof v === 'number' && !Number.isFinite(v)))
      throw wrong(`${at}, ${key}`, 'a number, a word, or yes or no');
  return { ...value } as Record<string, number | string | boolean>;
}

function selectionOf(value: unknown, at: string): RepeatableSelection {
  if (typeof value !== 'object' || value === null) throw wrong(`${at}, selection`, 'an object');
  const s = value as Record<string, unknown>;
  if (!Array.isArray(s.finds) || s.finds.length > 50) throw wrong(`${at}, finds`, 'a list of at most 50');
  const finds = s.finds.map((f): RecipeFind => {
    const { mode, finder, settings } = (f ?? {}) as Record<string, unknown>;
    if (mode !== 'add' && mode !== 'subtract' && mode !== 'within')
      throw wrong(`${at}, mode`, 'add, subtract or within');
    if (typeof finder !== 'string' || !Object.hasOwn(FINDERS, finder))
      throw wrong(`${at}, finder`, 'one that is known');
    const name = finder as FinderName;
    if (FINDERS[name].needs === 'point') throw wrong(`${at}, finder`, 'one that needs no picked point');
    return { mode, finder: name, settings: finderSettings(name, (settings ?? {}) as Record<string, unknown>) };
  });
  const { filter } = parseSelection({ regions: [], inverted: false, filter: s.filter });
  if (filter.above || filter.clip) throw wrong(`${at}, filter`, 'one that names no place');
  let aboveM: [number, number] | undefined;
  if (s.aboveM !== undefined) {
    const a = s.aboveM as [number, number];
    if (!Array.isArray(a) || a.length !== 2 || !a.every((v) => Number.isFinite(v)))
      throw wrong(`${at}, aboveM`, 'two numbers');
    aboveM = [a[0], a[1]];
  }
  return { finds, inverted: s.inverted === true, filter, ...(aboveM ? { aboveM } : {}) };
}

const MODE_WORDS = { add: '', subtract: 'without ', within: 'of these ' };
const range = ([a, b]: [number, number], unit: string) => `${a} to ${b} ${unit}`.trim();

/** What a filter lets through, in words; empty when all. */
function filterWords({ filter, aboveM }: RepeatableSelection, className: (c: number) => string): string[] {
  const hidden = filter.hiddenClasses;
  const shown = 256 - hidden.length;
  const classes = Array.from({ length: 256 }, (_, c) => c).filter((c) => !hidden.includes(c));
  return [
    ...(hidden.length === 0
      ? []
      : [
          shown <= 6
            ? `only ${classes.map(className).join(', ')}`
            : `not ${hidden.slice(0, 8).map(className).join(', ')}`,
        ]),
    ...(filter.rejected === 'only' ? ['only rejected'] : filter.rejected === 'hidden' ? ['not rejected'] : []),
    ...(filter.time ? [`GPS time ${range(filter.time, 's')}`] : []),
    ...(filter.strips ? [`strips ${filter.strips.join(', ')}`] : []),
    ...(filter.intensity ? [`intensity ${range(filter.intensity, '')}`] : []),
    ...(filter.echoes ? [`echoes: ${filter.echoes.join(', ')}`] : []),
    ...(filter.sdMostM === undefined ? [] : [`1 SD of height up to ${filter.sdMostM} m`]),
    ...(filter.heightM ? [`heights ${range(filter.heightM, 'm')}`] : []),
    ...(aboveM ? [`${range(aboveM, 'm')} above ground`] : []),
  ];
}

/** A step in words. @param className name of a class in the project. */
export function stepWords(step: RecipeStep, className: (c: number) => string): string {
  if (step.kind === 'classify') {
    const s = step.settings;
    const what = [
      ...(s.noise === false ? [] : ['noise']),
      ...(s.ground === false ? [] : [`ground by ${s.method === 'cloth' ? 'a cloth' : 'triangles'}`]),
      ...(s.ground === false || s.things === false ? [] : ['what stands on it']),
    ];
    return `Find ${what.join(', ')}`;
  }
  const { selection, act } = step;
  const words = selection.finds.map(({ mode, finder, settings }) => {
    const plan = FINDERS[finder];
    const values = plan.settings.map((s) => `${s.label.toLowerCase()} ${settings[s.key]}${s.unit ? ` ${s.unit}` : ''}`);
    return `${MODE_WORDS[mode]}${plan.title.toLowerCase()}${values.length ? ` (${values.join(', ')})` : ''}`;
  });
  const what = words.length ? words.join(', ') : 'all points';
  const filter = filterWords(selection, className);
  const done = act.kind === 'class' ? `to ${className(act.to)}` : act.kind === 'reject' ? 'reject' : 'take back';
  return `${selection.inverted ? `all but ${what}` : what}${filter.length ? `; ${filter.join('; ')}` : ''}: ${done}`.replace(
    /^./,
    (c) => c.toUpperCase(),
  );
}
