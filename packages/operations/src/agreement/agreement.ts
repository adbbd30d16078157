import { stripAgreement, type AgreementSettings, type StripAgreement } from '@longheron/core/accuracy';
import { LAS_CLASS } from '@longheron/core/cloud';
import { tick, type Notice, type Watch } from '@longheron/core/shared';
import { readPoints, type EditableCloud } from '../shared/stored/cloud';

/** How the strips of a stored cloud agree. @param groundOnly leaves everything but ground out. */
export async function agreementOf(
  cloud: EditableCloud,
  settings: AgreementSettings,
  groundOnly: boolean,
  watch?: Watch,
): Promise<StripAgreement> {
  tick(watch, 0, 'Reading the cloud');
  const { set, skip, strip, sdM, classes } = await readPoints(cloud);
  if (groundOnly) classes.forEach((cls, i) => (skip[i] ||= cls === LAS_CLASS.ground ? 0 : 1));
  return stripAgreement(set, skip, strip, sdM, settings, watch);
}

/** Found differences this many times the expected ones are said. */
const MUCH_WORSE = 1.5;

/** What speaks against strips, and what of it the stated precision does not explain. */
export function agreementNotices(a: StripAgreement, toleranceM: number): Notice[] {
  const out: Notice[] = [];
  const cm = (m: number) => `${(100 * m).toFixed(1)} cm`;
  if (a.cells === 0)
    out.push({
      code: 'strips-apart',
      severity: 'warning',
      text: 'No two strips could be compared anywhere.',
      effect: 'Nothing is known of how they agree.',
      remedy: 'Take larger cells, or fewer points in each; strips that do not overlap prove nothing.',
    });
  const worst = a.pairs.filter((p) => p.rmsM > toleranceM).sort((p, q) => q.rmsM - p.rmsM)[0];
  if (worst)
    out.push({
      code: 'strips-differ',
      severity: 'warning',
      place: `strips ${worst.first} and ${worst.second}`,
      text: `Strips ${worst.first} and ${worst.second} differ by ${cm(worst.rmsM)} RMS, more than the tolerance of ${cm(toleranceM)}.`,
      effect: 'Where both lie the surface is doubled.',
      remedy: 'Look at the trajectory over these strips, and at the mounting.',
    });
  const unexplained = a.pairs.filter((p) => p.rmsM > MUCH_WORSE * p.expectedM && p.cells >= 10);
  if (unexplained.length) {
    const [p] = unexplained.sort((x, y) => y.rmsM / y.expectedM - x.rmsM / x.expectedM);
    out.push({
      code: 'strips-unexplained',
      severity: 'warning',
      place: `strips ${p.first} and ${p.second}`,
      text: `The trajectory states a precision that lets ${cm(p.expectedM)} expect between strips ${p.first} and ${p.second}; ${cm(p.rmsM)} are found.`,
      effect: 'The stated precision is too good: something is not in it.',
      remedy: 'Check mounting, base position and satellites over these strips.',
    });
  }
  return out;
}
