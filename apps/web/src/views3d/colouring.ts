import { shallowRef } from 'vue';
import { LAS_CLASS_NAMES } from '@longheron/core/cloud';
import { type CloudIndex } from '@longheron/contract/api';
import { CLASS_COLOURS } from '../ui/colour';

const COLOURINGS = ['height', 'intensity', 'true', 'class', 'strip', 'time', 'echo', 'precision', 'above'] as const;
export type Colouring = (typeof COLOURINGS)[number];

/** What a cloud can be coloured by; true colour where its file has colours. */
export const colouringsOf = (index: CloudIndex | undefined): Colouring[] =>
  COLOURINGS.filter((c) => c !== 'true' || index?.objects.colour);

/** What a cloud is shown by when `wanted` is asked for: another cloud may have had colours. */
export const colouringFor = (index: CloudIndex | undefined, wanted: Colouring): Colouring =>
  wanted === 'true' && !index?.objects.colour ? 'height' : wanted;

export const isColouring = (name: string): name is Colouring => name in COLOURING_NAMES;
export const COLOURING_NAMES: Record<Colouring, string> = {
  height: 'height',
  intensity: 'intensity',
  true: 'true colour',
  class: 'class',
  strip: 'strip',
  time: 'time',
  echo: 'echo',
  precision: 'stated precision of height',
  above: 'height above ground',
};

/** Colourings with a scale; the others have a colour for each code. */
export const SCALED: Colouring[] = ['height', 'intensity', 'time', 'precision', 'above'];

export interface Scale {
  /** Whole reach of the legend, in the unit of the column. */
  least: number;
  most: number;
  /** What it starts with: 2nd and 98th percentile. */
  low: number;
  high: number;
  unit: string;
  digits: number;
  /** Shown value = factor × value of the column. */
  factor: number;
}

/** Reach and starting limits of a colouring's legend. Heights are metres in the cloud's system, time seconds. */
export function scaleOf(index: CloudIndex, colouring: Colouring, timeSpanS: number): Scale {
  const [least, low, high, most] = index.ranges[colouring] ?? [0, 0, 1, 1];
  const widened = (a: number, b: number, c: number, d: number): [number, number, number, number] => {
    // a single stray point must not make the legend's slider useless
    const reach = Math.max(1e-9, c - b);
    return [Math.max(a, b - reach), b, c, Math.min(d, c + reach)];
  };
  if (colouring === 'time')
    return { least: 0, low: 0, high: timeSpanS, most: timeSpanS, unit: 's', digits: 0, factor: 1 };
  // most of what stands on the ground is lower
  if (colouring === 'above') return { least: -2, low: 0, high: 12, most: 40, unit: 'm', digits: 2, factor: 1 };
  const [a, b, c, d] = widened(least, low, high, most);
  if (colouring === 'height') return { least: a, low: b, high: c, most: d, unit: 'm', digits: 2, factor: 1 };
  if (colouring === 'precision') return { least: 0, low: b, high: c, most: d, unit: 'cm', digits: 2, factor: 100 };
  return { least: a, low: b, high: c, most: d, unit: '', digits: 0, factor: 1 };
}

/** Names of the LAS standard, as they are written within a line. */
const CLASS_NAMES = Object.fromEntries(Object.entries(LAS_CLASS_NAMES).map(([c, name]) => [c, name.toLowerCase()]));
/** A class of the project's own. */
export interface OwnClass {
  code: number;
  name: string;
  /** As #rrggbb. */
  colour: string;
}

/** The classes of the project that is open; views follow when they change. */
const own = shallowRef<Record<number, OwnClass>>({});
export const setOwnClasses = (list: OwnClass[]) => (own.value = Object.fromEntries(list.map((c) => [c.code, c])));

export const className = (c: number) => own.value[c]?.name ?? CLASS_NAMES[c] ?? `class ${c}`;
export const classColour = (c: number) => own.value[c]?.colour ?? CLASS_COLOURS[c] ?? '#9fb3b8';
