import { SoundingReducer, VesselPath } from '@longheron/core/sonar';
import { parseSystem } from '@longheron/formats/crs';
import { castsOf, LATENCY_S, realTime, soundLine, SOUNDER, tideOf, TRUE_HEAD, WATERLINE_M } from '@longheron/site/boat';
import { trueTrajectory } from '@longheron/site/drive';
import { trueVoyage } from '@longheron/site/journeys';
import { SITE_SYSTEM } from '@longheron/site/terrain';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;
/** Pings of ten seconds, again and again, with times of their own. */
const REPEATS = 40;
const TARGET_PER_S = 0.5e6;

/** Soundings from arrays in memory to coordinates and three deviations, with rays through layered water. */
export function benchSoundings(line: Line): void {
  const system = parseSystem(SITE_SYSTEM);
  const drive = trueVoyage(207_000);
  const tide = tideOf(drive);
  const { startSow } = drive.passes[1];
  const span = { startSow: startSow + 10, endSow: startSow + 20 };
  const { pings } = soundLine(drive, system, span, tide, 1, 1);
  const casts = castsOf(drive, system, tide, 1, 1);
  const { motion } = realTime(drive, system, span, 1, 1);
  const trajectory = trueTrajectory(drive, system, 100, span.startSow - 2, span.endSow + 2);
  const vessel = { sensor: TRUE_HEAD, latencyS: LATENCY_S, latencySdS: 0.001, waterlineM: WATERLINE_M };
  const noise = { rangeSdM: SOUNDER.rangeM, angleSdDeg: SOUNDER.angleDeg, surfaceSpeedSdMps: SOUNDER.surfaceMps };
  const reducer = new SoundingReducer(new VesselPath(trajectory, system), vessel, casts, 'time', noise, motion);
  let count = 0;
  reducer.reduce(pings);
  const began = performance.now();
  for (let k = 0; k < REPEATS; k++) count += reducer.reduce(pings).count;
  const perS = count / ((performance.now() - began) / 1000);
  line(
    'soundings, ray tracing and uncertainty',
    `${(perS / 1e6).toFixed(2)} million/s`,
    '>= 0.5 million/s',
    perS >= TARGET_PER_S,
  );
}
