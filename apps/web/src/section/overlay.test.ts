import { describe, expect, it } from 'vitest';
import { type Frame } from './draw';
import { drawAxes, drawPath } from './overlay';

interface Written {
  text: string;
  x: number;
  y: number;
  align: string;
}
/** Remembers what was written where; a figure is 7 pixels wide. */
function canvas() {
  const written: Written[] = [];
  const g = {
    textAlign: 'left',
    textBaseline: 'top',
    font: '',
    fillStyle: '',
    strokeStyle: '',
    lineWidth: 1,
    beginPath() {},
    moveTo() {},
    lineTo() {},
    stroke() {},
    arc() {},
    fill() {},
    measureText: (text: string) => ({ width: 7 * text.length }),
    fillText(text: string, x: number, y: number) {
      written.push({ text, x, y, align: this.textAlign });
    },
  };
  return { g: g as unknown as CanvasRenderingContext2D, written };
}
const FRAME: Frame = { left: 52, top: 18, width: 600, height: 150, lengthM: 30, lowM: 2, highM: 5 };

describe('axes of a section', () => {
  it('carry their unit: above the heights, and after the last length, within the picture', () => {
    const { g, written } = canvas();
    drawAxes(g, FRAME, 1, 'm');
    const lengths = written.filter((w) => w.align === 'center');
    expect(lengths.map((w) => w.text)).toEqual(['0', '5', '10', '15', '20', '25', '30 m']);
    const last = lengths.at(-1)!;
    expect(last.x + (7 * last.text.length) / 2).toBeLessThanOrEqual(FRAME.left + FRAME.width + 10);
    expect(written.filter((w) => w.text === 'm')).toEqual([{ text: 'm', x: 47, y: 16, align: 'right' }]);
  });

  it('leave out the height that would lie under the unit', () => {
    const { g, written } = canvas();
    drawAxes(g, FRAME, 1, 'm');
    const heights = written.filter((w) => w.align === 'right' && w.text !== 'm').map((w) => Number(w.text));
    expect(Math.max(...heights)).toBeLessThan(5);
    expect(heights).toContain(3);
  });

  it('are in feet in a project of feet', () => {
    const { g, written } = canvas();
    drawAxes(g, FRAME, 1 / 0.3048, 'ft');
    // 30 m are 98.4 ft: the last whole mark is 80 or 90
    const lengths = written.filter((w) => w.align === 'center').map((w) => w.text);
    expect(lengths.at(-1)).toMatch(/^[89]0 ft$/);
    const heights = written.filter((w) => w.align === 'right' && w.text !== 'ft').map((w) => Number(w.text));
    for (const h of heights) {
      expect(h).toBeGreaterThanOrEqual(2 / 0.3048 - 1e-6);
      expect(h).toBeLessThanOrEqual(5 / 0.3048 + 1e-6);
    }
  });
});

describe('the trajectory in a section', () => {
  it('is named once, above its first run, and not at all above the picture', () => {
    const { g, written } = canvas();
    drawPath(g, FRAME, [
      [
        [10, 4],
        [11, 4],
      ],
      [[20, 4]],
    ]);
    expect(written.map((w) => [w.text, w.align])).toEqual([['trajectory', 'center']]);
    // 4 m stand a third below the top of 150 pixels; the name ends above them
    expect(written[0].y).toBeCloseTo(18 + 50 - 6, 6);
    const far = canvas();
    drawPath(far.g, FRAME, [[[10, 60]]]);
    expect(far.written).toEqual([]);
  });
});
