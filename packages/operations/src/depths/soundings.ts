import { Problem, type Watch } from '@longheron/core/shared';
import { type GriddedSoundings } from '@longheron/core/sonar';
import { ADJUSTED_GPS_OFFSET_S, decodeExtra } from '@longheron/formats/las';
import { type OpenedCloud } from '../computation/types';
import { indicesOfClass } from '../shared/cloud';

/** Soundings of a cloud that count: neither rejected nor noise. */
export async function soundingsOf(cloud: OpenedCloud, watch?: Watch) {
  const loaded = await cloud.load(watch);
  try {
    const { set, points, file, system } = loaded;
    const keep = indicesOfClass(points, undefined);
    if (!keep.length)
      throw new Problem('All soundings are rejected.', {
        code: 'depths-none',
        file: cloud.name,
        remedy: 'Take back what is real, or choose another cloud.',
      });
    const of = (values: ArrayLike<number>, add: number) => {
      const out = new Float64Array(keep.length);
      for (let k = 0; k < keep.length; k++) out[k] = values[keep[k]] + add;
      return out;
    };
    const dimension = file.extraDimensions().find((d) => d.name === 'sd_h');
    let sdHM: Float32Array | undefined;
    if (dimension) {
      const all = new Float32Array(points.count);
      let at = 0;
      for await (const batch of file.records()) {
        decodeExtra(file.header, batch.bytes, batch.count, dimension, all, at);
        at += batch.count;
      }
      sdHM = Float32Array.from(keep, (i) => all[i]);
    }
    const soundings: GriddedSoundings = {
      eastingM: of(set.x, set.origin[0]),
      northingM: of(set.y, set.origin[1]),
      heightM: of(set.z, set.origin[2]),
      ...(sdHM ? { sdHM } : {}),
      gpsS: of(points.gpsTime, ADJUSTED_GPS_OFFSET_S),
    };
    return { soundings, left: points.count - keep.length, system };
  } finally {
    await loaded.file.close();
  }
}
