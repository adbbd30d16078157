import { type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { HEADS, type Head } from '@longheron/site/drive';
import { makeGnssFiles, makeHeadFile, makeSmallFiles, siteWriters, type SiteOptions } from '@longheron/site/files';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { jsonHash } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

export async function demoFiles(r: TaskRequest): Promise<TaskResult> {
  const { folder, options } = r.payload as { folder: string; options: SiteOptions };
  await makeSmallFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options);
  await makeGnssFiles(folder, parseSystem(SITE_SYSTEM), siteWriters, options);
  return { content: {}, contentHash: jsonHash(options), objects: [], notices: [], log: [] };
}

export async function demoHead(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const { folder, options, head } = r.payload as { folder: string; options: SiteOptions; head: Head };
  if (!HEADS.includes(head)) throw new Error('no such head');
  await makeHeadFile(folder, head, parseSystem(SITE_SYSTEM), siteWriters, options, (f) =>
    watch.progress?.(f, `Casting beams of ${head}`),
  );
  return { content: {}, contentHash: jsonHash(options), objects: [], notices: [], log: [] };
}
