import { LAS_CLASS_NAMES } from '@longheron/core/cloud';
import { quantileOfSorted } from '@longheron/core/numeric';
import { noteIn, type Inspect, type Note } from '../format/facts';
import { labelNamed } from './named';
import { allocatePoints, decodeRecords, hasTime } from './points';
import { LasFile } from './reader';
import { ADJUSTED_GPS_OFFSET_S } from './writer';

/** Facts and findings of a point cloud; every point is read, since headers may lie. */
export const inspectCloud: Inspect = async ({ path }, out, watch) => {
  const file = await LasFile.openPath(path);
  try {
    const { header } = file;
    const crs = labelNamed(header) || null;
    out.count = header.pointCount;
    const add = noteIn(out);
    const heights: number[] = [];
    const timed = hasTime(header.pointFormat);
    let t0 = Infinity,
      t1 = -Infinity;
    const lo = [Infinity, Infinity, Infinity],
      hi = [-Infinity, -Infinity, -Infinity];
    const block = allocatePoints(1 << 16);
    const classes = new Float64Array(256);
    const intensity = { none: 0, most: 0, atMost: 0 };
    const every = Math.max(1, Math.floor(header.pointCount / 200000));
    for await (const batch of file.records(watch)) {
      const target = batch.count > block.count ? allocatePoints(batch.count) : block;
      decodeRecords(header, batch.bytes, batch.count, target, 0);
      const columns = [target.x, target.y, target.z];
      for (let k = 0; k < 3; k++) {
        const column = columns[k];
        for (let i = 0; i < batch.count; i++) {
          if (column[i] < lo[k]) lo[k] = column[i];
          if (column[i] > hi[k]) hi[k] = column[i];
        }
      }
      for (let i = 0; i < batch.count; i++) {
        classes[target.classification[i]]++;
        const v = target.intensity[i];
        if (v === 0) intensity.none++;
        if (v > intensity.most) [intensity.most, intensity.atMost] = [v, 1];
        else if (v === intensity.most) intensity.atMost++;
      }
      for (let i = 0; i < batch.count; i += every) heights.push(target.z[i] * header.scale[2] + header.offset[2]);
      if (timed)
        for (let i = 0; i < batch.count; i++) {
          const t = target.gpsTime[i];
          if (t < t0) t0 = t;
          if (t > t1) t1 = t;
        }
    }
    const metres = (v: number[]) => v.map((c, k) => c * header.scale[k] + header.offset[k]) as [number, number, number];
    if (header.pointCount > 0) out.extent = { min: metres(lo), max: metres(hi), crs };
    if (timed && header.globalEncoding & 1 && t1 >= t0) {
      out.startGps = t0 + ADJUSTED_GPS_OFFSET_S;
      out.endGps = t1 + ADJUSTED_GPS_OFFSET_S;
    } else if (timed)
      add(
        'las-time',
        'warning',
        'The GPS times are seconds of a week that is not named.',
        'The cloud cannot be laid on the time lanes.',
        'Name the week on import.',
      );
    out.details.push(
      ['LAS version', header.version.join('.')],
      ['Point format', `${header.pointFormat}${header.compressed ? ', compressed' : ''}`],
      ['Points', String(header.pointCount)],
      ['Scale', header.scale.join(' ')],
      ['Classes', classText(classes)],
    );
    intensityFindings(add, header.pointCount, intensity);
    if (header.pointCount === 0)
      add('las-empty', 'error', 'The cloud has no points.', 'Nothing can be done with it.', 'Ask for the file again.');
    if (!crs)
      add(
        'las-crs',
        'warning',
        'The cloud names no coordinate system.',
        'Its place on Earth is not defined.',
        'Say in which system it is.',
        'variable length records',
      );
    else if (!crs.includes('+'))
      add(
        'las-vertical',
        'warning',
        'The cloud names no height system.',
        'Heights may be ellipsoidal or levelled.',
        'Say to what its heights refer.',
        'variable length records',
      );
    if (out.extent && out.extent.max[2] === out.extent.min[2] && header.pointCount > 1)
      add(
        'las-flat',
        'warning',
        `All heights are ${out.extent.min[2]} m.`,
        'Nothing that needs heights can be made of it.',
        'Ask for the file with its heights.',
      );
    if (out.extent) {
      for (let k = 0; k < 3; k++)
        if (
          Math.abs(out.extent.min[k] - header.min[k]) > 2 * header.scale[k] ||
          Math.abs(out.extent.max[k] - header.max[k]) > 2 * header.scale[k]
        ) {
          add(
            'las-extent',
            'warning',
            `The header's extent differs from the points on axis ${'xyz'[k]}.`,
            'Programs that trust the header misplace the cloud.',
            'The points count here.',
            'header, byte 179',
          );
          break;
        }
      heights.sort((a, b) => a - b);
      const low = quantileOfSorted(heights, 0.001),
        high = quantileOfSorted(heights, 0.999);
      const middle = quantileOfSorted(heights, 0.98) - quantileOfSorted(heights, 0.02);
      if (out.extent.min[2] < low - 2 - 0.2 * middle || out.extent.max[2] > high + 2 + 0.2 * middle)
        add(
          'las-strays',
          'info',
          `Heights run from ${out.extent.min[2].toFixed(1)} to ${out.extent.max[2].toFixed(1)} m, 99.8 % of them from ${low.toFixed(1)} to ${high.toFixed(1)} m.`,
          'Noise points stretch the extent.',
          'Find noise points in the stage Clean.',
        );
    }
  } finally {
    await file.close();
  }
};

/** Points by class, as "2 ground 86051". */
function classText(classes: Float64Array): string {
  return [...classes]
    .flatMap((n, c) => (n ? [`${c} ${LAS_CLASS_NAMES[c]?.toLowerCase() ?? 'of its own'} ${n}`] : []))
    .join(', ');
}

/** More than this share at the largest value is no chance. */
const CLIPPED = 0.01;
/** Values below are no end of a scale. */
const MIN_END = 200;

function intensityFindings(
  add: Note,
  points: number,
  { none, most, atMost }: { none: number; most: number; atMost: number },
) {
  if (points === 0) return;
  if (none === points)
    add(
      'las-intensity',
      'info',
      'No point has an intensity.',
      'Targets and paint cannot be seen in it; plan cannot be proved by two-tone targets.',
      'Ask for the cloud with intensities.',
    );
  else if (most >= MIN_END && atMost > CLIPPED * points && points > 1000)
    add(
      'las-clipped',
      'info',
      `${((100 * atMost) / points).toFixed(1)} % of the intensities stand at ${most}: they are clipped.`,
      'Bright paint and reflectors look alike; targets lose their edges.',
      'Ask for intensities that are not stretched.',
    );
}
