import { findSystem } from '../crs';
import { crsCodesOf, type LasHeader } from './header';

/** Codes of the system that a file names, heights 0 when it names none that is known; undefined without a system in plan. */
export function codesNamed(header: LasHeader): { horizontal: number; vertical: number } | undefined {
  const { horizontal, vertical } = crsCodesOf(header);
  if (!horizontal) return undefined;
  return { horizontal, vertical: vertical && findSystem(vertical)?.kind === 'vertical' ? vertical : 0 };
}

/** The system that a file names as text for `parseSystem`; '' when it names none. */
export function labelNamed(header: LasHeader): string {
  const codes = codesNamed(header);
  return codes ? `EPSG:${codes.horizontal}${codes.vertical ? `+${codes.vertical}` : ''}` : '';
}
