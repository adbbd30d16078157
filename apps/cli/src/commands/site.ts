import { mkdir } from 'node:fs/promises';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { ReportBuilder } from '@longheron/operations/shared/report';
import { HEADS } from '@longheron/site/drive';
import {
  makeBlockFiles,
  makeChamberFiles,
  makeFlightFiles,
  makeFlightPhotos,
  makeGnssFiles,
  makeHeadFile,
  makeRoofPhotos,
  makeScanFiles,
  makeSmallFiles,
  siteWriters,
  writeManifest,
  type SiteOptions,
} from '@longheron/site/files';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { type Command } from './command';

/** The made-up demo site's files. */
export const site: Command = {
  options: { out: 'string', size: 'string', seed: 'string', noise: 'string' },
  async run(o, watch) {
    const folder = o.must('out');
    const size = (o.text('size') ?? 'full') as SiteOptions['size'];
    const level = (o.text('noise') ?? 'medium') as SiteOptions['level'];
    if (!['full', 'small'].includes(size) || !['none', 'low', 'medium', 'high'].includes(level))
      throw new Problem('--size is full or small, --noise none, low, medium or high.', {
        code: 'option',
        remedy: 'See --help.',
      });
    const options: SiteOptions = { seed: o.number('seed', 0) ?? 20260616, size, level };
    const builder = new ReportBuilder('site', { ...options });
    const system = parseSystem(SITE_SYSTEM);
    await mkdir(folder, { recursive: true });
    await makeSmallFiles(folder, system, siteWriters, options);
    await makeGnssFiles(folder, system, siteWriters, options);
    for (const [i, head] of HEADS.entries())
      await makeHeadFile(folder, head, system, siteWriters, options, (f) =>
        watch.progress?.((i + f) / 2, `Casting ${head}`),
      );
    if (size === 'full') {
      await makeFlightFiles(folder, system, siteWriters, options, (f) => watch.progress?.(f, 'Casting the flight'));
      await makeFlightPhotos(folder, system, siteWriters, options, (f) =>
        watch.progress?.(f, 'Drawing photographs of the flight'),
      );
      await makeBlockFiles(folder, system, options);
      await makeChamberFiles(folder, siteWriters);
      await makeScanFiles(folder, system, siteWriters, options, (f) => watch.progress?.(f, 'Scanning from the stands'));
      await makeRoofPhotos(folder, system, siteWriters, options, (f) =>
        watch.progress?.(f, 'Drawing photographs from the vehicle'),
      );
    }
    await writeManifest(folder, options);
    return { report: builder.finish(SITE_SYSTEM, { folder }), lines: [`The demo site's files are in ${folder}.`] };
  },
};
