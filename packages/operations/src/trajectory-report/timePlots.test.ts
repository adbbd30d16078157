import { describe, expect, it } from 'vitest';
import { pathSvg, roundStep, solutionSvg, timeSvg } from './timePlots';

const axis = { from: 100, to: 200, width: 505, text: (t: number) => String(t) };

describe('plots of a trajectory’s report', () => {
  it('break off where there is nothing, and show the tolerance at its height', () => {
    const svg = timeSvg(axis, [100, 150, 151, 200], [1, 1, null, 1], [2, 2, null, 2], { title: 'a & b', limit: 4 });
    expect(svg).toContain('a &amp; b');
    // two areas: before and after the break
    expect(/<path d="(M[^"]+)" fill="#0e5e66"/.exec(svg)![1].split('Z').filter(Boolean).length).toBe(2);
    // from 0 to 4 · 1.04 over 64 px above the axis at 78: 4 lies at 78 − 64 / 1.04
    expect(svg).toContain(`M34 ${Number((78 - 64 / 1.04).toFixed(2))}H499" stroke="#a8402e"`);
  });
  it('have steps of one, two or five', () => {
    expect([0.9, 7, 13, 240].map((v) => roundStep(v, 3))).toEqual([0.5, 5, 5, 100]);
  });
  it('show stretches from where to where they lasted, and the path by its bands', () => {
    const svg = solutionSvg(axis, [{ from: 100, to: 150, kind: 1 }], { 1: { word: 'fixed', colour: '#123456' } });
    // half of 465 px from 34 on
    expect(svg).toContain('<rect x="34" y="14" width="232.5"');
    const path = pathSvg([0, 10, 20, 30], [0, 0, 0, 0], [0.01, 0.01, 0.05, 0.05], 0.03);
    expect(path.match(/stroke="#a8402e"/g)!.length).toBe(1);
    expect(path.match(/stroke="#c97a00"/g)).toBeNull();
  });
});
