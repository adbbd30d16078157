import { type GridName, gridText } from '@longheron/core/frames';
import { findSystem } from '../crs';
import { crsCodesOf, type LasHeader } from './header';

/**
 * Codes of the system that a file names; heights by code or by the grid of a geoid, 0 when it names none that is known.
 * @returns undefined without a system in plan.
 */
export function codesNamed(header: LasHeader): { horizontal: number; vertical: number | GridName } | undefined {
  const { horizontal, vertical, grid } = crsCodesOf(header);
  if (!horizontal) return undefined;
  return { horizontal, vertical: grid ?? (vertical && findSystem(vertical)?.kind === 'vertical' ? vertical : 0) };
}

/** The system that a file names as text for `parseSystem`; '' when it names none. */
export function labelNamed(header: LasHeader): string {
  const codes = codesNamed(header);
  if (!codes) return '';
  const { horizontal, vertical } = codes;
  return `EPSG:${horizontal}${typeof vertical === 'object' ? `+${gridText(vertical)}` : vertical ? `+${vertical}` : ''}`;
}
