import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import { castScan, scanners, spheresText, stationsText, targetsText } from '../scans';
import { JOURNEY_FILES, type SiteOptions } from './names';
import { type SiteWriters } from './writers';

/** Degrees between beams: wide, so that six scans are made in seconds. */
const STEP_DEG = 0.35;

/** The scans of the six stands, targets as their instrument listed them, surveyed spheres and stations. */
export async function makeScanFiles(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  { seed, level }: SiteOptions,
  progress?: (f: number) => void,
): Promise<void> {
  const f = JOURNEY_FILES;
  await writeFile(join(folder, f.scanTargets), targetsText(seed, level, system));
  await writeFile(join(folder, f.scanSpheres), spheresText(seed));
  await writeFile(join(folder, f.scanStations), stationsText(seed, system));
  const names = [f.stand1, f.stand2, f.stand3, f.stand4, f.stand5, f.stand6];
  for (const [k, scanner] of scanners(seed, system).entries()) {
    await writers.scan(join(folder, names[k]), castScan(scanner, system, { seed, level, stepDeg: STEP_DEG }));
    progress?.((k + 1) / names.length);
  }
}
