import { type TakenPhoto } from '@longheron/core/photo';
import { IS_ARCHIVE } from '../archive';
import { format } from '../format';
import about from './about';
import { intakeFindings } from './findings';
import { exifOf, openPhotoSet } from './open';
import { takenOf } from './taken';

export * from './open';
export { type PhotoFile } from './photoFile';
export * from './positions';
export * from './taken';

/** Photographs themselves, as an archive. */
export default format({
  about,
  // archives of other things know more of their own
  sniff: (look) => (IS_ARCHIVE.every((v, i) => look.head[i] === v) ? 'words' : undefined),
  async inspect({ path, name }, out) {
    const photos = await openPhotoSet(path, name);
    out.count = photos.length;
    const taken: TakenPhoto[] = [];
    const bodies = new Map<string, number>();
    let [first, last] = [Infinity, -Infinity];
    for (const p of photos) {
      const exif = await exifOf(p);
      taken.push(takenOf(p, exif));
      const body = exif ? [exif.camera, exif.serial].filter(Boolean).join(' ') : 'without EXIF';
      bodies.set(body, (bodies.get(body) ?? 0) + 1);
      if (exif && Number.isFinite(exif.takenS)) {
        first = Math.min(first, exif.takenS);
        last = Math.max(last, exif.takenS);
      }
    }
    for (const [body, n] of bodies) out.details.push([body, `${n} photographs`]);
    out.findings.push(...intakeFindings(taken, name));
    const clock = (s: number) => new Date(1000 * s).toISOString().slice(0, 19).replace('T', ' ');
    if (last >= first) out.details.push(['Taken, by the camera’s clock', `${clock(first)} to ${clock(last)}`]);
  },
  open: openPhotoSet,
});
