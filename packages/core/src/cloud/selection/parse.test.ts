import { describe, expect, it } from 'vitest';
import { parseSelection } from './parse';

const FILTER = { hiddenClasses: [7, 18], rejected: 'hidden' };
const LINE = { from: [0, 0], to: [10, 0], widthM: 2 };
const TRIANGLE = [0, 0, 1, 0, 0, 1];
const SHA = 'a'.repeat(64);
const of = (shape: unknown, mode: unknown = 'add') => ({ regions: [{ mode, shape }], inverted: false, filter: FILTER });
const filtered = (more: object) => ({ regions: [], inverted: false, filter: { ...FILTER, ...more } });

const RIGHT: Array<[string, object]> = [
  ['nothing but a filter', filtered({})],
  ['a polygon on the screen', of({ kind: 'view', matrix: Array(16).fill(0.5), polygon: TRIANGLE })],
  ['a polygon in plan', of({ kind: 'plan', polygon: TRIANGLE })],
  ['one between heights', of({ kind: 'plan', polygon: TRIANGLE, heightM: [1, 2] }, 'within')],
  ['a polygon in a section', of({ kind: 'section', line: LINE, polygon: TRIANGLE }, 'subtract')],
  ['a brush', of({ kind: 'brush', line: LINE, path: [1, 2], alongM: 0.1, heightM: 0.2 })],
  ['rows', of({ kind: 'rows', object: SHA, name: 'found' })],
  ['times, strips, echoes', filtered({ time: [1, 2], strips: [1, 2], echoes: ['single', 'last'] })],
  ['limits', filtered({ intensity: [0, 9], sdMostM: 0.02, heightM: [-1, 1], clip: LINE })],
  [
    'heights above ground',
    filtered({ above: { object: SHA, cellM: 1, minX: -5, minY: 0, columns: 4, rows: 3, rangeM: [0.1, 2] } }),
  ],
];

/** What is wrong, and the place that is named. */
const WRONG: Array<[string, unknown, string]> = [
  ['no selection', 'all', 'selection'],
  ['no selection', null, 'selection'],
  ['a list', [], 'selection'],
  ['no regions', { filter: FILTER }, 'regions'],
  ['too many regions', { regions: Array(501).fill({}), filter: FILTER }, 'regions'],
  ['no filter', { regions: [] }, 'filter'],
  ['another mode', of({ kind: 'plan', polygon: TRIANGLE }, 'xor'), 'regions[0].mode'],
  ['no shape', of(undefined), 'regions[0].shape'],
  ['another kind', of({ kind: 'sphere' }), 'regions[0].shape.kind'],
  ['a short matrix', of({ kind: 'view', matrix: [1], polygon: TRIANGLE }), 'regions[0].shape.matrix'],
  ['two corners', of({ kind: 'plan', polygon: [0, 0, 1, 1] }), 'regions[0].shape.polygon'],
  ['half a corner', of({ kind: 'plan', polygon: [...TRIANGLE, 5] }), 'regions[0].shape.polygon'],
  ['a corner that is no number', of({ kind: 'plan', polygon: [0, 0, 1, 0, 0, NaN] }), 'regions[0].shape.polygon'],
  ['one height', of({ kind: 'plan', polygon: TRIANGLE, heightM: [1] }), 'regions[0].shape.heightM'],
  ['a line without width', of({ kind: 'section', line: { ...LINE, widthM: 0 }, polygon: TRIANGLE }), 'widthM'],
  ['a line without an end', of({ kind: 'section', line: { from: [0, 0], widthM: 1 }, polygon: TRIANGLE }), 'line.to'],
  ['an odd path', of({ kind: 'brush', line: LINE, path: [1, 2, 3], alongM: 1, heightM: 1 }), 'path'],
  ['a brush of no size', of({ kind: 'brush', line: LINE, path: [1, 2], alongM: -1, heightM: 1 }), 'alongM'],
  ['rows of a path', of({ kind: 'rows', object: '../../etc/passwd' }), 'regions[0].shape.object'],
  ['classes in words', filtered({ hiddenClasses: ['noise'] }), 'filter.hiddenClasses'],
  ['rejected in another way', filtered({ rejected: true }), 'filter.rejected'],
  ['half a span', filtered({ time: [1] }), 'filter.time'],
  ['another echo', filtered({ echoes: ['second'] }), 'filter.echoes'],
  ['no precision', filtered({ sdMostM: 0 }), 'filter.sdMostM'],
  ['ground of a path', filtered({ above: { object: 'x', minX: 0, minY: 0 } }), 'filter.above.object'],
];

describe('a selection from outside', () => {
  it.each(RIGHT)('is taken as it is: %s', (_what, json) => {
    expect(parseSelection(json)).toEqual(json);
  });
  it.each(WRONG)('is refused by the place at fault: %s', (_what, json, place) => {
    let said: unknown;
    try {
      parseSelection(json);
    } catch (error) {
      said = error;
    }
    expect(said).toMatchObject({ code: 'selection', place: expect.stringContaining(place) });
  });
  it('is inverted only by yes, and keeps a name short', () => {
    expect(parseSelection({ ...filtered({}), inverted: 'yes' }).inverted).toBe(false);
    const [{ shape }] = parseSelection(of({ kind: 'rows', object: SHA, name: 'n'.repeat(500) })).regions;
    expect(shape).toMatchObject({ name: 'n'.repeat(120) });
  });
});
