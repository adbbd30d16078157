import { describe, expect, it } from 'vitest';
import { histogramSvg, residualBins, residualMapSvg } from './plots';
import { reportFonts, codePoints } from './fonts';

const cm = { factor: 100, symbol: 'cm', digits: 1 };

describe('plots of the report', () => {
  it('count every residual once, in a bin that holds it, with one bin centred on zero', () => {
    const values = [-0.021, -0.0051, 0, 0.0024, 0.0026, 0.0199, 0.0201];
    const bins = residualBins(values, 0.03);
    expect(bins.reduce((s, b) => s + b.count, 0)).toBe(values.length);
    expect(bins.some((b) => Math.abs(b.fromM + b.toM) < 1e-12)).toBe(true);
    for (const b of bins) expect(values.filter((v) => v >= b.fromM && v < b.toM).length).toBe(b.count);
  });
  it('shade the tolerance and scale to the greatest count', () => {
    const svg = histogramSvg([0, 0.001, 0.02], 0.03, cm);
    expect(svg).toContain('>-3.0<');
    expect(svg).toContain('>2<');
  });
  it('point bars up for high and down for low, and mark roles by symbol', () => {
    const at = { eastingM: 0, northingM: 0, used: true, flagged: false };
    const svg = residualMapSvg(
      [
        { ...at, name: 'A&B', role: 'check', residualM: 0.02 },
        { ...at, name: 'C', role: 'control', northingM: 50, residualM: -0.02 },
      ],
      cm,
    );
    expect(svg).toContain('A&amp;B 2.0');
    expect(svg).toContain('<circle');
    const ys = [...svg.matchAll(/M([\d.]+) ([\d.]+)V([\d.]+)" stroke="(#\w+)"/g)].map((m) => [
      Number(m[2]) - Number(m[3]),
      m[4],
    ]);
    expect(ys).toEqual([
      [22, '#8a5a00'],
      [-22, '#1d4f91'],
    ]);
  });
});

describe('fonts of the report', () => {
  it('are unwrapped to TrueType with the characters reports use', () => {
    const { sans, mono } = reportFonts();
    expect(sans.readUInt32BE(0)).toBe(0x00010000);
    for (const font of [sans, mono]) {
      const has = codePoints(font);
      for (const c of 'AZaz09°±²–×%:;()/') expect([c, has.has(c.codePointAt(0)!)]).toEqual([c, true]);
    }
  });
});
