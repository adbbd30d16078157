import { readFile, readdir, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { type Photo } from '@longheron/core/trajectory';
import { readExif } from '@longheron/formats/exif';
import { readPhotoList } from '@longheron/formats/photos';
import { positionEvents } from '@longheron/operations/events';
import { type Command } from './command';

/** A list of photographs, or JPEG files and folders of them. */
async function photosOf(paths: string[]): Promise<{ list: Photo[]; file: string }> {
  const file = paths.map((p) => basename(p)).join(', ');
  const list: Photo[] = [];
  for (const path of paths) {
    const found = await stat(path).catch(() => undefined);
    if (!found)
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    if (!found.isDirectory() && !/\.jpe?g$/i.test(path)) {
      list.push(...readPhotoList(await readFile(path), basename(path)));
      continue;
    }
    const names = found.isDirectory() ? (await readdir(path)).filter((n) => /\.jpe?g$/i.test(n)).sort() : [''];
    for (const name of names)
      list.push({
        name: name || basename(path),
        takenS: readExif(await readFile(name ? join(path, name) : path))?.takenS ?? Number.NaN,
      });
  }
  return { list, file };
}

export const events: Command = {
  options: {
    ...{ trajectory: 'string', events: 'string', mount: 'string', sensor: 'string', out: 'string' },
    ...{ 'trajectory-crs': 'string', 'leave-out-strays': 'boolean', photos: 'string' },
  },
  async run(o, watch) {
    const inputs = [o.must('trajectory'), o.must('events')];
    const mount = o.text('mount');
    const photos = o.text('photos') === undefined ? undefined : await photosOf(o.list('photos'));
    o.must('out');
    const { report } = await positionEvents(
      {
        trajectoryPath: inputs[0],
        eventsPath: inputs[1],
        mountingPath: mount,
        sensor: o.text('sensor'),
        leaveOutStrays: o.flag('leave-out-strays'),
        photos,
        trajectoryCrs: o.text('trajectory-crs'),
        outPath: o.output('out', mount ? [...inputs, mount] : inputs)!,
      },
      watch,
    );
    const arm = report.lever_arm_applied ? 'its lever arm applied' : 'no lever arm applied';
    const paired =
      report.photos === undefined
        ? []
        : [
            `${report.photos_paired} of ${report.photos} photographs paired with an event, by their ${report.photos_paired_by}.`,
          ];
    const lines = [`${report.positions} of ${report.events} events, at ${report.point}, ${arm}.`, ...paired];
    return { report, lines };
  },
};
