/** Plots of the report as SVG, by pure functions of the figures. Lengths in metres, drawn in the unit asked for. */

export interface PlotUnit {
  factor: number;
  symbol: string;
  digits: number;
}

export interface PlotMark {
  name: string;
  role: string;
  eastingM: number;
  northingM: number;
  residualM: number | null;
  used: boolean;
  flagged: boolean;
}

const escape = (s: string) =>
  s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const n = (v: number) => Number(v.toFixed(2));

export interface Bin {
  fromM: number;
  toM: number;
  count: number;
}

/** Bins of equal width, one of them centred on zero, that hold every value. */
export function residualBins(valuesM: number[], limitM: number): Bin[] {
  const reach = Math.max(limitM, ...valuesM.map(Math.abs)) * 1.02;
  const width = reach > 0.08 ? 0.01 : 0.005;
  const half = Math.max(1, Math.ceil(reach / width - 0.5));
  const bins = Array.from({ length: 2 * half + 1 }, (_, i) => ({
    fromM: (i - half - 0.5) * width,
    toM: (i - half + 0.5) * width,
    count: 0,
  }));
  for (const v of valuesM) bins[Math.min(2 * half, Math.max(0, Math.floor(v / width + half + 0.5)))].count++;
  return bins;
}

export function histogramSvg(valuesM: number[], limitM: number, unit: PlotUnit): string {
  const bins = residualBins(valuesM, limitM);
  const [w, h, left, bottom] = [250, 150, 22, 28];
  const most = Math.max(1, ...bins.map((b) => b.count));
  const lo = bins[0].fromM;
  const span = bins[bins.length - 1].toM - lo;
  const x = (v: number) => n(left + ((v - lo) / span) * (w - left - 6));
  const y = (c: number) => n(h - bottom - (c / most) * (h - bottom - 10));
  const text = (v: number) => (v * unit.factor).toFixed(unit.digits);
  const bars = bins
    .filter((b) => b.count)
    .map(
      (b) =>
        `<rect x="${n(x(b.fromM) + 0.5)}" y="${y(b.count)}" width="${n(x(b.toM) - x(b.fromM) - 1)}" height="${n(h - bottom - y(b.count))}" fill="#0e5e66"/>`,
    )
    .join('');
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}" viewBox="0 0 ${w} ${h}" font-family="Sans" font-size="8">` +
    `<rect x="${x(-limitM)}" y="8" width="${n(x(limitM) - x(-limitM))}" height="${h - bottom - 8}" fill="#e3eef0"/>` +
    `${bars}<path d="M${left} ${h - bottom}H${w - 6}" stroke="#53666d" fill="none"/><path d="M${x(0)} 8V${h - bottom + 3}" stroke="#15262c" stroke-dasharray="2 2" fill="none"/>` +
    `<text x="${x(-limitM)}" y="${h - 16}" text-anchor="middle" fill="#15262c">${text(-limitM)}</text><text x="${x(0)}" y="${h - 16}" text-anchor="middle" fill="#15262c">0</text><text x="${x(limitM)}" y="${h - 16}" text-anchor="middle" fill="#15262c">${text(limitM)}</text>` +
    `<text x="${left - 4}" y="14" text-anchor="end" fill="#15262c">${most}</text><text x="${w - 6}" y="${h - 4}" text-anchor="end" fill="#53666d">found - given, ${escape(unit.symbol)}; tolerance shaded</text></svg>`
  );
}

/** Residuals in plan: bars up for high, down for low, scaled; control a ring, check a square, unused a cross. */
export function residualMapSvg(marks: PlotMark[], unit: PlotUnit, width = 255, height = 380): string {
  const placed = marks.filter((m) => m.residualM !== null);
  const e = placed.map((m) => m.eastingM);
  const no = placed.map((m) => m.northingM);
  const [e0, e1, n0, n1] = [Math.min(...e), Math.max(...e), Math.min(...no), Math.max(...no)];
  const pad = 26;
  const scale = Math.min((width - 2 * pad) / Math.max(1, e1 - e0), (height - 2 * pad) / Math.max(1, n1 - n0));
  const x = (v: number) => n(width / 2 + (v - (e0 + e1) / 2) * scale);
  const y = (v: number) => n(height / 2 - (v - (n0 + n1) / 2) * scale);
  const full = Math.max(0.01, ...placed.filter((m) => !m.flagged).map((m) => Math.abs(m.residualM!)));
  // labels to the right, or to the left where the right is taken
  const taken: Array<[number, number]> = [];
  const parts = placed.map((m) => {
    const [px, py] = [x(m.eastingM), y(m.northingM)];
    const colour = m.flagged ? '#a8402e' : m.used ? '#15262c' : '#53666d';
    const bar = Math.max(-30, Math.min(30, (m.residualM! / full) * 22));
    const symbol =
      m.role === 'control'
        ? `<circle cx="${px}" cy="${py}" r="3" fill="#fff" stroke="${colour}"/>`
        : m.role === 'check'
          ? `<rect x="${n(px - 2.6)}" y="${n(py - 2.6)}" width="5.2" height="5.2" fill="#fff" stroke="${colour}"/>`
          : `<path d="M${n(px - 3)} ${n(py - 3)}l6 6m0 -6l-6 6" stroke="${colour}" fill="none"/>`;
    const free = (at: number) => !taken.some(([x0, y0]) => Math.abs(y0 - py) < 8 && Math.abs(x0 - at) < 40);
    const leftward = !free(px + 5) && free(px - 45);
    taken.push([leftward ? px - 45 : px + 5, py]);
    const text = `${escape(m.name)} ${(m.residualM! * unit.factor).toFixed(unit.digits)}`;
    return (
      `<path d="M${px} ${py}V${n(py - bar)}" stroke="${m.residualM! >= 0 ? '#8a5a00' : '#1d4f91'}" stroke-width="3" fill="none"/>${symbol}` +
      `<text x="${n(leftward ? px - 6 : px + 6)}" y="${n(py + 3)}" text-anchor="${leftward ? 'end' : 'start'}" fill="${colour}">${text}</text>`
    );
  });
  const metres = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000].find((s) => s * scale > 40) ?? 1000;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="Sans" font-size="7">` +
    `<rect x="0.5" y="0.5" width="${width - 1}" height="${height - 1}" fill="none" stroke="#d3ddde"/>${parts.join('')}` +
    `<path d="M8 ${height - 8}h${n(metres * scale)}" stroke="#15262c" fill="none"/><text x="8" y="${height - 11}" fill="#15262c">${metres} m</text>` +
    `<text x="${width - 6}" y="${height - 6}" text-anchor="end" fill="#53666d">bars: residual, ${escape(unit.symbol)}</text></svg>`
  );
}
