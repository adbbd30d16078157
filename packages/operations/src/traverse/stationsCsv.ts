import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { csvCell } from '@longheron/formats/csv';

/** Where a scan of a job was taken from: the instrument's zero, and the grid bearing of its circle's. */
export interface TakenFrom {
  name: string;
  setUp: string;
  eastingM: number;
  northingM: number;
  heightM: number;
  sdM: [number, number, number];
  azimuthDeg?: number;
  azimuthSdDeg?: number;
}

/** Stations of the scans that an adjusted job names with its set-ups; those of set-ups that were not placed are not there. */
export function placesOfScans({ set_up_list, points }: TraverseFigures): TakenFrom[] {
  return set_up_list.flatMap((s) => {
    const p = points.find((o) => o.name === s.station);
    if (!p) return [];
    return (s.scans ?? []).map((name) => ({
      name,
      setUp: s.id,
      eastingM: p.easting_m,
      northingM: p.northing_m,
      heightM: p.height_m + s.instrument_height_m,
      sdM: [p.sd_e_m, p.sd_n_m, p.sd_h_m] as [number, number, number],
      ...(s.bearing_deg === null ? {} : { azimuthDeg: s.bearing_deg }),
      ...(s.sd_deg === null ? {} : { azimuthSdDeg: s.sd_deg }),
    }));
  });
}

/** The same as a list of stations that scans are placed by. */
export function stationsCsv(figures: TraverseFigures, crs: string): string {
  const lines = [
    `# crs: ${crs}`,
    'name,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note,azimuth_deg,azimuth_sd_deg',
  ];
  for (const s of placesOfScans(figures))
    lines.push(
      [
        csvCell(s.name),
        'unused',
        ...[s.eastingM, s.northingM, s.heightM].map((v) => v.toFixed(4)),
        ...s.sdM.map((v) => v.toFixed(5)),
        csvCell(`set-up ${s.setUp}`),
        s.azimuthDeg?.toFixed(6) ?? '',
        s.azimuthSdDeg?.toFixed(6) ?? '',
      ].join(','),
    );
  return `${lines.join('\n')}\n`;
}
