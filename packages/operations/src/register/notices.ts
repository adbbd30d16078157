import { type RegisterFigures } from '@longheron/contract/kinds/parts/register';
import { type LeftOut, type Unplaced } from '@longheron/core/terrestrial';
import { type ReportBuilder } from '../shared/report';

/** What a person has to know of it. */
export function noticesOf(builder: ReportBuilder, f: RegisterFigures): void {
  for (const r of f.rejected)
    builder.notice({
      code: 'register-rejected',
      severity: 'warning',
      place: [r.scan, r.target].filter(Boolean).join(', '),
      text: r.says,
      effect: 'It is left out; the others fit without it.',
      remedy: {
        sighting: 'Look whether it bears the name of another target, or was moved between scans.',
        control: 'Look at the mark.',
        station: 'Look whether scans or stations were named wrongly.',
      }[r.what],
    });
  for (const u of f.unplaced)
    builder.notice({
      code: `register-${u.why}`,
      severity: 'error',
      place: u.name,
      text: u.says,
      effect: 'It is not in the cloud.',
      remedy: {
        apart: 'Give targets that it shares with another, or a station with its bearing.',
        unlike: 'Look whether it is from another place, or stood far from where it is said to have been.',
        weak: 'Targets, a station that is known, or a scan that shows faces across this direction would hold it.',
      }[u.why],
    });
  for (const { a, b } of f.unlike)
    builder.notice({
      code: 'register-pair',
      severity: 'warning',
      place: `${a}, ${b}`,
      text: `The surfaces of ${a} and ${b} overlap and do not agree.`,
      effect: 'This pair does not count; others hold the scans.',
      remedy: 'Look at both in section.',
    });
  if (f.local)
    builder.notice({
      code: 'register-local',
      severity: 'warning',
      text: 'Nothing says where the scans lie: the cloud is in the frame of the first scan.',
      effect: 'Its coordinates are no places on the Earth.',
      remedy: 'Choose known targets, or stations.',
    });
}

/** What is wrong with something that was left out, in a sentence. */
export function saidOf(r: LeftOut): string {
  const off = Number.isFinite(r.offM)
    ? r.offM < 1
      ? `${(1000 * r.offM).toFixed(0)} mm`
      : `${r.offM.toFixed(2)} m`
    : '';
  if (r.what === 'control') return `The given place of ${r.target} is ${off || 'far'} off.`;
  if (r.what === 'sighting') return `${r.target} as seen in ${r.scan} is ${off || 'far'} off where the others see it.`;
  const other = r.standsAt ? ` It is where ${r.standsAt} stands.` : '';
  return `The station given for ${r.scan} is ${off} from where its targets place it.${other}`;
}

/** A direction in words: height, or its bearing in the grid. */
export function directionSaid([e, n, h]: readonly number[]): string {
  if (Math.abs(h) > Math.hypot(e, n)) return 'in height';
  const deg = ((Math.atan2(e, n) * 180) / Math.PI + 180) % 180;
  return `along bearing ${deg.toFixed(0)}°`;
}

/** Why a scan is not placed, in a sentence. */
export function whyUnplaced({ name, why, weakest: w }: Unplaced, inGrid: readonly number[] | null): string {
  if (why === 'apart') return `Nothing joins ${name} to the other scans.`;
  if (why === 'unlike') return `The surfaces of ${name} fit none of those that it overlaps.`;
  if (w && inGrid && w.sdM > w.sdTurnRad * 10)
    return `${name} is open ${directionSaid(inGrid)}: nothing that it shares with others faces that way.`;
  return `${name} may turn: nothing that it shares with others holds its attitude.`;
}
