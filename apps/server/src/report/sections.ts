import { UNIT_NAME } from '@longheron/core/frames';
import { type ReportBase, type ReportData } from './content';
import { FILES, facts, h2, KIND, MADE, mono, plain, right, table, value, type Figures, type Node } from './elements';
import { type PlotUnit } from './plots';

export function staleWarning(data: ReportBase): Node[] {
  const stale = data.trail.filter((t) => t.outOfDate);
  if (stale.length === 0) return [];
  return [
    {
      text: `Out of date when this report was written: ${stale.map((t) => `${t.name} (${t.outOfDate})`).join('; ')}.`,
      color: '#a8402e',
      bold: true,
      margin: [0, 0, 0, 6],
    },
  ];
}

export function verdict(f: Figures, data: ReportData, small: PlotUnit): Node[] {
  if (!f.count)
    return [{ text: 'No check mark was found on the ground: no statement on accuracy is made.', bold: true }];
  const good = (f.rmse_m as number) <= data.project.toleranceM;
  return [
    {
      text: [
        { text: good ? 'Within tolerance. ' : 'Out of tolerance. ', bold: true, color: good ? '#3f7350' : '#a8402e' },
        `RMSE of height ${value(f.rmse_m, small, 1)} at ${String(f.count)} check marks; the tolerance is ${value(data.project.toleranceM, small)}, the margin ${value(data.project.toleranceM - (f.rmse_m as number), small, 1)}.`,
      ],
      fontSize: 10.5,
    },
  ];
}

export function referenceLine(data: ReportBase): Node[] {
  const r = data.reference;
  return [
    h2('Reference line'),
    facts([
      ['Coordinate system', `${r.horizontalName} (EPSG:${r.horizontal})`],
      ['Heights', r.vertical ? `${r.verticalName} (EPSG:${r.vertical}): ${plain(r.statement)}` : 'above the ellipsoid'],
      ['Length unit of this report', `${UNIT_NAME[r.unit]}; files keep the unit of the coordinate system`],
      ['Time', r.time === 'gps' ? 'GPS time' : r.time === 'utc' ? 'UTC' : 'local time'],
      ['Epoch of coordinates', r.epoch ? String(r.epoch) : 'undefined'],
    ]),
  ];
}

export function products(data: ReportData, factor: number, symbol: string, f: Figures): Node[] {
  const s = data.surface.figures;
  const interval = s.contour_interval_m ?? 0;
  const supported = f.contour_interval_m;
  const out: Node[] = [
    h2('Terrain model'),
    facts([
      [
        'Ground points, cell',
        `${s.points}, ${s.cell_m} m; ${data.surface.layout.columns} x ${data.surface.layout.rows} cells, ${s.empty_cells} empty`,
      ],
      ['Holes filled up to', `${s.max_gap_m} m (longest triangle edge); beyond it cells stay empty`],
      [
        'Heights',
        `from ${((s.height_min_m ?? 0) * factor).toFixed(2)} to ${((s.height_max_m ?? 0) * factor).toFixed(2)} ${symbol}`,
      ],
      [
        'Contours',
        `${s.contours} lines, interval ${interval} m${typeof supported === 'number' && interval > 0 && interval < supported - 1e-9 ? `; finer than the ${supported} m that the height check supports` : ''}`,
      ],
      ...(data.surface.tin
        ? ([
            [
              'TIN for delivery',
              `${data.surface.tin.vertices} points, ${data.surface.tin.triangles} triangles; thinning it loses ${(100 * data.surface.tin.lossRmsM).toFixed(1)} cm RMS, ${(100 * data.surface.tin.lossMaxM).toFixed(1)} cm at most`,
            ],
          ] as Array<[string, Node]>)
        : []),
      ...(data.density
        ? ([
            [
              'Density',
              `median ${data.density.medianPerM2} points/m²; ${(100 * data.density.belowShare).toFixed(0)} % of ${data.density.coveredM2} m² hold fewer than ${data.density.targetPerM2}`,
            ],
          ] as Array<[string, Node]>)
        : []),
    ]),
    table(
      ['File', 'Bytes', 'SHA-256'],
      Object.entries(data.surface.exports).map(([name, e]) => [
        FILES[name] ?? name,
        right(String(e.bytes)),
        mono(e.sha256, { fontSize: 6.5 }),
      ]),
      [130, 50, '*'],
    ),
  ];
  return out;
}

export function pictures(
  data: ReportData,
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
                  text: `Points per square metre: blue from ${data.density?.targetPerM2 ?? 0}, ochre below`,
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
        { text: plain(data.pictures.views[i].caption), style: 'soft' },
      ],
      unbreakable: true,
    }),
  );
  return out;
}

export function notices(data: ReportBase): Node[] {
  const word: Record<string, string> = { error: 'blocks', warning: 'degrades', info: 'harmless' };
  return [
    h2('Notices and their answers'),
    data.notices.length === 0
      ? { text: 'None.', style: 'soft' }
      : table(
          ['On', 'Weight', 'What was found', 'Answer'],
          data.notices.map((n) => [
            plain(n.dataset),
            word[n.severity] ?? n.severity,
            plain([n.text, n.effect].filter(Boolean).join(' ')),
            n.state === 'accepted' ? plain(`accepted: ${n.reason ?? ''}`) : n.severity === 'info' ? '' : 'open',
          ]),
          [100, 46, '*', 120],
        ),
  ];
}

export function trail(data: ReportBase): Node[] {
  const raw = data.trail.filter((t) => t.from.length === 0);
  const made = data.trail.filter((t) => t.from.length > 0);
  return [
    h2('Inputs'),
    table(
      ['Name', 'Kind', 'Revision', 'Bytes', 'SHA-256'],
      raw.map((t) => [
        plain(t.name),
        KIND[t.kind] ?? t.kind,
        right(String(t.revision)),
        right(t.bytes === null ? '-' : String(t.bytes)),
        mono(t.hash, { fontSize: 5.6 }),
      ]),
      [120, 58, 36, 46, '*'],
    ),
    h2('Trail: what was made from what, with which settings'),
    ...made.map((t) => ({
      stack: [
        {
          text: [
            { text: plain(t.name), bold: true },
            `, revision ${t.revision}, ${MADE[t.madeBy] ?? t.madeBy} ${t.madeAt}`,
          ],
        },
        { text: `from ${plain(t.from.join('; '))}`, style: 'soft' },
        ...(t.settings && Object.keys(t.settings).length
          ? [
              mono(
                Object.entries(t.settings)
                  .map(([k, v]) => `${k} ${typeof v === 'object' ? JSON.stringify(v) : String(v)}`)
                  .join(', '),
                { fontSize: 7, color: '#53666d' },
              ),
            ]
          : []),
        mono(t.hash, { fontSize: 6, color: '#53666d' }),
      ],
      margin: [0, 0, 0, 6],
      unbreakable: true,
    })),
  ];
}
