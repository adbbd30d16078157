import { readFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/colour';
import { part, Problem } from '@longheron/core/shared';
import { writeColoured } from '@longheron/formats/las';
import { openPhotoSet, readPhotoPositions } from '@longheron/formats/photo-set';
import { openAs } from '@longheron/formats/registry';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { frameNotices, percent } from '../shared/words';
import { colourPoints, shiftOf } from './colour';
import { pairOriented } from '../shared/photographs';

/** Edges that lie further apart show that something is wrong, pixels. */
const SHIFTED_PX = 2;

/** Colours of a cloud from oriented photographs, with the shift of edges as proof. */
export default computation(
  declaration,
  async ({ cloud, photos, positions, cameras, mounting }, settings, context, out, watch) => {
    const builder = new ReportBuilder('colour', settings);
    const notice = builder.notice.bind(builder);
    const loaded = await cloud.load(part(watch, 0, 0.15));
    try {
      const { system, file } = loaded;
      if (!system)
        throw new Problem('The cloud names no coordinate system; pictures cannot be placed among its points.', {
          code: 'las-crs',
          file: cloud.name,
          remedy: 'Say which it is in, in Clean under Clouds.',
          command: 'Give the system with --crs.',
        });
      const list = await openPhotoSet(photos.path, photos.name);
      const where = readPhotoPositions(await readFile(positions.path), positions.name);
      builder.notices.push(...frameNotices(where.crs, system, positions.name));
      const known = await openAs('cameras', cameras.path, cameras.name);
      const names = { photos: photos.name, positions: positions.name, cameras: cameras.name };
      const { pictures, photosAlone, positionsAlone, by } = await pairOriented(
        list,
        where,
        known,
        mounting?.mounting,
        names,
        notice,
      );
      const made = await colourPoints(loaded, system, pictures, settings, part(watch, 0.15, out.keeps ? 0.7 : 0.9));
      const { painted } = made;
      const las = await out.file('cloud', 'las', (path) =>
        writeColoured(
          file,
          path,
          system.definition,
          new Date(),
          painted.rgb,
          (row) => painted.picture[row] >= 0,
          part(watch, 0.7, 0.8),
        ),
      );
      const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.8, 1)) : undefined;
      const all = painted.picture.length;
      const shift = settings.proof ? shiftOf(made.pictures) : null;
      const figures = {
        points: all,
        coloured: painted.coloured,
        coloured_share: painted.coloured / all,
        hidden: painted.hidden,
        outvoted: painted.outvoted,
        photographs: pictures.length,
        paired_by: by,
        photos_alone: photosAlone.length,
        positions_alone: positionsAlone.length,
        shift_px: shift?.shift ?? null,
        shift_right_px: shift?.dx ?? null,
        shift_down_px: shift?.dy ?? null,
        pictures: made.pictures,
      };
      if (painted.coloured === 0)
        notice({
          code: 'colour-none',
          severity: 'error',
          text: 'No point lies in any of the photographs.',
          effect: 'The cloud has no colours.',
          remedy: 'Check that photographs, positions and cloud are of one place, and how the camera is mounted.',
        });
      if (shift && shift.shift > SHIFTED_PX)
        notice({
          code: 'colour-shift',
          severity: 'warning',
          text: `Edges in the photographs lie ${shift.shift.toFixed(1)} px from those of intensities (${shift.dx.toFixed(1)} right, ${shift.dy.toFixed(1)} down, medians).`,
          effect: 'Colours are shifted by as much.',
          remedy: 'Along the way it is mostly a late clock, across it the camera’s arm or angles.',
        });
      const said = `${painted.coloured} of ${all} points (${percent(painted.coloured / all)}) coloured from ${pictures.length} photographs; ${painted.hidden} are hidden from all.`;
      const proof = shift
        ? `Edges lie ${shift.shift.toFixed(2)} px apart (median of ${made.pictures.filter((p) => p.dx_px !== null).length} photographs).`
        : 'No edges that photographs and intensities share were found.';
      return {
        name: `${cloud.name}, coloured`,
        content: {
          las: las.sha256,
          bytes: las.bytes,
          ...stored,
          crs: cloud.crs || context.crs,
          figures: { points: all },
          coloured: figures,
        },
        hash: las.sha256,
        report: builder.finish(system.label, figures),
        log: settings.proof ? [said, proof] : [said],
      };
    } finally {
      await loaded.file.close();
    }
  },
);
