import { type HeldFigures } from '@longheron/contract/kinds/adjustment';
import { type Adjustment } from '@longheron/core/laser';
import { angleDifference, type Strip } from '@longheron/core/trajectory';

/** How the lines lie to each other: all flown one way, both ways, or across each other. */
export function layoutOf(strips: readonly Strip[]): 'one way' | 'both ways' | 'crossing' {
  let [both, across] = [false, false];
  for (const a of strips)
    for (const b of strips) {
      const apart = Math.abs(angleDifference(a.headingRad, b.headingRad));
      if (apart > (5 / 6) * Math.PI) both = true;
      else if (apart > Math.PI / 6) across = true;
    }
  return across ? 'crossing' : both ? 'both ways' : 'one way';
}

const WHY_NOT: Readonly<Record<string, Readonly<Record<ReturnType<typeof layoutOf>, string>>>> = {
  pitch: {
    'one way':
      'no crossing line and all lines run one way: pitch moves all of them forwards alike, as a common shift in plan does',
    'both ways': 'too few slopes where lines run against each other, and no crossing line',
    crossing: 'too few slopes where lines cross',
  },
  roll: {
    'one way': 'lines that run one way tell roll only by the edges of their overlaps, which are too few',
    'both ways': 'overlaps are too narrow or too few',
    crossing: 'overlaps are too narrow or too few',
  },
  heading: {
    'one way': 'too few slopes in the overlaps',
    'both ways': 'too few slopes in the overlaps',
    crossing: 'too few slopes in the overlaps',
  },
};

/** What is held, and why, in words. */
export function heldOf(a: Adjustment, heads: readonly string[], strips: readonly Strip[]): HeldFigures[] {
  const layout = layoutOf(strips);
  const control = a.control.some((m) => m.used);
  const out: HeldFigures[] = a.parameters
    .filter((p) => p.held === 'not determined')
    .map((p) => ({
      what: heads.length > 1 ? `${p.name} of ${heads[p.head]}` : p.name,
      reason: WHY_NOT[p.name]?.[layout] ?? lengthReason(p.name, control),
      sd: Number.isFinite(p.sdFromLines) ? p.sdFromLines : null,
      unit: ['roll', 'pitch', 'heading'].includes(p.name) ? '°' : 'm',
    }));
  out.push({
    what: 'common plan shift',
    reason: 'a shift of everything in plan moves all lines alike; only the trajectory tells where they lie',
    sd: null,
    unit: '',
  });
  if (!control)
    out.push({
      what: 'common height',
      reason: 'no control mark entered: a shift of everything in height moves all lines alike',
      sd: null,
      unit: '',
    });
  return out;
}

function lengthReason(name: string, control: boolean): string {
  if (name === 'range' || name === 'lever z')
    return control
      ? 'heights above ground differ too little to tell it from the height of the trajectory'
      : 'without control marks it cannot be told from the height of the trajectory';
  return 'the lines do not tell it from the errors of the trajectory and the boresight';
}
