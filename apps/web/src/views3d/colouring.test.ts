import { afterEach, describe, expect, it } from 'vitest';
import { type CloudIndex } from '@longheron/contract/api';
import { css, gradient, sample, SIGNED, VIRIDIS } from '../ui/colour';
import {
  classColour,
  className,
  colouringFor,
  colouringsOf,
  COLOURING_NAMES,
  isColouring,
  SCALED,
  scaleOf,
  setOwnClasses,
} from './colouring';

const index = (colour?: string, ranges: object = {}) => ({ objects: { colour }, ranges }) as unknown as CloudIndex;

describe('colours of a cloud', () => {
  afterEach(() => setOwnClasses([]));

  it('are offered as it has them', () => {
    expect(colouringsOf(index())).not.toContain('true');
    expect(colouringsOf(index('ab'))).toContain('true');
    expect([colouringFor(index(), 'true'), colouringFor(index('ab'), 'true'), colouringFor(index(), 'class')]).toEqual([
      'height',
      'true',
      'class',
    ]);
    expect(colouringsOf(index('ab')).every((c) => COLOURING_NAMES[c])).toBe(true);
    expect([isColouring('strip'), isColouring('taste')]).toEqual([true, false]);
  });

  it('by height begin at the percentiles, and a single stray does not make the legend useless', () => {
    const s = scaleOf(index(undefined, { height: [-400, 2, 12, 9000] }), 'height', 100);
    expect(s).toMatchObject({ low: 2, high: 12, least: -8, most: 22, unit: 'm', factor: 1 });
  });

  it('have the unit that is read: seconds of the drive, centimetres of precision, metres above ground', () => {
    const i = index(undefined, { precision: [0, 0.008, 0.02, 0.4], intensity: [0, 100, 900, 65535] });
    expect(scaleOf(i, 'time', 136)).toMatchObject({ least: 0, most: 136, unit: 's' });
    expect(scaleOf(i, 'precision', 136)).toMatchObject({ low: 0.008, high: 0.02, unit: 'cm', factor: 100 });
    expect(scaleOf(i, 'above', 136)).toMatchObject({ low: 0, high: 12, unit: 'm' });
    expect(scaleOf(i, 'intensity', 136)).toMatchObject({ low: 100, high: 900, most: 1700, unit: '' });
    expect(SCALED).not.toContain('class');
  });

  it('of classes are those of the standard, unless the project has its own', () => {
    expect([className(2), className(200)]).toEqual(['ground', 'class 200']);
    setOwnClasses([{ code: 64, name: 'kerb', colour: '#3fa7a0' }]);
    expect([className(64), classColour(64), classColour(2)]).toEqual(['kerb', '#3fa7a0', '#c8a26a']);
  });
});

describe('a scale of colours', () => {
  it('goes evenly through its anchors, and no farther than its ends', () => {
    expect(sample(['#000000', '#ffffff'], 0.5)).toEqual([128, 128, 128]);
    expect(sample(['#000000', '#646464', '#ffffff'], 0.25)).toEqual([50, 50, 50]);
    expect([sample(VIRIDIS, -1), sample(VIRIDIS, 2)]).toEqual([
      [0x44, 0x01, 0x54],
      [0xfd, 0xe7, 0x25],
    ]);
    expect(css(['#000000', '#ffffff'], 1)).toBe('rgb(255 255 255)');
    expect(gradient(['#000', '#fff'])).toBe('linear-gradient(to right, #000, #fff)');
  });

  it('with a sign is neutral in its middle', () => {
    const [r, g, b] = sample(SIGNED, 0.5);
    expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(8);
  });
});
