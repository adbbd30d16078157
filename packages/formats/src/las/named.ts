import { type GridName, gridText } from '@longheron/core/frames';
import { findSystem } from '../crs';
import { crsCodesOf, type LasHeader } from './header';

/** A system as a file names it: codes, and grids of heights and of the datum by their content. */
export interface NamedSystem {
  horizontal: number;
  /** 0 when none is named that is known. */
  vertical: number | GridName;
  shift?: GridName;
}

/** The system that a file names; undefined without a system in plan. */
export function codesNamed(header: LasHeader): NamedSystem | undefined {
  const { horizontal, vertical, grid, shift } = crsCodesOf(header);
  if (!horizontal) return undefined;
  const code = vertical && findSystem(vertical)?.kind === 'vertical' ? vertical : 0;
  return { horizontal, vertical: grid ?? code, shift };
}

/** The system that a file names as text for `parseSystem`; '' when it names none. */
export function labelNamed(header: LasHeader): string {
  const named = codesNamed(header);
  if (!named) return '';
  const { horizontal, vertical, shift } = named;
  const heights = typeof vertical === 'object' ? `+${gridText(vertical)}` : vertical ? `+${vertical}` : '';
  return `EPSG:${horizontal}${shift ? `~${gridText(shift)}` : ''}${heights}`;
}
