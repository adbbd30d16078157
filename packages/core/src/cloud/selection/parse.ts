import { Problem } from '../../shared/problem';
import {
  ECHO_KINDS,
  type AboveGround,
  type EchoKind,
  type Selection,
  type SelectionFilter,
  type SelectionLine,
  type SelectionRegion,
  type SelectionShape,
} from './types';

const MAX_NUMBERS = 20_000;
/** Areas of files have many corners: what a request of two megabytes holds. */
export const MAX_PLAN_CORNERS = 60_000;
const MAX_REGIONS = 500;

/** Reads a selection as it comes from outside. @throws Problem that names the member at fault. */
export function parseSelection(json: unknown): Selection {
  const s = object(json, 'selection');
  const regions = list(s.regions, 'regions', MAX_REGIONS);
  return {
    regions: regions.map((r, i): SelectionRegion => {
      const at = `regions[${i}]`;
      const { mode, shape } = object(r, at);
      if (mode !== 'add' && mode !== 'subtract' && mode !== 'within')
        throw wrong(`${at}.mode`, 'add, subtract or within');
      return { mode, shape: shapeOf(shape, `${at}.shape`) };
    }),
    inverted: s.inverted === true,
    filter: filterOf(s.filter),
  };
}

function wrong(place: string, needed: string): Problem {
  return new Problem(`${place} of the selection must be ${needed}.`, {
    code: 'selection',
    place,
    remedy: 'Draw the selection again.',
  });
}

function object(value: unknown, place: string): Record<string, unknown> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw wrong(place, 'an object');
  return value as Record<string, unknown>;
}

function list(value: unknown, place: string, most: number): unknown[] {
  if (!Array.isArray(value) || value.length > most) throw wrong(place, `a list of at most ${most}`);
  return value;
}

function numbers(value: unknown, place: string, least: number, most = MAX_NUMBERS): number[] {
  const v = list(value, place, most);
  if (v.length < least || !v.every((n) => typeof n === 'number' && Number.isFinite(n)))
    throw wrong(place, `at least ${least} numbers`);
  return v as number[];
}

const corners = (value: unknown, place: string, most = MAX_NUMBERS): number[] => {
  if (Array.isArray(value) && value.length > most)
    throw new Problem(`The area has ${value.length / 2} corners; ${most / 2} are the most that can select.`, {
      code: 'selection',
      place,
      remedy: 'Use an area with fewer corners, or split it into several.',
    });
  const v = numbers(value, place, 6, most);
  if (v.length % 2) throw wrong(place, 'pairs of numbers');
  return v;
};

const pair = (value: unknown, place: string) => numbers(value, place, 2, 2) as [number, number];

function above(value: unknown, place: string): number {
  if (typeof value !== 'number' || !(value > 0) || !Number.isFinite(value)) throw wrong(place, 'a number above zero');
  return value;
}

function lineOf(value: unknown, place: string): SelectionLine {
  const l = object(value, place);
  return {
    from: pair(l.from, `${place}.from`),
    to: pair(l.to, `${place}.to`),
    widthM: above(l.widthM, `${place}.widthM`),
  };
}

function shapeOf(value: unknown, place: string): SelectionShape {
  const s = object(value, place);
  const line = () => lineOf(s.line, `${place}.line`);
  if (s.kind === 'view')
    return {
      kind: 'view',
      matrix: numbers(s.matrix, `${place}.matrix`, 16, 16),
      polygon: corners(s.polygon, `${place}.polygon`),
    };
  if (s.kind === 'plan')
    return {
      kind: 'plan',
      polygon: corners(s.polygon, `${place}.polygon`, 2 * MAX_PLAN_CORNERS),
      ...(s.heightM === undefined ? {} : { heightM: pair(s.heightM, `${place}.heightM`) }),
    };
  if (s.kind === 'section') return { kind: 'section', line: line(), polygon: corners(s.polygon, `${place}.polygon`) };
  if (s.kind === 'brush') {
    const path = numbers(s.path, `${place}.path`, 2);
    if (path.length % 2) throw wrong(`${place}.path`, 'pairs of numbers');
    return {
      kind: 'brush',
      line: line(),
      path,
      alongM: above(s.alongM, `${place}.alongM`),
      heightM: above(s.heightM, `${place}.heightM`),
    };
  }
  if (s.kind === 'rows') {
    if (typeof s.object !== 'string' || !/^[0-9a-f]{64}$/.test(s.object)) throw wrong(`${place}.object`, 'an object');
    return { kind: 'rows', object: s.object, name: String(s.name ?? '').slice(0, 120) };
  }
  throw wrong(`${place}.kind`, 'view, plan, section, brush or rows');
}

function echoesOf(value: unknown): EchoKind[] {
  const v = list(value, 'filter.echoes', ECHO_KINDS.length);
  if (!v.every((e) => ECHO_KINDS.includes(e as EchoKind))) throw wrong('filter.echoes', ECHO_KINDS.join(', '));
  return v as EchoKind[];
}

function heightsOf(value: unknown): AboveGround {
  const a = object(value, 'filter.above');
  const [minX, minY] = numbers([a.minX, a.minY], 'filter.above', 2, 2);
  if (typeof a.object !== 'string' || !/^[0-9a-f]{64}$/.test(a.object)) throw wrong('filter.above.object', 'an object');
  return {
    object: a.object,
    cellM: above(a.cellM, 'filter.above.cellM'),
    minX,
    minY,
    columns: above(a.columns, 'filter.above.columns'),
    rows: above(a.rows, 'filter.above.rows'),
    rangeM: pair(a.rangeM, 'filter.above.rangeM'),
  };
}

function filterOf(value: unknown): SelectionFilter {
  const f = object(value, 'filter');
  const { rejected } = f;
  if (rejected !== 'hidden' && rejected !== 'shown' && rejected !== 'only')
    throw wrong('filter.rejected', 'hidden, shown or only');
  return {
    hiddenClasses: numbers(f.hiddenClasses, 'filter.hiddenClasses', 0, 256),
    rejected,
    ...(f.time ? { time: pair(f.time, 'filter.time') } : {}),
    ...(f.strips ? { strips: numbers(f.strips, 'filter.strips', 0) } : {}),
    ...(f.clip ? { clip: lineOf(f.clip, 'filter.clip') } : {}),
    ...(f.intensity ? { intensity: pair(f.intensity, 'filter.intensity') } : {}),
    ...(f.echoes ? { echoes: echoesOf(f.echoes) } : {}),
    ...(f.sdMostM === undefined ? {} : { sdMostM: above(f.sdMostM, 'filter.sdMostM') }),
    ...(f.heightM ? { heightM: pair(f.heightM, 'filter.heightM') } : {}),
    ...(f.above ? { above: heightsOf(f.above) } : {}),
  };
}

/** Reads what is to be done. @throws Problem */
export function parseAct(json: unknown): { kind: 'class'; to: number } | { kind: 'reject' } | { kind: 'restore' } {
  const a = object(json, 'act');
  if (a.kind === 'reject' || a.kind === 'restore') return { kind: a.kind };
  if (a.kind === 'class' && Number.isInteger(a.to) && (a.to as number) >= 0 && (a.to as number) <= 255)
    return { kind: 'class', to: a.to as number };
  throw wrong('act', 'reject, restore, or a class from 0 to 255');
}
