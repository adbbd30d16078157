import { writeFile } from 'node:fs/promises';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { stationFile, type StationRequest } from '@longheron/site/stations';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { jsonHash } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Asks the simulated reference-station service for observations and writes them to a file. */
export async function stationObservations(r: TaskRequest): Promise<TaskResult> {
  const { path, request } = r.payload as { path: string; request: StationRequest };
  const text = stationFile(request, parseSystem(SITE_SYSTEM));
  if (!text)
    throw new Problem(`The service has no observations of ${request.code ?? 'a virtual station'} for this span.`, {
      code: 'station-empty',
      remedy: 'Choose another station, or a virtual one.',
    });
  await writeFile(path, text);
  return { content: {}, contentHash: jsonHash(request), objects: [], notices: [], log: [] };
}
