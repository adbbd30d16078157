import { createRequire } from 'node:module';
import {
  ellipsoidOfSystem,
  gridText,
  shiftByGrid,
  makeReferenceSystem,
  METRES_PER,
  type GridName,
  type ReferenceSystem,
  type SystemDefinition,
} from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { geoidNamed, shiftNamed } from './grids';

export * from './grids';

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
function registry(): Record<string, Entry> {
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
  const grid = typeof vertical === 'object' ? vertical : undefined;
  const code = typeof vertical === 'object' ? 0 : vertical;
  const height = code ? registry()[String(code)] : undefined;
  if (code && (!height || KINDS[height.kind] !== 'vertical'))
    throw new Problem(`EPSG:${code} is not a height system in the EPSG list.`, {
      code: 'crs-unknown',
      remedy: 'Give a height system, for example 5773 (EGM96 height).',
    });
  return {
    horizontalCode: horizontal,
    horizontalName: plan.name,
    proj4: plan.proj4,
    metresPerUnit: metresPerUnit(plan.unit, plan.proj4),
    verticalCode: code,
    verticalName: grid ? `height above the geoid ${grid.name}` : (height?.name ?? 'ellipsoidal height'),
    verticalMetresPerUnit: height ? metresPerUnit(height.unit, '') : 1,
    ...(grid ? { grid } : {}),
    ...(shift ? { shift } : {}),
    shiftAccuracyM: plan.accuracy,
  };
}

const TEXT =
  /^\s*(?:EPSG:)?(\d{4,6})(?:~([\w.-]+)@([0-9a-f]{12}))?(?:\s*\+\s*(?:(?:EPSG:)?(\d{4,6})|([\w.-]+)@([0-9a-f]{12})))?\s*$/i;

/**
 * Parses `EPSG:25832+5773`, `25832+5773`, `EPSG:25832+GRID@SHA12` (heights above the geoid of a grid) or `EPSG:25832`
 * (ellipsoidal heights) and builds the system. @throws Problem for another text, or a grid that is not at hand.
 */
export function parseSystem(text: string): ReferenceSystem {
  const match = TEXT.exec(text);
  if (!match)
    throw new Problem(`"${text}" does not name a coordinate system.`, {
      code: 'crs-text',
      remedy: 'Write it as EPSG:25832+5773 (projected + height), or EPSG:25832 for ellipsoidal heights.',
    });
  const [, plan, by, by12, height, name, sha12] = match;
  const grid = (text: string | undefined, sha: string) => (text ? { name: text, sha12: sha.toLowerCase() } : undefined);
  return systemOf(Number(plan), grid(name, sha12) ?? Number(height ?? 0), grid(by, by12));
}

/** The system of codes, with the grids of its heights and of its datum. @throws Problem as `parseSystem`. */
export function systemOf(horizontal: number, vertical: number | GridName, shift?: GridName): ReferenceSystem {
  const definition = systemDefinition(horizontal, vertical, shift);
  return makeReferenceSystem(
    definition,
    definition.grid && geoidNamed(definition.grid),
    shift && shiftByGrid(ellipsoidOfSystem(definition), shiftNamed(shift), shift.name),
  );
}

/** OGC 01-009 WKT 1 of the system, COMPD_CS when it has a height system. */
export function wktOfSystem(definition: SystemDefinition): string {
  const plan = registry()[String(definition.horizontalCode)]?.wkt;
  if (!plan)
    throw new Problem(`The EPSG list has no WKT for EPSG:${definition.horizontalCode}.`, {
      code: 'crs-wkt',
      remedy: 'Choose another system.',
    });
  const by = definition.shift ? `, shifted by ${gridText(definition.shift)}` : '';
  const named = (heights: string) => `${definition.horizontalName} + ${heights}${by}`;
  if (definition.grid) {
    // the extension is how WKT 1 names a grid; the text before it says which content is meant
    const { name } = definition.grid;
    const full = gridText(definition.grid);
    const datum = `VERT_DATUM["geoid ${full}",2005,EXTENSION["PROJ4_GRIDS","${name}"]]`;
    const vertical = `VERT_CS["height above the geoid ${full}",${datum},UNIT["metre",1,AUTHORITY["EPSG","9001"]],AXIS["Up",UP]]`;
    return `COMPD_CS["${named(`height above the geoid ${name}`)}",${plan},${vertical}]`;
  }
  if (!definition.verticalCode) {
    const vertical =
      'VERT_CS["Ellipsoidal height",VERT_DATUM["Ellipsoid",2002],UNIT["metre",1,AUTHORITY["EPSG","9001"]],AXIS["Up",UP]]';
    return `COMPD_CS["${named('ellipsoidal height')}",${plan},${vertical}]`;
  }
  const height = registry()[String(definition.verticalCode)]?.wkt;
  return `COMPD_CS["${named(definition.verticalName)}",${plan},${height}]`;
}

/** UTM zone on ETRS89 (Europe) or WGS 84 that holds a place: a proposal, never applied by itself. */
export function proposeSystem(latDeg: number, lonDeg: number): SystemEntry | undefined {
  const zone = Math.min(60, Math.max(1, Math.floor((lonDeg + 180) / 6) + 1));
  const europe = latDeg > 34 && latDeg < 72 && zone >= 28 && zone <= 38;
  return findSystem(europe ? 25800 + zone : (latDeg >= 0 ? 32600 : 32700) + zone);
}

/** The grid that heights refer to in a WKT or citation of ours; undefined when it names none. */
export function gridNamed(text: string): GridName | undefined {
  const match = /geoid ([\w.-]+)@([0-9a-f]{12})/.exec(text);
  return match ? { name: match[1], sha12: match[2] } : undefined;
}

/** The grid by which plan is shifted in a WKT of ours; undefined when it names none. */
export function shiftGridNamed(text: string): GridName | undefined {
  const match = /shifted by ([\w.-]+)@([0-9a-f]{12})/.exec(text);
  return match ? { name: match[1], sha12: match[2] } : undefined;
}
