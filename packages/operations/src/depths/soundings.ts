import { Problem, type Watch } from '@longheron/core/shared';
import { type GriddedSoundings } from '@longheron/core/sonar';
import { ADJUSTED_GPS_OFFSET_S, decodeExtra, type LasFile } from '@longheron/formats/las';
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
    const column = async (name: string): Promise<Float32Array | undefined> => {
      const dimension = file.extraDimensions().find((d) => d.name === name);
      if (!dimension) return undefined;
      const all = new Float32Array(points.count);
      let at = 0;
      for await (const batch of file.records()) {
        decodeExtra(file.header, batch.bytes, batch.count, dimension, all, at);
        at += batch.count;
      }
      return Float32Array.from(keep, (i) => all[i]);
    };
    const [sdHM, sdEM, sdNM] = [await column('sd_h'), await column('sd_e'), await column('sd_n')];
    const soundings: GriddedSoundings = {
      eastingM: of(set.x, set.origin[0]),
      northingM: of(set.y, set.origin[1]),
      heightM: of(set.z, set.origin[2]),
      ...(sdHM ? { sdHM } : {}),
      gpsS: of(points.gpsTime, ADJUSTED_GPS_OFFSET_S),
    };
    return {
      soundings,
      left: points.count - keep.length,
      system,
      line: Uint16Array.from(keep, (i) => points.pointSourceId[i]),
      /** From the vertical, degrees. */
      angleDeg: await anglesOf(file, keep),
      /** 1 SD of one horizontal axis. */
      sdPlanM: sdEM && sdNM?.map((v, k) => Math.sqrt((v * v + sdEM[k] ** 2) / 2)),
    };
  } finally {
    await loaded.file.close();
  }
}

/** Unit of scan angles in point formats from 6 on, degrees. */
const ANGLE_UNIT_DEG = 0.006;

/** Scan angles of chosen points, degrees. */
async function anglesOf(file: LasFile, keep: Int32Array): Promise<Float32Array> {
  const { pointFormat, pointBytes, pointCount } = file.header;
  const all = new Float32Array(pointCount);
  let at = 0;
  for await (const { bytes, count } of file.records()) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    for (let i = 0; i < count; i++)
      all[at++] =
        pointFormat >= 6
          ? view.getInt16(i * pointBytes + 18, true) * ANGLE_UNIT_DEG
          : view.getInt8(i * pointBytes + 16);
  }
  return Float32Array.from(keep, (i) => all[i]);
}
