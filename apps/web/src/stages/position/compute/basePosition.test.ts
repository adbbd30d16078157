// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { mounted, wordsOf } from '../../../test/mounted';
import { dataset, opened } from '../../../test/project';
import BasePosition, { verticalOf, type BasePositionForm } from './BasePosition.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const FORM: BasePositionForm = {
  from: 'header',
  latitude: '',
  longitude: '',
  heightM: undefined,
  marks: 0,
  mark: '',
  frame: 'ETRS89',
  epoch: 2026.46,
  resultFrame: 'EPSG:4937',
  plate: 'unknown',
  heightKind: 'ellipsoidal',
  antennaFrom: 'header',
  antennaHeightM: undefined,
  slantM: undefined,
  rimRadiusM: 0.17,
  rimAboveM: 0.04,
};
const P: [number, number, number] = [8.47, 56.08, 45];
/** A base whose header says where it is, recorded on 16 June 2026. */
const BASE = dataset(2, 'gnss-observations', {
  facts: {
    extent: { min: P, max: P, crs: 'EPSG:4979' },
    startGps: 2423 * 604800 + 172800,
    details: [['Antenna height', '1.500 m, vertical']],
  },
});
async function shown(change: Partial<BasePositionForm>) {
  const { pinia } = await opened({ datasets: [BASE] });
  const wrapper = await mounted(BasePosition, pinia, { modelValue: { ...FORM, ...change }, base: BASE });
  await flushPromises();
  return wordsOf(wrapper);
}

describe('where the base is', () => {
  it('says its header, its antenna, and in which frame the trajectory will be', async () => {
    const words = await shown({});
    expect(words).toContain('56.0800000° 8.4700000° 45.000 m');
    expect(words).toContain('Antenna height of the header: 1.500 m');
    expect(words).toContain('Base and trajectory are both in ETRS89 (EPSG:4937).');
  });

  it('in an international frame is brought to that of the trajectory, with the amount', async () => {
    const words = await shown({ frame: 'ITRF2020' });
    // the Eurasian plate has moved some 2.5 cm a year since 1989: about 0.8 m to the north-east by 2026
    const cm = Number(/brought to ETRS89 \(EPSG:4937\), ([\d.]+)cm away/.exec(words.replace(/\s(?=cm)/g, ''))?.[1]);
    expect(cm).toBeGreaterThan(75);
    expect(cm).toBeLessThan(100);
  });

  it('of another day needs its plate where the frame moves against the ground', async () => {
    const without = await shown({ frame: 'ITRF2014', epoch: 2010, resultFrame: 'EPSG:7912' });
    expect(without).toMatch(/how the place moves is not known/);
    const withPlate = await shown({ frame: 'ITRF2014', epoch: 2010, resultFrame: 'EPSG:7912', plate: 'Eurasia' });
    const cm = Number(
      /brought to ITRF2014 of the day \(EPSG:7912\), ([\d.]+)cm away/.exec(withPlate.replace(/\s(?=cm)/g, ''))?.[1],
    );
    // 16.46 years at 2.3 to 2.7 cm
    expect(cm).toBeGreaterThan(36);
    expect(cm).toBeLessThan(45);
  });

  it('typed far from its header is noticed before anything runs', async () => {
    const words = await shown({ from: 'typed', latitude: '56.08', longitude: '-8.47', heightM: 45 });
    expect(words).toMatch(/1\s?05\d\.\d\s*km\s*from the position in its header/);
  });
});

describe('a slant to the rim', () => {
  it('is turned into the vertical by Pythagoras', () => {
    expect(verticalOf({ slantM: 1.5, rimRadiusM: 0.17, rimAboveM: 0.04 })).toBeCloseTo(
      Math.sqrt(1.5 ** 2 - 0.17 ** 2) - 0.04,
      12,
    );
    expect(verticalOf({ slantM: 0.1, rimRadiusM: 0.17, rimAboveM: 0.04 })).toBeNull();
    expect(verticalOf({ slantM: undefined, rimRadiusM: 0.17, rimAboveM: 0.04 })).toBeNull();
  });
});
