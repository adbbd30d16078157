import { readFile } from 'node:fs/promises';
import { type Mark } from '@longheron/core/accuracy';
import { type Vector3 } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { type KnownPlace, type KnownStation } from '@longheron/core/terrestrial';
import { readTable } from '@longheron/formats/marks';
import { type OpenedMarks } from '../computation/types';
import { type ScanFrame } from './frame';

const DEG = Math.PI / 180;
/** Of known marks that state none, 1 SD, metres. */
const MARK_SD_M = 0.01;
/** Of a scanner over its station: its height over the mark is in what is given. */
const STATION_SD_M = 0.01;

const sdOf = (m: Mark, otherwise: number) => [m.sdEM, m.sdNM, m.sdHM].map((v) => v ?? otherwise) as Vector3;

/** Known targets in the frame. */
export const controlOf = (marks: readonly Mark[], frame: ScanFrame): KnownPlace[] =>
  marks.map((m) => ({
    name: m.name,
    atM: frame.fromGrid(m.eastingM, m.northingM, m.heightM),
    sdM: sdOf(m, MARK_SD_M),
  }));

/**
 * Stations in the frame.
 * @param rough whether those that state no deviations only serve to begin with.
 */
export async function stationsOf(
  list: OpenedMarks | undefined,
  places: readonly Mark[],
  frame: ScanFrame,
  azimuthSdDeg: number,
  rough: boolean,
): Promise<KnownStation[]> {
  const azimuths = list ? await azimuthsOf(list) : new Map<string, number>();
  return places.map((m): KnownStation => {
    const atM = frame.fromGrid(m.eastingM, m.northingM, m.heightM);
    const azimuth = azimuths.get(m.name);
    const stated = [m.sdEM, m.sdNM, m.sdHM].some((v) => v !== undefined && v !== null);
    return {
      name: m.name,
      atM,
      sdM: sdOf(m, STATION_SD_M),
      ...(azimuth === undefined
        ? {}
        : { bearingRad: azimuth + frame.bearingShift(atM), sdBearingRad: azimuthSdDeg * DEG }),
      ...(rough && !stated ? { rough } : {}),
    };
  });
}

/** Column `azimuth_deg` of a list of stations, by name, radians. */
async function azimuthsOf({ path, name }: OpenedMarks): Promise<Map<string, number>> {
  const { header, rows } = readTable(await readFile(path), name);
  const find = (wanted: string) => header.findIndex((h) => h.trim().toLowerCase() === wanted);
  const [at, named] = [find('azimuth_deg'), Math.max(0, find('name'))];
  const out = new Map<string, number>();
  if (at < 0) return out;
  for (const row of rows) {
    const value = (row[at] ?? '').trim();
    if (value === '') continue;
    if (!Number.isFinite(Number(value)))
      throw new Problem(`azimuth_deg is "${value}", which is no number.`, {
        code: 'register-azimuth',
        file: name,
        place: row[named],
        remedy: 'Correct the line, or leave it empty.',
      });
    out.set(row[named], Number(value) * DEG);
  }
  return out;
}
