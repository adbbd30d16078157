/** Small pieces of the report: types, tables, words. */
export type Node = Record<string, unknown> | string;
export type Figures = Record<string, number | null | boolean | string | undefined> & {
  marks: Array<Record<string, never>>;
  statements: Array<{
    standard: string;
    class_cm: number;
    rmse_m: number;
    p95_m: number | null;
    caveat: string | null;
  }>;
};

export const KIND: Record<string, string> = {
  trajectory: 'trajectory',
  'laser-returns': 'laser returns',
  inertial: 'inertial data',
  'gnss-observations': 'GNSS observations',
  'gnss-navigation': 'GNSS navigation',
  'gnss-orbits': 'precise orbits',
  'gnss-antennas': 'antenna calibrations',
  events: 'events',
  occupations: 'occupations of marks',
  measurements: 'measurements between marks',
  agreement: 'agreement of strips',
  coverage: 'coverage',
  'class-check': 'classes against a reference',
  delivery: 'delivery of tiles',
  outlines: 'areas and lines',
  raster: 'picture with a place',
  'plan-check': 'check of plan',
  photos: 'photographs',
  geoid: 'geoid grid',
  positions: 'positions of events',
  mounting: 'mounting',
  marks: 'marks',
  'point-cloud': 'point cloud',
  residuals: 'height check',
  surface: 'terrain model',
  reference: 'reference line',
};
export const FILES: Record<string, string> = {
  geotiff: 'terrain, GeoTIFF',
  asciiGrid: 'terrain, ASCII grid',
  highestTiff: 'highest points, GeoTIFF',
  aboveTiff: 'height above ground, GeoTIFF',
  landXml: 'TIN, LandXML',
  landXmlPoints: 'TIN with points, LandXML',
  contoursGeoJson: 'contours, GeoJSON',
  contoursDxf: 'contours, DXF',
};
export const MADE: Record<string, string> = {
  intake: 'taken in',
  edit: 'edited by hand',
  place: 'placed',
  classify: 'classified',
  check: 'checked',
  'plan-check': 'checked',
  agreement: 'compared',
  merge: 'merged',
  reproject: 'brought into the system',
  align: 'placed by marks',
  smooth: 'smoothed',
  coverage: 'measured',
  'class-check': 'compared',
  delivery: 'checked',
  recipe: 'a recipe done',
  correct: 'corrected',
  extract: 'cut out',
  surface: 'made',
  position: 'computed',
  join: 'joined',
  stops: 'made',
  events: 'positioned',
};

export const mono = (text: string, extra: object = {}): Node => ({ text, font: 'Mono', fontSize: 7.5, ...extra });
export const right = (text: string, extra: object = {}): Node => mono(text, { alignment: 'right', ...extra });
export const h2 = (text: string): Node => ({ text, style: 'h2' });

const alignmentOf = (cell: Node | undefined) =>
  typeof cell === 'object' && cell.alignment === 'right' ? 'right' : 'left';

export function table(header: string[], rows: Node[][], widths: Array<string | number>): Node {
  return {
    table: {
      headerRows: 1,
      // a heading does not stay behind at the foot of a page
      keepWithHeaderRows: rows.length ? 1 : 0,
      widths,
      // a heading stands over its column's figures
      body: [header.map((t, k) => ({ text: t, style: 'th', alignment: alignmentOf(rows[0]?.[k]) })), ...rows],
      dontBreakRows: true,
    },
    layout: 'plain',
    margin: [0, 2, 0, 8],
  };
}
export const facts = (rows: Array<[string, Node]>): Node => ({
  table: { widths: [170, '*'], body: rows.map(([k, v]) => [{ text: k, color: '#53666d' }, v]) },
  layout: 'plain',
  margin: [0, 2, 0, 8],
});

/** Characters that the report's fonts lack are written out. */
export function plain(text: string): string {
  return text
    .replaceAll('\u2032', "'")
    .replaceAll('\u2192', 'to')
    .replaceAll('\u2264', 'at most ')
    .replaceAll('\u2265', 'at least ')
    .replaceAll('\u2212', '-')
    .replace(/[\u2009\u202f\u00a0]/g, ' ');
}

/** A figure in the unit asked for, or "none". */
export const value = (
  v: number | null | undefined | boolean | string,
  u: { factor: number; symbol: string; digits: number },
  extra = 0,
) => (typeof v === 'number' ? `${(v * u.factor).toFixed(u.digits + extra)} ${u.symbol}` : 'none');
