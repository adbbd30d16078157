import { type GridName, gridText } from '@longheron/core/frames';
import { findSystem } from '../crs';
import { crsCodesOf, type LasHeader } from './header';

/** A system as a file names it: codes, or files and grids by their content. */
export interface NamedSystem {
  plan: number | GridName;
  /** 0: ellipsoidal, or none that is known; undefined: those of the plan's file. */
  vertical?: number | GridName;
  shift?: GridName;
}

/** The system that a file names; undefined without a system in plan. */
export function codesNamed(header: LasHeader): NamedSystem | undefined {
  const { horizontal, vertical, file, grid, shift } = crsCodesOf(header);
  const plan = file ?? horizontal;
  if (!plan) return undefined;
  const known = vertical && findSystem(vertical)?.kind === 'vertical' ? vertical : 0;
  const own = file !== undefined && vertical === undefined;
  return { plan, vertical: grid ?? (own ? undefined : known), shift };
}

/** The system that a file names as text for `parseSystem`; '' when it names none. */
export function labelNamed(header: LasHeader): string {
  const named = codesNamed(header);
  if (!named) return '';
  const { plan, vertical, shift } = named;
  const file = typeof plan === 'object';
  const none = file && vertical === 0 ? '+0' : '';
  const heights = typeof vertical === 'object' ? `+${gridText(vertical)}` : vertical ? `+${vertical}` : none;
  return `${file ? gridText(plan) : `EPSG:${plan}`}${shift ? `~${gridText(shift)}` : ''}${heights}`;
}
