import { describe, expect, it } from 'vitest';
import { sentenceIn } from './units';

describe('a sentence in the unit of a project', () => {
  it.each([
    ['The mean residual of 3.1 cm is larger.', 'The mean residual of 0.102 ft is larger.'],
    ['It lies 12 m off, 0.005 m more.', 'It lies 39 ft off, 0.016 ft more.'],
    ['Cells of 0.5 to 2 m, 20 by 30 m in all.', 'Cells of 1.6 to 7 ft, 66 by 98 ft in all.'],
    ['Moved by −2.50 cm and -30 mm.', 'Moved by −0.0820 ft and -0.098 ft.'],
    ['2 voids of 4 m² or more; 1.5 m² each', '2 voids of 43 ft² or more; 16 ft² each'],
    ['up to 3 mm, 2 m.', 'up to 0.010 ft, 7 ft.'],
  ])('%s', (metric, feet) => expect(sentenceIn(metric, 'foot')).toBe(feet));
  it.each([
    'Drawn at 45 m/s, 20 points/m², 7 m³, 12 km off, 5 min late.',
    'EPSG:25832 m, mark K1 by 7 o’clock',
    'Epoch 2026.45 matters',
  ])('leaves what is no length: %s', (text) => expect(sentenceIn(text, 'usSurveyFoot')).toBe(text));
  it('leaves everything in metres, and tells the two feet apart', () => {
    expect(sentenceIn('1000.000 m', 'metre')).toBe('1000.000 m');
    // 3937/1200 and 1/0.3048 feet a metre
    expect(sentenceIn('1000.000 m', 'usSurveyFoot')).toBe('3280.833 ftUS');
    expect(sentenceIn('1000.000 m', 'foot')).toBe('3280.840 ft');
  });
});
