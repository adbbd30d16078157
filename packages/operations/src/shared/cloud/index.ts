import { type PointSet } from '@longheron/core/cloud';
import { Problem, type Notice, type Watch } from '@longheron/core/shared';
import { codesNamed, LasFile, WITHHELD, type LasHeader, type LasPoints } from '@longheron/formats/las';
import { parseSystem, systemOf } from '@longheron/formats/crs';
import { type ReferenceSystem } from '@longheron/core/frames';

/** A cloud in memory: the file's own integers and metres about a local origin. */
export interface LoadedCloud {
  file: LasFile;
  points: LasPoints;
  set: PointSet;
  system: ReferenceSystem | undefined;
  metresPerUnit: number;
  notices: Notice[];
}

/** The system a LAS file names; undefined when it names none that can be used. */
export function systemOfHeader(header: LasHeader, file: string, notices: Notice[]): ReferenceSystem | undefined {
  const codes = codesNamed(header);
  if (!codes) {
    notices.push({
      code: 'las-crs',
      severity: 'warning',
      file,
      text: 'The cloud names no coordinate system.',
      effect: 'Its coordinates are taken as metres in an undefined system.',
      remedy: 'Say which it is in, in Clean under Clouds.',
      command: 'Give the system with --crs.',
    });
    return undefined;
  }
  try {
    return systemOf(codes.plan, codes.vertical, codes.shift);
  } catch (error) {
    notices.push({
      code: 'las-crs',
      severity: 'warning',
      file,
      text: `The cloud's coordinate system cannot be used: ${(error as Error).message}`,
    });
    return undefined;
  }
}

/** Loads a cloud that fits in memory. @param crs takes the place of a missing system in the file. */
export async function loadCloud(path: string, crs: string | undefined, watch?: Watch): Promise<LoadedCloud> {
  const file = await LasFile.openPath(path);
  const notices: Notice[] = [];
  try {
    const { header } = file;
    if (header.pointCount === 0)
      throw new Problem('The cloud has no points.', {
        code: 'las-empty',
        file: file.source.name,
        remedy: 'Choose another cloud.',
      });
    let system = systemOfHeader(header, file.source.name, notices);
    if (crs) {
      const given = parseSystem(crs);
      if (!system) notices.length = 0;
      else if (system.label !== given.label)
        notices.push({
          code: 'crs-differs',
          severity: 'warning',
          file: file.source.name,
          text: `The file says ${system.label}, ${given.label} was asked for and is used.`,
          effect: 'Coordinates are not transformed.',
        });
      system = given;
    }
    const points = await file.readAll(watch);
    const metresPerUnit = system?.definition.metresPerUnit ?? 1;
    const vertical = system?.definition.verticalMetresPerUnit ?? 1;
    const origin: [number, number, number] = [0, 1, 2].map((k) => {
      const m = k === 2 ? vertical : metresPerUnit;
      return Math.round(((header.min[k] + header.max[k]) / 2) * m);
    }) as [number, number, number];
    if (!origin.every(Number.isFinite))
      throw new Problem('The extent in the header is not a number.', {
        code: 'las-header',
        file: file.source.name,
        place: 'byte 179',
        remedy: 'Repair the header, or ask for the file again.',
      });
    const set: PointSet = {
      count: points.count,
      x: new Float64Array(points.count),
      y: new Float64Array(points.count),
      z: new Float64Array(points.count),
      origin,
    };
    toMetres(points.x, header.scale[0], header.offset[0], metresPerUnit, origin[0], set.x);
    toMetres(points.y, header.scale[1], header.offset[1], metresPerUnit, origin[1], set.y);
    toMetres(points.z, header.scale[2], header.offset[2], vertical, origin[2], set.z);
    return { file, points, set, system, metresPerUnit, notices };
  } catch (error) {
    await file.close();
    throw error;
  }
}

function toMetres(
  raw: Int32Array,
  scale: number,
  offset: number,
  factor: number,
  origin: number,
  out: Float64Array,
): void {
  const s = scale * factor;
  const o = offset * factor - origin;
  for (let i = 0; i < raw.length; i++) out[i] = raw[i] * s + o;
}

/** Indices of points of one class that are not rejected. */
export function indicesOfClass(points: LasPoints, cls: number | undefined): Int32Array {
  let count = 0;
  const out = new Int32Array(points.count);
  for (let i = 0; i < points.count; i++)
    if (
      !(points.flags[i] & WITHHELD) &&
      points.classification[i] !== 7 &&
      points.classification[i] !== 18 &&
      (cls === undefined || points.classification[i] === cls)
    )
      out[count++] = i;
  return out.subarray(0, count);
}
