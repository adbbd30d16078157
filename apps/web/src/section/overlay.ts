import { type MapMark } from '../map/marks';
import { lengthOf, type SectionLine } from './cut';
import { alongAt, axisStep, xOf, yOf, type Frame } from './draw';

/** Room right of the picture, and height of its figures, pixels. */
const [MARGIN_PX, TEXT_PX] = [10, 12];

function stroke(g: CanvasRenderingContext2D, points: Array<[number, number]>): void {
  g.beginPath();
  points.forEach(([x, y], i) => (i ? g.lineTo(x, y) : g.moveTo(x, y)));
  g.stroke();
}

/** Lines and figures of heights and lengths. @param factor units of the project a metre. @param unit its symbol. */
export function drawAxes(g: CanvasRenderingContext2D, f: Frame, factor: number, unit: string): void {
  g.font = '12px "IBM Plex Mono"';
  g.strokeStyle = '#ffffff1c';
  g.fillStyle = '#b7c7cc';
  g.lineWidth = 1;
  const stepH = axisStep((f.highM - f.lowM) * factor, Math.max(2, f.height / 34)) / factor;
  g.textAlign = 'right';
  g.textBaseline = 'middle';
  const digits = Math.max(0, -Math.floor(Math.log10(stepH * factor) + 1e-9));
  for (let h = Math.ceil(f.lowM / stepH) * stepH; h <= f.highM; h += stepH) {
    const y = yOf(f, h);
    stroke(g, [
      [f.left, y],
      [f.left + f.width, y],
    ]);
    // the unit stands above the topmost
    if (y > f.top + TEXT_PX / 2) g.fillText((h * factor).toFixed(digits), f.left - 5, y);
  }
  const stepL = axisStep(f.lengthM * factor, Math.max(3, f.width / 80)) / factor;
  g.textAlign = 'center';
  g.textBaseline = 'top';
  for (let l = 0; l <= f.lengthM + 1e-9; l += stepL) {
    const x = xOf(f, l);
    stroke(g, [
      [x, f.top],
      [x, f.top + f.height],
    ]);
    const last = l + stepL > f.lengthM + 1e-9;
    const text = `${Number((l * factor).toFixed(2))}${last ? ` ${unit}` : ''}`;
    // the last one keeps within the picture
    const most = f.left + f.width + MARGIN_PX - g.measureText(text).width / 2;
    g.fillText(text, Math.min(x, most), f.top + f.height + 5);
  }
  g.textAlign = 'right';
  g.textBaseline = 'bottom';
  g.fillText(unit, f.left - 5, f.top - 2);
}

/** A surface as a line. @param heightAt of a place along the section, not a number where there is none. */
export function drawSurface(g: CanvasRenderingContext2D, f: Frame, heightAt: (alongM: number) => number): void {
  g.strokeStyle = '#ffd27d';
  g.lineWidth = 1.4;
  g.beginPath();
  let pen = false;
  for (let x = f.left; x <= f.left + f.width; x += 1) {
    const h = heightAt(alongAt(f, x));
    if (Number.isNaN(h) || h < f.lowM || h > f.highM) pen = false;
    else if (pen) g.lineTo(x, yOf(f, h));
    else {
      g.moveTo(x, yOf(f, h));
      pen = true;
    }
  }
  g.stroke();
}

/** The trajectory where it runs in the section: along and height, in runs; a crossing is a dot. */
export function drawPath(g: CanvasRenderingContext2D, f: Frame, runs: Array<Array<[number, number]>>): void {
  g.strokeStyle = g.fillStyle = '#7fd0d6';
  g.lineWidth = 1.6;
  for (const run of runs) {
    const points = run.map(([a, h]): [number, number] => [xOf(f, a), yOf(f, h)]);
    const [x, y] = points[Math.floor(points.length / 2)];
    if (y < f.top || y > f.top + f.height) continue;
    stroke(g, points);
    g.beginPath();
    g.arc(x, y, 3, 0, 2 * Math.PI);
    g.fill();
    if (run === runs[0]) {
      g.font = '12px "IBM Plex Sans"';
      g.textAlign = 'center';
      g.textBaseline = 'bottom';
      g.fillText('trajectory', x, y - 6);
    }
  }
}

/** A named place in space. */
export interface SectionPlace {
  eastingM: number;
  northingM: number;
  heightM: number;
  name: string;
  strong: boolean;
}

/** Marks (and the picked point) that lie in the section, or within a metre of its line. */
export function drawPlaces(g: CanvasRenderingContext2D, f: Frame, s: SectionLine, places: SectionPlace[]): void {
  const length = lengthOf(s) || 1e-9;
  const [ux, uy] = [(s.to[0] - s.from[0]) / length, (s.to[1] - s.from[1]) / length];
  for (const { eastingM: e, northingM: n, heightM, name, strong } of places) {
    const along = (e - s.from[0]) * ux + (n - s.from[1]) * uy;
    const across = -(e - s.from[0]) * uy + (n - s.from[1]) * ux;
    if (along < 0 || along > length || Math.abs(across) > Math.max(s.widthM / 2, 1)) continue;
    const [x, y] = [xOf(f, along), yOf(f, heightM)];
    g.strokeStyle = g.fillStyle = strong ? '#ffd27d' : '#ffffff';
    g.lineWidth = 1.5;
    g.strokeRect(x - 4, y - 4, 8, 8);
    g.textAlign = 'left';
    g.textBaseline = 'bottom';
    g.font = '12px "IBM Plex Sans"';
    g.fillText(name, x + 7, y - 2);
  }
}

/** Marks with heights as places of a section. */
export const placesOf = (
  marks: MapMark[] | undefined,
  heights: Record<string, number> | undefined,
  strong: string | null,
): SectionPlace[] =>
  (marks ?? []).flatMap((m) => {
    const heightM = heights?.[m.name];
    return heightM === undefined ? [] : [{ ...m, heightM, strong: strong === m.name }];
  });
