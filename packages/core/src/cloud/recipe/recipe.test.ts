import { describe, expect, it } from 'vitest';
import { type FinderName } from '../finders';
import { type Selection } from '../selection';
import { parseRecipe, repeatable, stepWords, type RecipeStep } from '.';

const filter = { hiddenClasses: [], rejected: 'shown' as const };
const rows = (object: string, mode: 'add' | 'within' | 'subtract' = 'add'): Selection['regions'][number] => ({
  mode,
  shape: { kind: 'rows', object, name: 'found' },
});
const found = (object: string): { finder: FinderName; settings: Record<string, number> } | undefined =>
  object === 'a'
    ? { finder: 'groups' as const, settings: { gapM: 0.5, most: 50 } }
    : object === 'b'
      ? { finder: 'connected' as const, settings: { gapM: 0.5 } }
      : undefined;
const name = (c: number) => `class ${c}`;

describe('a selection for other clouds', () => {
  it('keeps finders and attributes, and heights above ground without the grid they were read from', () => {
    const selection: Selection = {
      regions: [rows('a'), rows('a', 'within')],
      inverted: true,
      filter: {
        ...filter,
        intensity: [0, 200],
        above: { object: 'f'.repeat(64), cellM: 0.5, minX: 0, minY: 0, columns: 3, rows: 2, rangeM: [0.5, 2] },
      },
    };
    expect(repeatable(selection, found)).toEqual({
      finds: [
        { mode: 'add', finder: 'groups', settings: { gapM: 0.5, most: 50 } },
        { mode: 'within', finder: 'groups', settings: { gapM: 0.5, most: 50 } },
      ],
      inverted: true,
      filter: { ...filter, intensity: [0, 200] },
      aboveM: [0.5, 2],
    });
  });

  it.each([
    ['drawn by hand', [{ mode: 'add', shape: { kind: 'plan', polygon: [0, 0, 1, 0, 1, 1] } }], {}],
    ['found from a point that was picked', [rows('b')], {}],
    ['how its points were found is not known any more', [rows('c')], {}],
    ['within a section', [rows('a')], { clip: { from: [0, 0], to: [1, 0], widthM: 1 } }],
  ])('says why there is none: %s', (why, regions, more) => {
    const selection = { regions, inverted: false, filter: { ...filter, ...more } } as Selection;
    expect(repeatable(selection, found)).toEqual({ why });
  });
});

describe('steps', () => {
  const steps: RecipeStep[] = [
    { kind: 'classify', settings: { method: 'cloth', noise: true, ground: true, things: false } },
    {
      kind: 'act',
      selection: {
        finds: [{ mode: 'add', finder: 'groups', settings: { gapM: 0.5, most: 50 } }],
        inverted: false,
        filter: { ...filter, echoes: ['last'] },
        aboveM: [1, 3],
      },
      act: { kind: 'reject' },
    },
    {
      kind: 'act',
      selection: { finds: [], inverted: true, filter: { ...filter, hiddenClasses: [7] } },
      act: { kind: 'class', to: 9 },
    },
  ];

  it('come back as they were written', () => {
    expect(parseRecipe(JSON.parse(JSON.stringify(steps)))).toEqual(steps);
  });

  it('are said in words', () => {
    expect(steps.map((s) => stepWords(s, name))).toEqual([
      'Find noise, ground by a cloth',
      'Isolated groups (apart by 0.5 m, points at most 50); echoes: last; 1 to 3 m above ground: reject',
      'All but all points; not class 7: to class 9',
    ]);
  });

  const act = steps[1] as Extract<RecipeStep, { kind: 'act' }>;
  it.each([
    [[], /list of steps/],
    [[{ kind: 'dance' }], /Step 1 .*classify or act/],
    [[steps[0], { ...act, act: { kind: 'class', to: 300 } }], /act/],
    [[{ ...act, selection: { ...act.selection, finds: [{ mode: 'add', finder: 'toString' }] } }], /finder/],
    [[{ ...act, selection: { ...act.selection, finds: [{ mode: 'add', finder: 'connected' }] } }], /picked/],
    [
      [{ ...act, selection: { ...act.selection, finds: [{ mode: 'add', finder: 'groups', settings: { gapM: -1 } }] } }],
      /between/,
    ],
    [[{ ...act, selection: { ...act.selection, filter: { rejected: 'perhaps', hiddenClasses: [] } } }], /rejected/],
    [[{ ...act, selection: { ...act.selection, aboveM: [1] } }], /aboveM/],
    [[{ kind: 'classify', settings: { method: { deep: 1 } } }], /method/],
  ])('that cannot be are refused (%#)', (json, message) => {
    expect(() => parseRecipe(json)).toThrow(message);
  });
});
