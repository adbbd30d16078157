import { extremes } from '@longheron/core/numeric';
import { DEG } from '@longheron/core/frames';
import { WEEK_S } from '@longheron/core/time';
import { findGaps, nominalStepS, planDistanceM, plausibleEpochs, type Trajectory } from '@longheron/core/trajectory';
import { noteIn, toGaps, type FileFacts } from '../format/facts';

/** Facts and findings of a trajectory. */
export function inspectTrajectory(out: FileFacts, t: Trajectory): void {
  const n = t.sow.length;
  out.count = n;
  out.startGps = t.week * WEEK_S + t.sow[0];
  out.endGps = t.week * WEEK_S + t.sow[n - 1];
  const step = nominalStepS(t.sow);
  out.rateHz = step > 0 ? Number((1 / step).toFixed(3)) : null;
  out.gaps = toGaps(findGaps(t.sow), t.week);
  const min: [number, number, number] = [Infinity, Infinity, Infinity],
    max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  let length = 0;
  let zero = 0;
  const jumps: number[] = [];
  const plausible = plausibleEpochs(t);
  let absurd = 0;
  let first = -1;
  for (let i = 0; i < n; i++) {
    const isZero = t.latRad[i] === 0 && t.lonRad[i] === 0;
    if (isZero) zero++;
    if (!plausible[i]) {
      if (!isZero && absurd++ === 0) first = i;
      continue;
    }
    const p = [t.lonRad[i] / DEG, t.latRad[i] / DEG, t.hEllM[i]];
    for (let k = 0; k < 3; k++) {
      min[k] = Math.min(min[k], p[k]);
      max[k] = Math.max(max[k], p[k]);
    }
    if (i > 0 && plausible[i - 1]) {
      const d = planDistanceM(t, i - 1, i);
      length += d;
      if (d > 1 && d / (t.sow[i] - t.sow[i - 1]) > 150) jumps.push(i);
    }
  }
  out.extent = { min, max, crs: t.crs ?? null };
  out.details.push(['Epochs', String(n)], ['Length', `${length.toFixed(0)} m`], ['Point', t.point ?? 'not said']);
  const add = noteIn(out);
  if (!t.crs)
    add(
      'trajectory-crs',
      'error',
      'The trajectory does not say in which frame its coordinates are.',
      'It cannot be used before that is said.',
      'Choose the frame, for example ETRS89 (EPSG:4937).',
      'comment lines',
    );
  if (!t.rollRad)
    add(
      'trajectory-attitude',
      'warning',
      'The trajectory has no attitude.',
      'Laser returns cannot be placed with it.',
      'Use a trajectory computed with inertial data.',
    );
  if (!t.sdNM)
    add(
      'trajectory-sd',
      'warning',
      'The trajectory states no standard deviations.',
      'The precision of points will leave it out.',
      'Export it with standard deviations.',
    );
  if (zero)
    add(
      'trajectory-zero',
      'error',
      `${zero} epochs have latitude and longitude zero.`,
      'They lie in the Gulf of Guinea.',
      'Export the trajectory again without unsolved epochs.',
    );
  if (absurd)
    add(
      'trajectory-absurd',
      'error',
      `${absurd} epochs lie far from all others or at absurd heights, the first at second of week ${t.sow[first].toFixed(2)}.`,
      'Whatever was measured then is misplaced; they do not count where the trajectory lies.',
      'Export the trajectory again without them.',
    );
  if (jumps.length)
    add(
      'trajectory-jump',
      'warning',
      `${jumps.length} jumps of more than 150 m/s, the first at second of week ${t.sow[jumps[0]].toFixed(2)}.`,
      'Points near a jump are misplaced.',
      'Check the solution there.',
    );
  if (out.gaps.length)
    add(
      'trajectory-gap',
      'warning',
      `${out.gaps.length} gaps, the longest ${extremes(out.gaps.map((g) => g.lengthS))[1].toFixed(2)} s.`,
      'Returns inside gaps are left out.',
      'See them on the time lanes.',
    );
}
