import { writeFile } from 'node:fs/promises';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { question } from '@longheron/operations/computation';
import { HEADS, type Head } from '@longheron/site/drive';
import {
  makeBlockFiles,
  makeBoatFiles,
  makeChamberFiles,
  makeFlightFiles,
  makeFlightPhotos,
  makeGnssFiles,
  makeHeadFile,
  makeRoofPhotos,
  makeScanFiles,
  makeSmallFiles,
  siteWriters,
  type SiteOptions,
} from '@longheron/site/files';
import { stationFile, type StationRequest } from '@longheron/site/stations';
import { SITE_SYSTEM } from '@longheron/site/terrain';

/** What the simulated site makes on worker threads. */
export interface Demonstrations {
  'demo-files': typeof demoFiles;
  'demo-head': typeof demoHead;
  'demo-flight': typeof demoFlight;
  'demo-photos': typeof demoPhotos;
  'demo-roof': typeof demoRoof;
  'demo-scans': typeof demoScans;
  'demo-boat': typeof demoBoat;
  station: typeof station;
}

const demoFiles = question(async ({ folder, options }: { folder: string; options: SiteOptions }) => {
  await makeSmallFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options);
  await makeGnssFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options);
  return { content: {} };
});

const demoHead = question(
  async ({ folder, options, head }: { folder: string; options: SiteOptions; head: Head }, _store, watch) => {
    if (!HEADS.includes(head)) throw new Error('no such head');
    await makeHeadFile(folder, head, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
      watch.progress?.(f, `Casting beams of ${head}`),
    );
    return { content: {} };
  },
);

const demoFlight = question(async ({ folder, options }: { folder: string; options: SiteOptions }, _store, watch) => {
  await makeFlightFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
    watch.progress?.(f, 'Casting beams of the flight'),
  );
  return { content: {} };
});

const demoBoat = question(async ({ folder, options }: { folder: string; options: SiteOptions }, _store, watch) => {
  await makeBoatFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
    watch.progress?.(f, 'Sounding the reach'),
  );
  return { content: {} };
});

const demoPhotos = question(async ({ folder, options }: { folder: string; options: SiteOptions }, _store, watch) => {
  await makeFlightPhotos(folder, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
    watch.progress?.(f, 'Drawing photographs of the flight'),
  );
  await makeBlockFiles(folder, parseSystem(SITE_SYSTEM), options);
  await makeChamberFiles(folder, siteWriters);
  return { content: {} };
});

const demoRoof = question(async ({ folder, options }: { folder: string; options: SiteOptions }, _store, watch) => {
  await makeRoofPhotos(folder, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
    watch.progress?.(f, 'Drawing photographs from the vehicle'),
  );
  return { content: {} };
});

const demoScans = question(async ({ folder, options }: { folder: string; options: SiteOptions }, _store, watch) => {
  await makeScanFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
    watch.progress?.(f, 'Scanning from the stands'),
  );
  return { content: {} };
});

/** Asks the simulated reference-station service for observations and writes them to a file. */
const station = question(async ({ path, request }: { path: string; request: StationRequest }) => {
  const text = stationFile(request, parseSystem(SITE_SYSTEM));
  if (!text)
    throw new Problem(`The service has no observations of ${request.code ?? 'a virtual station'} for this span.`, {
      code: 'station-empty',
      remedy: 'Choose another station, or a virtual one.',
    });
  await writeFile(path, text);
  return { content: {} };
});

export const DEMONSTRATIONS: Demonstrations = {
  'demo-files': demoFiles,
  'demo-head': demoHead,
  'demo-flight': demoFlight,
  'demo-photos': demoPhotos,
  'demo-roof': demoRoof,
  'demo-scans': demoScans,
  'demo-boat': demoBoat,
  station,
};
