import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import { castScan } from '../scans';
import { RUN_SCANS, runScanners, runXml, totalStationRun, WRONG_TARGET } from '../totalStation';
import { JOURNEY_FILES, type SiteOptions } from './names';
import { type SiteWriters } from './writers';

/** Degrees between beams: the instrument scans slowly. */
const STEP_DEG = 0.6;
/** Named in the job and not packed with it. */
export const LOST_PICTURE = 'pictures/quay_wall.jpg';

/** The run of the total station packed with the scans that it took: one archive. */
export async function makeTotalStationFile(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  { seed, level }: SiteOptions,
  stepDeg = STEP_DEG,
): Promise<void> {
  const run = totalStationRun(seed, level, system, { targetHeight: WRONG_TARGET });
  const xml = runXml(run, {
    files: [
      ...RUN_SCANS.map(({ setUp, name }) => ({ code: 'scan' as const, setUp, location: `scans/${name}.las` })),
      { code: 'image' as const, setUp: RUN_SCANS[1].setUp, location: LOST_PICTURE },
    ],
  });
  const aside = await mkdtemp(join(tmpdir(), 'longheron-site-'));
  try {
    const files: { [name: string]: Uint8Array } = { 'depot_quay.xml': new TextEncoder().encode(xml) };
    for (const scanner of runScanners(run, system)) {
      const path = join(aside, `${scanner.name}.las`);
      await writers.scan(path, castScan(scanner, system, { seed, level, stepDeg }));
      files[`scans/${scanner.name}.las`] = await readFile(path);
    }
    await writeFile(join(folder, JOURNEY_FILES.totalStation), writers.archive(files));
  } finally {
    await rm(aside, { recursive: true, force: true });
  }
}
