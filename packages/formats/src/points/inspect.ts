import { type Watch } from '@longheron/core/shared';
import { noteIn, type FileFacts } from '../format/facts';
import { type PointSource } from './source';

/** Beyond this no coordinates of a site are about a point of its own, metres. */
const LOCAL_M = 20_000;

/** Facts and findings of a cloud in a format other than LAS; every point is read, then the source is closed. */
export async function inspectPoints(
  source: PointSource,
  formatName: string,
  out: FileFacts,
  watch?: Watch,
): Promise<void> {
  try {
    const min = [Infinity, Infinity, Infinity];
    const max = [-Infinity, -Infinity, -Infinity];
    let without = 0;
    for await (const b of source.batches(watch)) {
      const axes = [b.x, b.y, b.z];
      for (let i = 0; i < b.count; i++) {
        if (!Number.isFinite(b.x[i] + b.y[i] + b.z[i])) {
          without++;
          continue;
        }
        out.count++;
        for (let k = 0; k < 3; k++) {
          const v = axes[k][i];
          if (v < min[k]) min[k] = v;
          if (v > max[k]) max[k] = v;
        }
      }
    }
    const found = noteIn(out);
    const system = source.system && /^EPSG:/i.test(source.system) ? source.system : null;
    if (out.count > 0)
      out.extent = {
        min: min as [number, number, number],
        max: max as [number, number, number],
        crs: system ?? (source.system ? 'as in the file' : null),
      };
    else
      found(
        'points-empty',
        'error',
        'The cloud has no points.',
        'Nothing can be done with it.',
        'Ask for the file again.',
      );
    out.details.push(['Format', formatName], ...source.details, ['Points', String(out.count)]);
    if (without)
      found(
        'points-invalid',
        'info',
        `${without} of ${without + out.count} points have no coordinates.`,
        'They are left out.',
        'Nothing needs to be done.',
      );
    if (source.lost.length)
      found(
        'points-lost',
        'info',
        `Not carried over: ${source.lost.join(', ')}.`,
        'The file keeps it; the cloud that is worked on does not have it.',
        'Nothing needs to be done unless it is needed.',
      );
    const local = out.count > 0 && [0, 1].every((k) => Math.max(Math.abs(min[k]), Math.abs(max[k])) < LOCAL_M);
    if (local)
      found(
        'points-local',
        'warning',
        'The coordinates lie about an origin of their own.',
        'The cloud stands in no frame: on the map it is not where it was measured.',
        'Do not measure places in it; bring it in from its instrument with coordinates.',
      );
    else if (!source.system)
      found(
        'las-crs',
        'warning',
        'The cloud names no coordinate system.',
        "Its coordinates are taken to be in the project's system.",
        'Check that it lies where it should on the map.',
      );
  } finally {
    await source.close();
  }
}
