import { gridText, isAboveGeoid, type SystemDefinition } from '@longheron/core/frames';

/** One entry of a TIFF directory. */
export type Value = { tag: number; type: 2 | 3 | 4 | 12; values: number[] | string };

const USER_DEFINED = 32767;
const UNIT_CODES = new Map([
  [1, 9001],
  [0.3048, 9002],
]);
const US_SURVEY_FOOT = 9003;

const TEXTS = 34737;

const heightsCitation = ({ grid, verticalName }: SystemDefinition) =>
  grid ? `${verticalName.replace(/(geoid) \S+$/, '$1')} ${gridText(grid)}` : verticalName;

/** GeoTIFF keys of a system in plan alone, or in plan and height; what has no code is user-defined and named by its citation. */
export function systemKeys(
  system: SystemDefinition,
  heights: 'up' | 'down' | 'none',
): { keys: number[]; texts: string } {
  let texts = '';
  const rows = [
    [1024, 0, 1, 1],
    [1025, 0, 1, 1],
    [3072, 0, 1, system.file ? USER_DEFINED : system.horizontalCode],
  ];
  const cite = (id: number, text: string) => {
    const plain = text.replace(/[^\x20-\x7e]/g, '?').replace(/\|/g, '/');
    rows.push([id, TEXTS, plain.length + 1, texts.length]);
    texts += `${plain}|`;
  };
  const by = [
    ...(system.file ? [`defined by ${gridText(system.file)}`] : []),
    ...(system.shift ? [`shifted by ${gridText(system.shift)}`] : []),
  ];
  if (by.length) cite(3073, `${system.horizontalName}, ${by.join(', ')}`);
  if (heights !== 'none' && isAboveGeoid(system)) {
    const named = system.grid !== undefined || system.heightsOfFile === true;
    rows.push([4096, 0, 1, named ? USER_DEFINED : system.verticalCode]);
    if (named)
      cite(4097, `${heightsCitation(system)}, ${heights === 'down' ? 'depths positive down' : 'heights positive up'}`);
    rows.push([4099, 0, 1, UNIT_CODES.get(system.verticalMetresPerUnit) ?? US_SURVEY_FOOT]);
  }
  return { keys: [1, 1, 1, rows.length, ...rows.flat()], texts };
}

const SIZE = { 2: 1, 3: 2, 4: 4, 12: 8 } as const;

/** A directory as it stands at a place of the file. @param next place of the next one, 0: it is the last. */
export function directory(entries: Value[], at: number, next = 0): Uint8Array {
  let extra = 0;
  for (const e of entries) {
    const bytes = e.values.length * SIZE[e.type];
    if (bytes > 4) extra += bytes + (bytes % 2);
  }
  const table = 2 + 12 * entries.length + 4;
  const out = new Uint8Array(table + extra);
  const view = new DataView(out.buffer);
  view.setUint16(0, entries.length, true);
  let data = table;
  entries.forEach((e, i) => {
    const o = 2 + 12 * i;
    view.setUint16(o, e.tag, true);
    view.setUint16(o + 2, e.type, true);
    view.setUint32(o + 4, e.values.length, true);
    const bytes = e.values.length * SIZE[e.type];
    const place = bytes > 4 ? data : o + 8;
    if (bytes > 4) {
      view.setUint32(o + 8, at + data, true);
      data += bytes + (bytes % 2);
    }
    for (let k = 0; k < e.values.length; k++) {
      const v = typeof e.values === 'string' ? e.values.charCodeAt(k) : e.values[k];
      const p = place + k * SIZE[e.type];
      if (e.type === 2) out[p] = v;
      else if (e.type === 3) view.setUint16(p, v, true);
      else if (e.type === 4) view.setUint32(p, v, true);
      else view.setFloat64(p, v, true);
    }
  });
  view.setUint32(table - 4, next, true);
  return out;
}

/** Bytes of a directory. */
export const directorySize = (entries: Value[]): number => directory(entries, 0).length;
