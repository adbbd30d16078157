import { createRequire } from 'node:module';
import { METRES_PER, type GridName, type SystemDefinition } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';

interface Entry {
  code: string;
  kind: string;
  name: string;
  wkt: string | null;
  proj4: string;
  bbox: [number, number, number, number] | null;
  unit: string | null;
  area: string | null;
  accuracy: number | null;
}

let list: Record<string, Entry> | undefined;

/** The EPSG list as epsg-index carries it; loaded once, on first use. */
export function registry(): Record<string, Entry> {
  list ??= createRequire(import.meta.url)('epsg-index/all.json') as Record<string, Entry>;
  return list;
}

export interface SystemEntry {
  code: number;
  name: string;
  kind: 'projected' | 'vertical' | 'compound' | 'geographic';
  area: string;
  /** North, west, south, east, degrees. */
  bbox: [number, number, number, number] | null;
  unit: string | null;
  proj4: string;
}

const KINDS: Record<string, SystemEntry['kind']> = {
  'CRS-PROJCRS': 'projected',
  'CRS-VERTCRS': 'vertical',
  'CRS-COMPOUNDCRS': 'compound',
  'CRS-GEOGCRS': 'geographic',
  'CRS-GEOG3DCRS': 'geographic',
};

function toEntry(e: Entry): SystemEntry {
  return {
    code: Number(e.code),
    name: e.name,
    kind: KINDS[e.kind],
    area: e.area ?? '',
    bbox: e.bbox,
    unit: e.unit,
    proj4: e.proj4,
  };
}

/** Systems whose code, name or area holds every word of the query; best matches first. */
export function searchSystems(query: string, kind?: SystemEntry['kind'], limit = 30): SystemEntry[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const scored: Array<[number, SystemEntry]> = [];
  for (const e of Object.values(registry())) {
    const k = KINDS[e.kind];
    if (!k || (kind && k !== kind)) continue;
    const name = e.name.toLowerCase();
    const all = `${e.code} ${name} ${(e.area ?? '').toLowerCase()}`;
    if (!words.every((w) => all.includes(w))) continue;
    const score = words.reduce((s, w) => s + (e.code === w ? 100 : name.includes(w) ? 10 : 1), 0) - name.length / 100;
    scored.push([score, toEntry(e)]);
  }
  return scored
    .sort((a, b) => b[0] - a[0])
    .slice(0, limit)
    .map(([, e]) => e);
}

export function findSystem(code: number): SystemEntry | undefined {
  const e = registry()[String(code)];
  return e && KINDS[e.kind] ? toEntry(e) : undefined;
}

function metresPerUnit(unit: string | null, proj: string): number {
  if (/us-ft/.test(proj) || /US survey foot/i.test(unit ?? '')) return METRES_PER.usSurveyFoot;
  if (/units=ft/.test(proj) || /^foot$/i.test(unit ?? '')) return METRES_PER.foot;
  const factor = /\+to_meter=([\d.eE+-]+)/.exec(proj);
  return factor ? Number(factor[1]) : 1;
}

/** The definition of `horizontal` with heights in `vertical` (0: ellipsoidal), or above the geoid of a grid. */
export function systemDefinition(horizontal: number, vertical: number | GridName, shift?: GridName): SystemDefinition {
  const plan = registry()[String(horizontal)];
  if (!plan || KINDS[plan.kind] !== 'projected')
    throw new Problem(`EPSG:${horizontal} is not a projected coordinate system in the EPSG list.`, {
      code: 'crs-unknown',
      remedy: 'Give a projected system, for example EPSG:25832.',
    });
  return {
    horizontalCode: horizontal,
    horizontalName: plan.name,
    proj4: plan.proj4,
    metresPerUnit: metresPerUnit(plan.unit, plan.proj4),
    ...verticalOf(vertical),
    ...(shift ? { shift } : {}),
    shiftAccuracyM: plan.accuracy,
  };
}

export type Vertical = Pick<SystemDefinition, 'verticalCode' | 'verticalName' | 'verticalMetresPerUnit' | 'grid'>;

/** Heights by the code of the list, 0 for ellipsoidal ones, or by a file. */
export function verticalOf(vertical: number | GridName): Vertical {
  const grid = typeof vertical === 'object' ? vertical : undefined;
  const code = typeof vertical === 'object' ? 0 : vertical;
  const height = code ? registry()[String(code)] : undefined;
  if (code && (!height || KINDS[height.kind] !== 'vertical'))
    throw new Problem(`EPSG:${code} is not a height system in the EPSG list.`, {
      code: 'crs-unknown',
      remedy: 'Give a height system, for example 5773 (EGM96 height).',
    });
  return {
    verticalCode: code,
    verticalName: grid ? `height above the geoid ${grid.name}` : (height?.name ?? 'ellipsoidal height'),
    verticalMetresPerUnit: height ? metresPerUnit(height.unit, '') : 1,
    ...(grid ? { grid } : {}),
  };
}

/** UTM zone on ETRS89 (Europe) or WGS 84 that holds a place: a proposal, never applied by itself. */
export function proposeSystem(latDeg: number, lonDeg: number): SystemEntry | undefined {
  const zone = Math.min(60, Math.max(1, Math.floor((lonDeg + 180) / 6) + 1));
  const europe = latDeg > 34 && latDeg < 72 && zone >= 28 && zone <= 38;
  return findSystem(europe ? 25800 + zone : (latDeg >= 0 ? 32600 : 32700) + zone);
}
