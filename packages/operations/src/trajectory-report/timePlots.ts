/** Plots of a trajectory's report as SVG: quantities against time, kinds of solution, and the path in plan. */
const n = (v: number) => Number(v.toFixed(2));
const escape = (s: string) =>
  s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const LEFT = 34;
const RIGHT = 6;

export interface TimeAxis {
  from: number;
  to: number;
  width: number;
  /** Text of a time. */
  text(gps: number): string;
}

const xOf = (a: TimeAxis) => (t: number) => n(LEFT + ((t - a.from) / (a.to - a.from)) * (a.width - LEFT - RIGHT));

/** A round step of which about `count` fit into a span. */
export function roundStep(span: number, count: number): number {
  const raw = span / count;
  const power = 10 ** Math.floor(Math.log10(raw));
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw * 0.999) ?? raw;
}

/**
 * Lowest and highest of a quantity in each bin against time.
 * @param limit a tolerance to draw. @param least smallest top of the axis.
 */
export function timeSvg(
  axis: TimeAxis,
  time: number[],
  min: Array<number | null>,
  max: Array<number | null>,
  options: { title: string; limit?: number; least?: number; colour?: string },
): string {
  const height = 92;
  const [top, bottom] = [14, 14];
  const values = [...min, ...max].filter((v): v is number => v !== null);
  const low = Math.min(0, ...values);
  const high = Math.max(options.least ?? 1e-6, options.limit ?? -Infinity, ...values) * 1.04;
  const step = roundStep(high - low, 3);
  const x = xOf(axis);
  const y = (v: number) => n(height - bottom - ((v - low) / (high - low)) * (height - top - bottom));
  const grid: string[] = [];
  for (let v = Math.ceil(low / step) * step; v <= high; v += step)
    grid.push(
      `<path d="M${LEFT} ${y(v)}H${axis.width - RIGHT}" stroke="#e3eaea"/><text x="${LEFT - 3}" y="${n(y(v) + 2.5)}" text-anchor="end" fill="#53666d">${Number(v.toPrecision(3))}</text>`,
    );
  const area: string[] = [];
  let run: number[] = [];
  const flush = () => {
    if (run.length) {
      const there = run.map((k) => `${x(time[k])} ${y(max[k]!)}`);
      const back = [...run].reverse().map((k) => `${x(time[k])} ${y(min[k]!)}`);
      area.push(`M${[...there, ...back].join('L')}Z`);
    }
    run = [];
  };
  time.forEach((_, k) => (min[k] === null || max[k] === null ? flush() : run.push(k)));
  flush();
  const colour = options.colour ?? '#0e5e66';
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${axis.width}" height="${height}" viewBox="0 0 ${axis.width} ${height}" font-family="Sans" font-size="7">` +
    `<text x="${LEFT}" y="9" fill="#15262c" font-size="8">${escape(options.title)}</text>${grid.join('')}` +
    `<path d="${area.join('')}" fill="${colour}" stroke="${colour}" stroke-width="0.5"/>` +
    (options.limit === undefined
      ? ''
      : `<path d="M${LEFT} ${y(options.limit)}H${axis.width - RIGHT}" stroke="#a8402e" stroke-dasharray="3 2"/>`) +
    `${timeTicks(axis, height - 4)}</svg>`
  );
}

function timeTicks(axis: TimeAxis, y: number): string {
  const steps = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14400, 43200];
  const step = steps.find((s) => (axis.to - axis.from) / s <= 7) ?? 86400;
  const x = xOf(axis);
  const out: string[] = [];
  for (let t = Math.ceil(axis.from / step) * step; t <= axis.to; t += step)
    out.push(`<text x="${x(t)}" y="${y}" text-anchor="middle" fill="#53666d">${escape(axis.text(t))}</text>`);
  return out.join('');
}

/** Which kind of solution held when. */
export function solutionSvg(
  axis: TimeAxis,
  stretches: Array<{ from: number; to: number; kind: number }>,
  look: Record<number, { word: string; colour: string }>,
): string {
  const x = xOf(axis);
  const bars = stretches
    .map(
      (s) =>
        `<rect x="${x(s.from)}" y="14" width="${Math.max(0.4, n(x(s.to) - x(s.from)))}" height="10" fill="${look[s.kind]?.colour ?? '#9fb3b8'}"/>`,
    )
    .join('');
  let at = LEFT;
  const key = [...new Set(stretches.map((s) => s.kind))]
    .sort()
    .map((k) => {
      const word = look[k]?.word ?? '';
      const piece = `<rect x="${at}" y="3" width="7" height="7" fill="${look[k]?.colour ?? '#9fb3b8'}"/><text x="${at + 10}" y="9.5" fill="#15262c">${escape(word)}</text>`;
      at += 22 + 4.2 * word.length;
      return piece;
    })
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${axis.width}" height="28" viewBox="0 0 ${axis.width} 28" font-family="Sans" font-size="7">${key}${bars}</svg>`;
}

/** The path in plan, in three bands of precision: within half the tolerance, within it, beyond. */
export function pathSvg(
  eastingM: number[],
  northingM: number[],
  sdM: number[],
  toleranceM: number,
  width = 250,
  height = 300,
): string {
  const [e0, e1] = [Math.min(...eastingM), Math.max(...eastingM)];
  const [n0, n1] = [Math.min(...northingM), Math.max(...northingM)];
  const pad = 16;
  const scale = Math.min((width - 2 * pad) / Math.max(1, e1 - e0), (height - 2 * pad) / Math.max(1, n1 - n0));
  const x = (v: number) => n(width / 2 + (v - (e0 + e1) / 2) * scale);
  const y = (v: number) => n(height / 2 - (v - (n0 + n1) / 2) * scale);
  const band = (sd: number) => (sd <= toleranceM / 2 ? 0 : sd <= toleranceM ? 1 : 2);
  const lines = ['', '', ''];
  const step = Math.max(1, Math.floor(eastingM.length / 1500));
  for (let k = 0; k + step < eastingM.length; k += step) {
    const worst = Math.max(...sdM.slice(k, k + step + 1));
    lines[band(worst)] += `M${x(eastingM[k])} ${y(northingM[k])}L${x(eastingM[k + step])} ${y(northingM[k + step])}`;
  }
  const metres = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((s) => s * scale > 40) ?? 5000;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="Sans" font-size="7">` +
    `<rect x="0.5" y="0.5" width="${width - 1}" height="${height - 1}" fill="none" stroke="#d3ddde"/>` +
    BAND_COLOURS.map((c, k) =>
      lines[k] ? `<path d="${lines[k]}" stroke="${c}" stroke-width="${k + 1}" fill="none"/>` : '',
    ).join('') +
    `<path d="M8 ${height - 8}h${n(metres * scale)}" stroke="#15262c" fill="none"/><text x="8" y="${height - 11}" fill="#15262c">${metres} m</text></svg>`
  );
}

/** Within half the tolerance, within it, beyond. */
export const BAND_COLOURS = ['#0e5e66', '#c97a00', '#a8402e'];
