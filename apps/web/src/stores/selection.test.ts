// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { useCloudLook } from './cloudLook';
import { useSelection } from './selection';
import { useView } from './view';

const square = (size: number) => ({
  kind: 'plan' as const,
  polygon: [0, 0, size, 0, size, size, 0, size].map((v) => v + 1 / 3),
});
beforeEach(() => {
  localStorage.clear();
  setActivePinia(createPinia());
  useSelection().begin(3);
});

describe('the selection', () => {
  it('is none until something is drawn, then that, to the millimetre', () => {
    const s = useSelection();
    expect(s.current).toBeNull();
    s.add(square(10));
    expect(s.current!.regions).toEqual([
      { mode: 'add', shape: { kind: 'plan', polygon: [0, 0, 10, 0, 10, 10, 0, 10].map((v) => v + 0.333) } },
    ]);
    s.add({ kind: 'view', matrix: [1], polygon: [0.12345678, -1] }, 'add');
    expect(s.current!.regions[1].shape).toMatchObject({ polygon: [0.123457, -1] });
  });

  it('is replaced, added to, taken from or kept within, and the last shape can be taken back', () => {
    const s = useSelection();
    s.add(square(10), 'subtract');
    // of nothing nothing can be taken away: it begins with the shape
    expect(s.regions.map((r) => r.mode)).toEqual(['add']);
    s.add(square(4), 'subtract');
    s.add(square(2), 'within');
    expect(s.regions.map((r) => r.mode)).toEqual(['add', 'subtract', 'within']);
    s.back();
    expect(s.regions).toHaveLength(2);
    s.inverted = true;
    s.add(square(1), 'replace');
    expect([s.regions.length, s.inverted]).toEqual([1, false]);
  });

  it('of everything has no shapes, and ends with the first shape', () => {
    const s = useSelection();
    s.selectAll();
    expect(s.current).toMatchObject({ regions: [], inverted: false });
    s.add(square(1));
    expect(s.everything).toBe(false);
    s.clear();
    expect(s.current).toBeNull();
  });

  it('holds only what is shown: hidden classes, time, section, height above ground', () => {
    const s = useSelection();
    const look = useCloudLook();
    const view = useView();
    s.selectAll();
    expect(s.current!.filter).toEqual({ hiddenClasses: [7, 18], rejected: 'hidden' });
    look.toggleClass(2);
    look.toggleClass(7);
    view.brush = [100, 200];
    look.filter = { strips: [1], aboveM: [2, 30] };
    // without the ground the height above it says nothing yet
    expect(s.current!.filter).toEqual({ hiddenClasses: [18, 2], rejected: 'hidden', time: [100, 200], strips: [1] });
    const layout = { object: 'g', cellM: 1, minX: 0, minY: 0, columns: 2, rows: 1 };
    look.grounds = { 3: { revision: 1, ground: { ...layout, heightM: new Float32Array(2) } } };
    expect(s.current!.filter.above).toEqual({ ...layout, rangeM: [2, 30] });
    look.clip = true;
    expect(s.current!.filter.clip).toBeUndefined();
    view.section = { from: [0, 0], to: [10, 0], widthM: 2 };
    expect(s.current!.filter.clip).toEqual(view.section);
  });

  it('of another cloud begins anew', () => {
    const s = useSelection();
    s.tool = 'lasso';
    s.add(square(1));
    s.begin(3);
    expect(s.regions).toHaveLength(1);
    s.begin(4);
    expect([s.regions.length, s.tool, s.dataset]).toEqual([0, 'none', 4]);
  });
});
