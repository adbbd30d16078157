import {
  correctedGeoid,
  ELLIPSOIDAL,
  ellipsoidOfSystem,
  geoidOfCode,
  makeReferenceSystem,
  shiftByGrid,
  type Geoid,
  type GridName,
  type ReferenceSystem,
  type SystemDefinition,
} from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { geoidNamed, isSystemFile, shiftNamed, systemNamed } from './grids';
import { registry, systemDefinition, verticalOf } from './list';
import { projOf, type HeightsWkt } from './wkt';

const TEXT =
  /^\s*(?:(?:EPSG:)?(\d{4,6})|([\w.-]+)@([0-9a-f]{12}))(?:~([\w.-]+)@([0-9a-f]{12}))?(?:\s*\+\s*(?:(?:EPSG:)?(0|\d{4,6})|([\w.-]+)@([0-9a-f]{12})))?\s*$/i;

/** A system named by text, taken apart; heights undefined where the text says nothing of them. */
export interface NamedParts {
  plan: number | GridName;
  heights?: number | GridName;
  shift?: GridName;
}

/** The parts of a system's text; undefined for another text. */
export function systemParts(text: string): NamedParts | undefined {
  const match = TEXT.exec(text);
  if (!match) return undefined;
  const [, code, file, file12, by, by12, height, name, sha12] = match;
  const grid = (text: string, sha: string) => ({ name: text, sha12: sha.toLowerCase() });
  return {
    plan: file ? grid(file, file12) : Number(code),
    ...(name ? { heights: grid(name, sha12) } : height === undefined ? {} : { heights: Number(height) }),
    ...(by ? { shift: grid(by, by12) } : {}),
  };
}

/**
 * Parses `EPSG:25832+5773`, `25832+5773`, `EPSG:25832+GRID@SHA12` (heights above the geoid of a grid), `EPSG:25832`
 * (ellipsoidal heights) or `FILE@SHA12` (a system of well-known text) and builds the system.
 * @throws Problem for another text, or a file that is not at hand.
 */
export function parseSystem(text: string): ReferenceSystem {
  const parts = systemParts(text);
  if (!parts)
    throw new Problem(`"${text}" does not name a coordinate system.`, {
      code: 'crs-text',
      remedy: 'Write it as EPSG:25832+5773 (projected + height), or EPSG:25832 for ellipsoidal heights.',
    });
  return systemOf(parts.plan, parts.heights, parts.shift);
}

/**
 * The system of codes and files: plan, heights (0: ellipsoidal; undefined: those of the plan's file, else ellipsoidal), and
 * the grid of its datum. @throws Problem as `parseSystem`.
 */
export function systemOf(plan: number | GridName, heights?: number | GridName, shift?: GridName): ReferenceSystem {
  const file = typeof plan === 'object' ? systemNamed(plan) : undefined;
  const own = heights === undefined && file?.heights !== undefined;
  const base =
    typeof plan === 'object' ? fileDefinition(plan, heights ?? 0, shift) : systemDefinition(plan, heights ?? 0, shift);
  const text = own
    ? file.heights
    : typeof heights === 'object' && isSystemFile(heights)
      ? heightsIn(heights)
      : undefined;
  const definition: SystemDefinition = text
    ? {
        ...base,
        ...(own ? { heightsOfFile: true } : { heightsByText: true }),
        verticalName: text.name,
        verticalMetresPerUnit: text.unit.metres,
        ...(text.depths ? { depths: true } : {}),
      }
    : base;
  const geoid = text ? geoidOfHeights(text) : definition.grid && geoidNamed(definition.grid);
  const datum = shift && shiftByGrid(ellipsoidOfSystem(definition), shiftNamed(shift), shift.name);
  return makeReferenceSystem(definition, geoid, datum, file?.heights !== undefined);
}

function heightsIn(file: GridName): HeightsWkt {
  const { heights, name } = systemNamed(file);
  if (heights) return heights;
  throw new Problem(`“${name}” says nothing of heights.`, {
    code: 'crs-vertical',
    file: file.name,
    remedy: 'Choose what heights refer to otherwise.',
  });
}

/** The definition of a plan by a file of well-known text. @throws Problem when the file has heights alone. */
function fileDefinition(file: GridName, heights: number | GridName, shift?: GridName): SystemDefinition {
  const { plan, name } = systemNamed(file);
  if (!plan)
    throw new Problem(`“${name}” says nothing of plan.`, {
      code: 'crs-not-projected',
      file: file.name,
      remedy: 'Choose it for the heights of a system.',
    });
  const vertical = verticalOf(heights);
  const { geographic: g, unit } = plan;
  const listed = g.code === undefined ? undefined : registry()[String(g.code)]?.proj4;
  const shiftText = g.toWgs84
    ? `+towgs84=${g.toWgs84.join(',')}`
    : (/\+(?:towgs84|nadgrids)=\S+/.exec(listed ?? '')?.[0] ?? '');
  const prime = g.primeDeg ? ` +pm=${g.primeDeg}` : '';
  return {
    horizontalCode: 0,
    horizontalName: plan.site?.name ?? plan.name,
    file,
    proj4: `${projOf(plan.method, plan.values)} +a=${g.ellipsoid.aM} +rf=${g.ellipsoid.rf} ${shiftText}${prime} +units=m +no_defs`,
    metresPerUnit: unit.metres,
    ...(plan.site ? { site: plan.site.similarity } : {}),
    ...vertical,
    ...(shift ? { shift } : {}),
    shiftAccuracyM: null,
  };
}

/** The surface that heights of well-known text are counted from. */
function geoidOfHeights(h: HeightsWkt): Geoid {
  const base =
    h.base === 'ellipsoid'
      ? ELLIPSOIDAL
      : typeof h.base === 'object'
        ? geoidNamed(h.base)
        : geoidOfCode(h.base, h.name);
  const { correction } = h;
  const counted = h.depths ? ', asked for as depths, positive down' : '';
  if (!correction) return { ...base, name: h.name, statement: `${h.name}: ${base.statement}${counted}` };
  const level = correction.slopeNorth === 0 && correction.slopeEast === 0;
  const by =
    h.base === 'ellipsoid' && level
      ? `${h.name}: ${(-correction.offsetM).toFixed(4)} m above the ellipsoid`
      : `${h.name}: ${base.statement}, heights corrected by ${correction.offsetM.toFixed(4)} m${level ? '' : ' and a slope'}`;
  return correctedGeoid(base, correction, h.name, `${by}${counted}`);
}
