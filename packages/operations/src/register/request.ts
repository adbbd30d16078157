import { readFile } from 'node:fs/promises';
import { type Mark } from '@longheron/core/accuracy';
import { type Vector3 } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { type KnownPlace, type KnownStation } from '@longheron/core/terrestrial';
import { readTable } from '@longheron/formats/marks';
import { type OpenedMarks } from '../computation/types';
import { placesOfScans } from '../traverse/stationsCsv';
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
export function stationsOf(
  places: readonly GivenStation[],
  frame: ScanFrame,
  azimuthSdDeg: number,
  rough: boolean,
): KnownStation[] {
  return places.map(({ mark: m, azimuthRad, azimuthSdRad }): KnownStation => {
    const atM = frame.fromGrid(m.eastingM, m.northingM, m.heightM);
    const stated = [m.sdEM, m.sdNM, m.sdHM].some((v) => v !== undefined && v !== null);
    return {
      name: m.name,
      atM,
      sdM: sdOf(m, STATION_SD_M),
      ...(azimuthRad === undefined
        ? {}
        : { bearingRad: azimuthRad + frame.bearingShift(atM), sdBearingRad: azimuthSdRad ?? azimuthSdDeg * DEG }),
      ...(rough && !stated ? { rough } : {}),
    };
  });
}

/** A station of a list, with the grid bearing of its scanner's y axis where that is known. */
export interface GivenStation {
  mark: Mark;
  azimuthRad?: number;
  azimuthSdRad?: number;
}

/** Stations of these scans: rows of a list by their names, or the set-ups of an adjusted job that names them. */
export async function givenStations(list: OpenedMarks, scans: ReadonlySet<string>): Promise<GivenStation[]> {
  const traverse = list.content?.traverse;
  if (traverse)
    return placesOfScans(traverse)
      .filter((s) => scans.has(s.name))
      .map((s) => ({
        mark: {
          name: s.name,
          role: 'unused',
          eastingM: s.eastingM,
          northingM: s.northingM,
          heightM: s.heightM,
          sdEM: s.sdM[0],
          sdNM: s.sdM[1],
          sdHM: s.sdM[2],
        } as Mark,
        ...(s.azimuthDeg === undefined ? {} : { azimuthRad: s.azimuthDeg * DEG }),
        ...(s.azimuthSdDeg === undefined ? {} : { azimuthSdRad: s.azimuthSdDeg * DEG }),
      }));
  const azimuths = await azimuthsOf(list);
  return list.marks.filter((m) => scans.has(m.name)).map((mark) => ({ mark, ...azimuths.get(mark.name) }));
}

/** Columns `azimuth_deg` and `azimuth_sd_deg` of a list of stations, by name, radians. */
async function azimuthsOf({ path, name }: OpenedMarks): Promise<Map<string, Omit<GivenStation, 'mark'>>> {
  const { header, rows } = readTable(await readFile(path), name);
  const find = (wanted: string) => header.findIndex((h) => h.trim().toLowerCase() === wanted);
  const named = Math.max(0, find('name'));
  const out = new Map<string, Omit<GivenStation, 'mark'>>();
  const columns = [
    ['azimuthRad', 'azimuth_deg'],
    ['azimuthSdRad', 'azimuth_sd_deg'],
  ] as const;
  for (const [key, column] of columns) {
    const at = find(column);
    if (at < 0) continue;
    for (const row of rows) {
      const value = (row[at] ?? '').trim();
      if (value === '') continue;
      if (!Number.isFinite(Number(value)))
        throw new Problem(`${column} is "${value}", which is no number.`, {
          code: 'register-azimuth',
          file: name,
          place: row[named],
          remedy: 'Correct the line, or leave it empty.',
        });
      out.set(row[named], { ...out.get(row[named]), [key]: Number(value) * DEG });
    }
  }
  return out;
}
