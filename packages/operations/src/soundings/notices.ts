import { type SoundingFigures } from '@longheron/contract/kinds/parts/soundings';
import { type Notice } from '@longheron/core/shared';

/** The speed at the head and that of a cast there differ by more only where the water has changed, m/s. */
const WATER_CHANGED_MPS = 1.5;
/** Older casts are named. */
const OLD_S = 4 * 3600;

const share = (n: number, of: number) => `${n} of ${of} (${((100 * n) / Math.max(1, of)).toFixed(1)} %)`;

/** What of a reduction a person must know. */
export function noticesOf(f: SoundingFigures): Notice[] {
  const out: Notice[] = [];
  const add = (code: string, severity: Notice['severity'], text: string, effect?: string, remedy?: string) =>
    out.push({ code, severity, text, effect, remedy });
  if (f.heights === 'relative')
    add(
      'relative-heights',
      'warning',
      `Heights are relative: they count from ${f.heights_above}.`,
      'They must not be compared with heights of the project; grids and reports of them say so.',
      'Reduce with a trajectory, or with water levels that state the height of their datum (datum_ell_m) and a mounting with its waterline.',
    );
  if (f.binned)
    add(
      'sonar-binned',
      'warning',
      'The recording was put into cells before it came here.',
      'Its points are cells, not detections: a grid of them is binned twice.',
    );
  if (f.outside)
    add(
      'outside-trajectory',
      f.outside > f.pings / 100 ? 'warning' : 'info',
      `${share(f.outside, f.pings)} pings lie outside the ${f.path === 'trajectory' ? 'trajectory' : 'navigation'} or in a gap of it.`,
      'They have no soundings.',
      'Check the time spans on the lanes.',
    );
  if (f.without_level)
    add(
      'water-level-gap',
      'warning',
      `For ${share(f.without_level, f.pings)} pings the gauge has no level: before its first reading, after its last, or in a gap of more than an hour.`,
      'They have no soundings.',
      'Bring the levels of the whole time, or reduce with a trajectory.',
    );
  if (f.doubtful)
    add(
      'soundings-doubtful',
      'info',
      `${share(f.doubtful, f.soundings)} soundings are graded low by the instrument.`,
      'They are in the cloud, rejected.',
      'Look at them with rejected points alone; take back what is real.',
    );
  if (f.without_surface_speed)
    add(
      'surface-speed',
      'warning',
      `${share(f.without_surface_speed, f.pings)} pings have no usable speed of sound at the head.`,
      'That of the cast was used: outer beams bend where the water has changed.',
    );
  for (const c of f.casts) {
    if (!c.pings) continue;
    if (Math.abs(c.surface_off_mps ?? 0) > WATER_CHANGED_MPS)
      add(
        'cast-old',
        'warning',
        `The speed measured at the head differs by up to ${Math.abs(c.surface_off_mps!).toFixed(1)} m/s from cast ${c.name}.`,
        'The water is another than when it was taken: outer beams bend up or down.',
        'Take a cast for these lines, or compare the lines by angle where they cross.',
      );
    else if (c.age_s > OLD_S)
      add(
        'cast-old',
        'info',
        `Cast ${c.name} is used up to ${(c.age_s / 3600).toFixed(1)} h away from when it was taken.`,
        'Outer beams bend where the water has changed.',
      );
  }
  return out;
}
