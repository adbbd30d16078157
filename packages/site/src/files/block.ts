import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { AIR_CAMERAS, airPhotos, AirTruth, NOMINAL_FOCAL_PX, trueAirCamera, type AirPhoto } from '../airborne';
import { GPS_WEEK, type TrueDrive } from '../drive';
import { trueMarks } from '../marks';
import { poseOf } from '../pictures';
import { siteFlight } from './journeys';
import { JOURNEY_FILES, type SiteOptions } from './names';

/** What is wrong with the list of positions on purpose: one photograph has none, two have each other's. */
export const POSITION_FAULTS = { without: 'air_017.jpg', exchanged: ['air_031.jpg', 'air_044.jpg'] } as const;
/** Errors of the positions, 1 SD: north, east, down in metres; roll, pitch, heading in degrees. */
const POSITION_SD = { planM: 0.015, heightM: 0.025, tiltDeg: 0.01, headingDeg: 0.02 };
/** How well a person points at a target, pixels. */
const POINTING_PX = 0.25;
/** A target is hidden when the beam ends so far from it, metres. */
const HIDDEN_M = 0.4;
/** Nearer to the edge of the frame nobody picks, pixels. */
const EDGE_PX = 6;

/** The block of the flight's photographs: positions, nominal cameras, picks. */
export async function makeBlockFiles(folder: string, system: ReferenceSystem, { seed }: SiteOptions): Promise<void> {
  const flight = siteFlight(system);
  const photos = airPhotos(flight);
  const put = (name: string, text: string) => writeFile(join(folder, name), text);
  const f = JOURNEY_FILES;
  await put(f.flightPositions, positionsText(flight, system, photos, seed));
  await put(f.flightNominal, nominalText(photos));
  await put(f.flightPicks, picksText(flight, system, photos, seed));
}

function positionsText(flight: TrueDrive, system: ReferenceSystem, photos: readonly AirPhoto[], seed: number): string {
  const r = new Random(seed, 'positions');
  const lines = photos.map((p) => {
    const { latRad, lonRad, hEllM, rollRad, pitchRad, headingRad } = poseOf(flight, system, p.sow, trueAirCamera());
    const deg = (v: number) => (v * 180) / Math.PI;
    // metres of a degree hereabouts are good enough for errors
    const north = POSITION_SD.planM * r.normal();
    const east = POSITION_SD.planM * r.normal();
    const { planM, heightM, tiltDeg, headingDeg } = POSITION_SD;
    return [
      (deg(latRad) + north / 111_200).toFixed(10),
      (deg(lonRad) + east / (111_300 * Math.cos(latRad))).toFixed(10),
      (hEllM + heightM * r.normal()).toFixed(4),
      (deg(rollRad) + tiltDeg * r.normal()).toFixed(5),
      (deg(pitchRad) + tiltDeg * r.normal()).toFixed(5),
      (deg(headingRad) + headingDeg * r.normal()).toFixed(5),
      ...[planM, planM, heightM].map((v) => v.toFixed(3)),
    ];
  });
  const at = (name: string) => photos.findIndex((p) => p.name === name);
  const [a, b] = POSITION_FAULTS.exchanged.map(at);
  [lines[a], lines[b]] = [lines[b], lines[a]];
  lines[at(POSITION_FAULTS.without)] = lines[0].map(() => '');
  const rows = photos.map((p, k) => [p.name, GPS_WEEK, p.sow.toFixed(6), ...lines[k]].join(','));
  return `# crs: EPSG:4937\n# point: camera\nlabel,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,sd_n_m,sd_e_m,sd_d_m\n${rows.join('\n')}\n`;
}

/** Both bodies as the makers state them. */
function nominalText(photos: readonly AirPhoto[]): string {
  const cameras = AIR_CAMERAS.map((c) => [
    c.name,
    {
      body_serial: c.serial,
      lens: '',
      width_px: c.widthPx,
      height_px: c.heightPx,
      focal_px: NOMINAL_FOCAL_PX,
      cx_px: (c.widthPx - 1) / 2,
      cy_px: (c.heightPx - 1) / 2,
      sd: { focal_px: 30, cx_px: 8, cy_px: 8, k1: 0.05, k2: 0.04, k3: 0.02, p1: 0.001, p2: 0.001 },
      from: 'nominal',
      images: photos.filter((p) => p.camera === c).map((p) => p.name),
    },
  ]);
  return `${JSON.stringify({ cameras: Object.fromEntries(cameras) }, null, 2)}\n`;
}

/** Painted marks as somebody picked them in every photograph that shows them. */
function picksText(flight: TrueDrive, system: ReferenceSystem, photos: readonly AirPhoto[], seed: number): string {
  const truth = new AirTruth(flight, system);
  const r = new Random(seed, 'picks');
  let out = 'image,point,x_px,y_px,sd_px\n';
  for (const photo of photos)
    for (const m of trueMarks()) {
      const at = truth.pixelOf(photo, [m.x, m.y, m.heightM]);
      if (!at) continue;
      const [u, v] = at;
      const { widthPx, heightPx } = photo.camera;
      if (u < EDGE_PX || v < EDGE_PX || u > widthPx - EDGE_PX || v > heightPx - EDGE_PX) continue;
      const [x, y] = truth.placeAt(photo, u, v);
      if (Math.hypot(x - m.x, y - m.y) > HIDDEN_M) continue;
      const [du, dv] = [POINTING_PX * r.normal(), POINTING_PX * r.normal()];
      out += `${photo.name},${m.name},${(u + du).toFixed(2)},${(v + dv).toFixed(2)},0.3\n`;
    }
  return out;
}
