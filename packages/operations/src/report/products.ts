import { KINDS, type Contents } from '@longheron/contract/kinds';
import { type CheckFigures } from '@longheron/contract/kinds/residuals';
import { type Account } from '../shared/pages/account';
import { facts, h2, mono, plain, right, table, value, type Node } from '../shared/pages/elements';
import { type PlotUnit } from '../shared/pages/plots';

/** Whether the heights keep the tolerance, in one sentence. */
export function verdict(f: CheckFigures, toleranceM: number, small: PlotUnit): Node[] {
  if (!f.count)
    return [{ text: 'No check mark was found on the ground: no statement on accuracy is made.', bold: true }];
  const good = (f.rmse_m ?? Infinity) <= toleranceM;
  return [
    {
      text: [
        { text: good ? 'Within tolerance. ' : 'Out of tolerance. ', bold: true, color: good ? '#3f7350' : '#a8402e' },
        `RMSE of height ${value(f.rmse_m, small, 1)} at ${String(f.count)} check marks; the tolerance is ${value(toleranceM, small)}, the margin ${value(toleranceM - (f.rmse_m ?? 0), small, 1)}.`,
      ],
      fontSize: 10.5,
    },
  ];
}

/** The terrain model and its files. */
export function products(
  surface: Contents['surface'],
  density: Account['density'],
  supported: number | null,
  factor: number,
  symbol: string,
): Node[] {
  const s = surface.figures;
  const interval = s.contour_interval_m ?? 0;
  const out: Node[] = [
    h2('Terrain model'),
    facts([
      [
        'Ground points, cell',
        `${s.points}, ${s.cell_m} m; ${surface.layout.columns} x ${surface.layout.rows} cells, ${s.empty_cells} empty`,
      ],
      ['Filled within', `${s.max_gap_m} m of a ground point; further away cells stay empty${filledWords(s)}`],
      [
        'Heights',
        `from ${((s.height_min_m ?? 0) * factor).toFixed(2)} to ${((s.height_max_m ?? 0) * factor).toFixed(2)} ${symbol}`,
      ],
      [
        'Contours',
        `${s.contours} lines, interval ${interval} m${typeof supported === 'number' && interval > 0 && interval < supported - 1e-9 ? `; finer than the ${supported} m that the height check supports` : ''}`,
      ],
      ...(surface.tin
        ? ([
            [
              'TIN for delivery',
              `${surface.tin.vertices} points, ${surface.tin.triangles} triangles; thinning it loses ${(100 * surface.tin.lossRmsM).toFixed(1)} cm RMS, ${(100 * surface.tin.lossMaxM).toFixed(1)} cm at most`,
            ],
          ] as Array<[string, Node]>)
        : []),
      ...(density
        ? ([
            [
              'Density',
              `median ${density.medianPerM2} points/m²; ${(100 * density.belowShare).toFixed(0)} % of ${density.coveredM2} m² hold fewer than ${density.targetPerM2}`,
            ],
          ] as Array<[string, Node]>)
        : []),
    ]),
    table(
      ['File', 'Bytes', 'SHA-256'],
      Object.entries(surface.exports).map(([name, e]) => [
        KINDS.surface.exports[name]?.label ?? name,
        right(String(e.bytes)),
        mono(e.sha256, { fontSize: 6.5 }),
      ]),
      [130, 50, '*'],
    ),
  ];
  return out;
}

export function pictures(
  account: Account,
  images: { relief: Buffer; density: Buffer | null; views: Buffer[] },
): Node[] {
  const uri = (b: Buffer) => `data:image/png;base64,${b.toString('base64')}`;
  const out: Node[] = [
    { text: 'Pictures', style: 'h2', pageBreak: 'before' },
    {
      columns: [
        {
          stack: [
            { image: uri(images.relief), fit: [250, 560] },
            { text: 'Terrain model, shaded from the north-west; empty cells are white', style: 'soft' },
          ],
        },
        images.density
          ? {
              stack: [
                { image: uri(images.density), fit: [250, 560] },
                {
                  text: `Points per square metre: blue from ${account.density?.targetPerM2 ?? 0}, ochre below`,
                  style: 'soft',
                },
              ],
            }
          : '',
      ],
      columnGap: 12,
    },
  ];
  images.views.forEach((v, i) =>
    out.push({
      stack: [
        { image: uri(v), fit: [505, 330], margin: [0, 10, 0, 2] },
        { text: plain(account.views[i].caption), style: 'soft' },
      ],
      unbreakable: true,
    }),
  );
  return out;
}

/** How many cells do not lie among ground points; nothing for surfaces that were made before these were counted. */
function filledWords(s: { bridged_cells?: number; cells_beyond_points?: number }): string {
  if (s.bridged_cells === undefined || s.cells_beyond_points === undefined) return '';
  return `. Filled across wider gaps: ${s.bridged_cells} cells; beyond the outermost points: ${s.cells_beyond_points} cells`;
}
