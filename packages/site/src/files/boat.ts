import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import { castsOf, castsText, CHANNELS, gaugeText, realTime, scanLine, SOUNDER, soundLine, tideOf } from '../boat';
import { GPS_WEEK, NOISE_FACTOR, type TrueDrive } from '../drive';
import { siteVoyage } from './journeys';
import { JOURNEY_FILES, type SiteOptions } from './names';
import { type SiteWriters } from './writers';

/** Recording begins so long after the boat has turned in, and ends so long before it turns away, seconds. */
const TRIM_S = 5;

/** When each line is recorded. */
export const recorded = (voyage: TrueDrive) =>
  voyage.passes.map(({ startSow, endSow }) => ({ startSow: startSow + TRIM_S, endSow: endSow - TRIM_S }));

/** The five lines of the boat with soundings and side-scan, casts and water levels. */
export async function makeBoatFiles(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  { seed, level }: SiteOptions,
  progress?: (f: number) => void,
): Promise<void> {
  const f = JOURNEY_FILES;
  const voyage = siteVoyage(system);
  const factor = NOISE_FACTOR[level];
  const tide = tideOf(voyage);
  await writeFile(join(folder, f.boatCasts), castsText(castsOf(voyage, system, tide, seed, factor)));
  await writeFile(join(folder, f.gauge), gaugeText(voyage, system, seed, factor));
  const names = [f.boatLine1, f.boatLine2, f.boatLine3, f.boatLine4, f.boatLine5];
  for (const [k, span] of recorded(voyage).entries()) {
    const done = (part: number) => progress?.((k + part) / names.length);
    const { pings } = soundLine(voyage, system, span, tide, seed + k, factor, (p) => done(0.7 * p));
    const channels = CHANNELS.map((c) => {
      const scan = scanLine(voyage, system, span, tide, c, seed + k, factor);
      const { name, samples, sampleS, frequencyHz } = c;
      const { sow, port, starboard } = scan;
      return { name, samples, sampleS, firstS: 0, frequencyHz, sow, port, starboard };
    });
    await writers.sonar(join(folder, names[k]), {
      info: {
        week: GPS_WEEK,
        sonar: SOUNDER.name,
        frequencyHz: SOUNDER.frequencyHz,
        beamwidthAcrossDeg: SOUNDER.beamwidthDeg,
        beamwidthAlongDeg: SOUNDER.beamwidthDeg,
        pulseS: SOUNDER.pulseS,
        binned: false,
        rangeSdM: SOUNDER.rangeM,
        angleSdDeg: SOUNDER.angleDeg,
        surfaceSpeedSdMps: SOUNDER.surfaceMps,
      },
      ...realTime(voyage, system, span, seed + k, factor),
      pings,
      channels,
    });
    done(1);
  }
}
