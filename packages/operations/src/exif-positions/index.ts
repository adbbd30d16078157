import { writeFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/exif-positions';
import { type EventRow } from '@longheron/contract/kinds/positions';
import { DEG } from '@longheron/core/frames';
import { Problem, tick } from '@longheron/core/shared';
import { csvCell } from '@longheron/formats/csv';
import { type ExifPlace } from '@longheron/formats/exif';
import { exifOf, openPhotoSet } from '@longheron/formats/photo-set';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { systemFrom } from '../shared/words';

/** WGS 84 with ellipsoidal heights: what receivers of cameras work in. */
const FRAME = 'EPSG:4979';
/** EXIF states the radius that a place lies within at 68 per cent: an axis has this share of it. */
const AXIS = 1 / Math.SQRT2;
/** Two places nearer than this are one, degrees. */
const SAME_DEG = 1e-7;

/** Positions that photographs state themselves, as a list for pairing and adjusting. */
export default computation(declaration, async ({ photos }, settings, context, out, watch) => {
  const builder = new ReportBuilder('exif-positions', settings);
  const set = await openPhotoSet(photos.path, photos.name);
  const rows: Array<{ name: string; place: ExifPlace; hEllM: number; sd: [number, number, number] }> = [];
  const without: string[] = [];
  const system = settings.heights === 'sea' ? systemFrom(context) : undefined;
  for (const [k, photo] of set.entries()) {
    tick(watch, k / set.length, `Reading ${photo.name}`);
    const place = (await exifOf(photo))?.place;
    if (!place || place.altitudeM === undefined) {
      without.push(photo.name);
      continue;
    }
    const undulation = system ? system.geoid.undulation(place.latDeg * DEG, place.lonDeg * DEG) : 0;
    const plan = place.errorM === undefined ? settings.sdPlanM : AXIS * place.errorM;
    rows.push({ name: photo.name, place, hEllM: place.altitudeM + undulation, sd: [plan, plan, settings.sdHeightM] });
  }
  if (!rows.length)
    throw new Problem('No photograph says where it was taken.', {
      code: 'exif-places',
      file: photos.name,
      place: 'EXIF, GPS tags',
      remedy: 'Position the events of the camera, or bring a list of positions.',
    });
  const [first] = rows;
  const same = (r: (typeof rows)[number]) =>
    Math.abs(r.place.latDeg - first.place.latDeg) < SAME_DEG &&
    Math.abs(r.place.lonDeg - first.place.lonDeg) < SAME_DEG;
  if (rows.length > 2 && rows.every(same))
    builder.notice({
      code: 'positions-same',
      severity: 'error',
      file: photos.name,
      text: `All ${rows.length} photographs have one and the same position.`,
      effect: 'It is that of the launch, or of a receiver without a fix: it says nothing of the photographs.',
      remedy: 'Position the events of the camera with a trajectory, or orient the photographs by their ties alone.',
    });
  if (without.length)
    builder.notice({
      code: 'exif-without',
      severity: 'warning',
      file: photos.name,
      text: `${without.length} of ${set.length} photographs do not say where they were taken: ${without.slice(0, 5).join(', ')}${without.length > 5 ? ' and others' : ''}.`,
      effect: 'They have no position.',
    });
  const text = [
    `# crs: ${FRAME}`,
    '# point: camera',
    'label,lat_deg,lon_deg,h_ell_m,sd_n_m,sd_e_m,sd_d_m',
    ...rows.map(({ name, place, hEllM, sd }) =>
      [
        csvCell(name),
        place.latDeg.toFixed(9),
        place.lonDeg.toFixed(9),
        hEllM.toFixed(3),
        ...sd.map((v) => v.toFixed(3)),
      ].join(','),
    ),
    ...without.map((name) => `${csvCell(name)},,,,,,`),
    '',
  ].join('\n');
  const kept = await out.file('positions', 'csv', (path) => writeFile(path, text));
  const figures = { photos: set.length, positions: rows.length };
  const table: EventRow[] = [];
  return {
    content: {
      object: kept.sha256,
      point: 'camera',
      crs: FRAME,
      figures,
      photosAlone: without,
      table: out.keeps ? await out.store.json(table, 'table') : '',
    },
    hash: kept.sha256,
    report: builder.finish(FRAME, figures),
    log: [`${rows.length} of ${set.length} photographs say where they were taken.`],
  };
});
