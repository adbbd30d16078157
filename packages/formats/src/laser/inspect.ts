import { WEEK_S } from '@longheron/core/time';
import { type Gap } from '@longheron/core/trajectory';
import { noteIn, toGaps, type Inspect } from '../format/facts';
import { LaserFile } from './read';

/** Facts and findings of laser returns, block by block. */
export const inspectLaser: Inspect = async ({ path, name }, out, watch) => {
  const file = await LaserFile.open(path, name);
  try {
    const { info } = file;
    out.count = info.count;
    let last = -Infinity,
      backwards = 0,
      bad = 0,
      badAt = -1,
      maxRange = 0,
      profiles = 0,
      lastAz = 0;
    const gaps: Gap[] = [];
    for (const { from, returns } of file.blocks()) {
      if (watch?.signal?.aborted) break;
      watch?.progress?.(from / Math.max(1, info.count), 'Reading returns');
      if (from === 0) out.startGps = info.week * WEEK_S + returns.sow[0];
      for (let i = 0; i < returns.sow.length; i++) {
        const t = returns.sow[i];
        if (t < last) backwards++;
        else if (t - last > 0.5 && last > 0) gaps.push({ startSow: last, endSow: t, lengthS: t - last });
        last = t;
        const r = returns.rangeM[i];
        if (!(r >= 0 && r < 20000)) {
          if (bad++ === 0) badAt = from + i;
        } else if (r > maxRange) maxRange = r;
        if (returns.azimuthDeg[i] < lastAz - 180) profiles++;
        lastAz = returns.azimuthDeg[i];
      }
    }
    out.endGps = info.week * WEEK_S + last;
    out.gaps = toGaps(gaps, info.week);
    const span = (out.endGps ?? 0) - (out.startGps ?? 0) - gaps.reduce((s, g) => s + g.lengthS, 0);
    out.rateHz = span > 0 ? Math.round(info.count / span) : null;
    out.details.push(
      ['Sensor', info.sensor || 'not said'],
      ['Serial', info.serial || 'not said'],
      ['Returns', String(info.count)],
      ['Longest range', `${maxRange.toFixed(1)} m`],
      ['Range SD', `${info.rangeSdM} m`],
      ['Angle SD', `${info.angleSdDeg}°`],
      ['Profiles', span > 0 ? `${(profiles / span).toFixed(1)} a second` : 'unknown'],
    );
    const add = noteIn(out);
    if (info.count === 0)
      add(
        'laser-empty',
        'error',
        'The file has no returns.',
        'Nothing can be placed.',
        'Copy the file again from its origin.',
      );
    if (backwards)
      add(
        'laser-order',
        'warning',
        `Time runs backwards ${backwards} times.`,
        'Placing is slower, not wrong.',
        'Check the recording.',
      );
    if (bad)
      add(
        'laser-range',
        'error',
        `${bad} ranges are not usable, the first in row ${badAt}.`,
        'They cannot be placed.',
        'Export the returns again.',
        `/laser/range, row ${badAt}`,
      );
  } finally {
    file.close();
  }
};
