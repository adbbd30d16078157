import { WEEK_S } from '@longheron/core/time';
import { type NavigationDifference } from '@longheron/contract/kinds/parts/soundings';
import { type Mounting } from '@longheron/core/frames';
import { Problem, type Notice } from '@longheron/core/shared';
import { LEVEL_SD_M, pathOfNavigation, type Levels, type Motion } from '@longheron/core/sonar';
import { compareTrajectories, type Trajectory } from '@longheron/core/trajectory';
import { type SonarFile } from '@longheron/formats/sonar';
import { type WaterLevel } from '@longheron/formats/water-level';
import { WATERLINE_SD_M } from './vessel';

/** Readings of a gauge for reduction. */
export const levelsOf = ({ week, sow, levelM, datumEllM, sdM }: WaterLevel): Levels => ({
  gpsS: sow.map((s, i) => week[i] * WEEK_S + s),
  levelM,
  datumEllM,
  sdM: sdM ?? LEVEL_SD_M,
});

/** Navigation and motion of a file as the path of the vessel. @throws Problem when either is missing. */
export function navigationPath(file: SonarFile, mounting: Mounting, levels: Levels | undefined): Trajectory {
  const [nav, motion] = [file.navigation(), file.motion()];
  if (!nav || !motion)
    throw new Problem(`The file holds no ${nav ? 'motion' : 'navigation'}, and no trajectory was given.`, {
      code: nav ? 'sonar-motion' : 'sonar-navigation',
      file: file.name,
      place: nav ? '/motion' : '/nav',
      remedy: 'Compute or import the trajectory of the vessel, and reduce with it.',
    });
  return pathOfNavigation(
    orderedNavigation(nav),
    orderedMotion(motion),
    levels,
    mounting.waterlineM ?? 0,
    mounting.waterlineSdM ?? WATERLINE_SD_M,
  );
}

/** Indices of rows in order of time, each time once. */
function inOrder(sow: Float64Array): number[] | undefined {
  let fine = true;
  for (let i = 1; i < sow.length; i++) if (!(sow[i] > sow[i - 1])) fine = false;
  if (fine) return undefined;
  const order = [...sow.keys()].filter((i) => Number.isFinite(sow[i])).sort((a, b) => sow[a] - sow[b]);
  return order.filter((i, k) => k === 0 || sow[i] > sow[order[k - 1]]);
}

type Navigation = NonNullable<ReturnType<SonarFile['navigation']>>;

function orderedNavigation(nav: Navigation): Navigation {
  const order = inOrder(nav.sow);
  if (!order) return nav;
  const pick = (v: Float64Array) => Float64Array.from(order, (i) => v[i]);
  const { sow, latRad, lonRad, hEllM, headingRad } = nav;
  return {
    ...nav,
    sow: pick(sow),
    latRad: pick(latRad),
    lonRad: pick(lonRad),
    hEllM: pick(hEllM),
    headingRad: pick(headingRad),
  };
}

/** Motion in order of time. */
export function orderedMotion(motion: Motion): Motion {
  const order = inOrder(motion.sow);
  if (!order) return motion;
  const pick = (v: Float64Array) => Float64Array.from(order, (i) => v[i]);
  const { sow, rollRad, pitchRad, headingRad, heaveM } = motion;
  return {
    ...motion,
    sow: pick(sow),
    rollRad: pick(rollRad),
    pitchRad: pick(pitchRad),
    headingRad: pick(headingRad),
    heaveM: pick(heaveM),
  };
}

/** How far real-time navigation and motion lie from a trajectory, at the times of the motion. */
export function navigationDifference(
  file: SonarFile,
  mounting: Mounting,
  trajectory: Trajectory,
): NavigationDifference | null {
  const [nav, motion] = [file.navigation(), file.motion()];
  if (!nav || !motion) return null;
  const realTime = pathOfNavigation(
    orderedNavigation(nav),
    orderedMotion(motion),
    undefined,
    mounting.waterlineM ?? 0,
    0,
  );
  let columns;
  try {
    ({ columns } = compareTrajectories(realTime, trajectory));
  } catch {
    return null;
  }
  const mean = (name: string) => columns.find((c) => c.name === name)?.mean ?? null;
  const rms = (name: string) => columns.find((c) => c.name === name)!.rms;
  return {
    north_m: mean('north')!,
    east_m: mean('east')!,
    height_m: heightDifference(nav, trajectory),
    plan_rms_m: Math.hypot(rms('north'), rms('east')),
    roll_deg: mean('roll'),
    pitch_deg: mean('pitch'),
    heading_deg: mean('heading'),
  };
}

function heightDifference(nav: Navigation, trajectory: Trajectory): number | null {
  const shift = (nav.week - trajectory.week) * WEEK_S;
  let [sum, n, at] = [0, 0, 0];
  for (let i = 0; i < nav.sow.length; i++) {
    const t = nav.sow[i] + shift;
    while (at + 1 < trajectory.sow.length && trajectory.sow[at + 1] <= t) at++;
    if (!Number.isFinite(nav.hEllM[i]) || t < trajectory.sow[0] || at + 1 >= trajectory.sow.length) continue;
    sum += nav.hEllM[i] - trajectory.hEllM[at];
    n++;
  }
  return n ? sum / n : null;
}

/** Says where navigation and trajectory differ more than either could be wrong. */
export function differenceNotice(d: NavigationDifference, file: string): Notice | undefined {
  const heading = Math.abs(d.heading_deg ?? 0) > 2;
  if (d.plan_rms_m < 5 && !heading) return undefined;
  return {
    code: 'navigation-differs',
    severity: 'warning',
    file,
    text: `Real-time navigation and trajectory lie ${d.plan_rms_m.toFixed(1)} m apart in plan (RMS)${heading ? `, headings ${d.heading_deg!.toFixed(1)}°` : ''}.`,
    effect: 'One of them has another time base, frame or reference point; the trajectory was used.',
    remedy: 'Check the time of the recording and the lever arms.',
  };
}
