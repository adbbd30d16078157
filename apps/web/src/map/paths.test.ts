import { describe, expect, it } from 'vitest';
import { type Style } from 'ol/style';
import { contourStyler } from './contours';
import { pathFeatures } from './paths';
import { sectionFeatures } from './section';

const path = {
  eastingM: [0, 1, 2, 3],
  northingM: [0, 0, 0, 0],
  time: [10, 11, 12, 13],
  value: [0, 0.1, 0.9, 0],
};
const colours = (...args: Parameters<typeof pathFeatures>) =>
  pathFeatures(...args).map((f) => (f.getStyle() as Style).getStroke()!.getColor());
const GREY = '#d3ddde';

describe('a line on the map', () => {
  it('is grey outside the brush, and where it does not count', () => {
    expect(colours(path, undefined, undefined, null)).toEqual(['#0e5e66', '#0e5e66', '#0e5e66']);
    expect(colours(path, undefined, undefined, [11, 12])).toEqual([GREY, '#0e5e66', GREY]);
    expect(colours(path, undefined, [[10, 11]], null)).toEqual(['#0e5e66', GREY, GREY]);
    // a span may be a tenth of a second short
    expect(colours(path, undefined, [[10.05, 10.95]], null)[0]).toBe('#0e5e66');
  });
  it('has in each piece the colour of its worst value', () => {
    const [a, b, c] = colours(path, [0, 1], undefined, null);
    expect(b).toBe(c);
    expect(a).not.toBe(b);
  });
  it('is drawn in at most five thousand pieces', () => {
    const n = 20_001;
    const of = (f: (i: number) => number) => Array.from({ length: n }, (_, i) => f(i));
    const long = { eastingM: of((i) => i), northingM: of(() => 0), time: of((i) => i) };
    expect(pathFeatures(long, undefined, undefined, null).length).toBeLessThanOrEqual(5000);
  });
});

it('draws a section with its width to both sides', () => {
  const [box, axis] = sectionFeatures({ from: [0, 0], to: [30, 40], widthM: 10 });
  expect(axis.getGeometry()!.getExtent()).toEqual([0, 0, 30, 40]);
  // five metres along (−0.8, 0.6) and back
  expect(box.getGeometry()!.getExtent()).toEqual([-4, -3, 34, 43]);
});

it('writes heights of index contours in the unit of the project', () => {
  const style = {
    name: 'x',
    colour: '#111',
    widthPx: 1,
    indexColour: '#222',
    indexWidthPx: 2,
    heights: true,
    decimals: 1,
  };
  const of = contourStyler(style, 1 / 0.3048);
  const feature = (index: boolean) => ({ get: (k: string) => (k === 'index' ? index : 3.048) }) as never;
  expect(of(feature(true)).getText()!.getText()).toBe('10.0');
  expect(of(feature(false)).getText()).toBeNull();
  expect(of(feature(false)).getStroke()!.getColor()).toBe('#111');
});
