import { zipSync } from 'fflate';
import sharp from 'sharp';
import { type Mounting } from '@longheron/core/frames';
import { type Mark } from '@longheron/core/accuracy';
import { type LaserReturns } from '@longheron/core/laser';
import { type Trajectory } from '@longheron/core/trajectory';
import type { InertialData } from '@longheron/core/inertial';
import { writeInertialFile } from '@longheron/formats/inertial';
import { writeLaserFile, type LaserFileInfo } from '@longheron/formats/laser';
import { writeSonarFile, type SonarRecording } from '@longheron/formats/sonar';
import { writeFromPoints } from '@longheron/formats/las';
import { NO_FIELDS } from '@longheron/formats/points';
import { type TrueCamera } from '../pictures';
import { type Scan } from '../scans';

/**
 * How the site writes its files. HDF5 goes through the formats package; the text layouts are written here, with code
 * of the site's own, so that a mistake of our readers and writers cannot hide itself.
 */
export interface SiteWriters {
  /** A JPEG with the camera's clock and serial number in its EXIF. */
  photo(rgb: Uint8Array, camera: TrueCamera, takenS: number): Promise<Uint8Array>;
  /** Files as one archive, not packed further. */
  archive(files: { [name: string]: Uint8Array }): Uint8Array;
  laser(path: string, info: Omit<LaserFileInfo, 'count'>, returns: LaserReturns): Promise<void>;
  inertial(path: string, data: InertialData): Promise<void>;
  trajectory(t: Trajectory): string;
  mounting(m: Mounting): string;
  marks(marks: Mark[], crs: string): string;
  /** A recording of an echo sounder with side-scan. */
  sonar(path: string, recording: SonarRecording): Promise<void>;
  /** A scan in its scanner's own frame, LAS without a system. */
  scan(path: string, scan: Scan): Promise<void>;
}

const DEGREES = 180 / Math.PI;
const SOLUTION = ['', 'fixed', 'float', 'code', 'inertial'];

function trajectoryText(t: Trajectory): string {
  const lines = [
    `# crs: ${t.crs}`,
    `# epoch: ${t.epoch}`,
    `# point: ${t.point}`,
    `# source: ${t.source ?? 'demo site'}`,
    'gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,vn_mps,ve_mps,vd_mps,sd_n_m,sd_e_m,sd_d_m,sd_roll_deg,sd_pitch_deg,sd_heading_deg,solution,satellites',
  ];
  const angle = (v: Float64Array | undefined, i: number) => (v ? (v[i] * DEGREES).toFixed(5) : '');
  const metres = (v: Float64Array | undefined, i: number) => (v ? v[i].toFixed(4) : '');
  for (let i = 0; i < t.sow.length; i++)
    lines.push(
      `${t.week},${t.sow[i].toFixed(6)},${(t.latRad[i] * DEGREES).toFixed(10)},${(t.lonRad[i] * DEGREES).toFixed(10)},${t.hEllM[i].toFixed(4)},` +
        [t.rollRad, t.pitchRad, t.headingRad].map((v) => angle(v, i)).join(',') +
        ',' +
        [t.vnMps, t.veMps, t.vdMps, t.sdNM, t.sdEM, t.sdDM].map((v) => metres(v, i)).join(',') +
        ',' +
        [t.sdRollRad, t.sdPitchRad, t.sdHeadingRad].map((v) => angle(v, i)).join(',') +
        `,${SOLUTION[t.solution?.[i] ?? 0]},${t.satellites?.[i] ?? ''}`,
    );
  return `${lines.join('\n')}\n`;
}

function mountingText(m: Mounting): string {
  const sensors = Object.fromEntries(
    Object.entries(m.sensors).map(([name, s]) => [
      name,
      {
        lever_arm_m: s.leverArmM,
        orientation_deg: s.orientationDeg,
        boresight_deg: s.boresightDeg,
        lever_arm_sd_m: s.leverArmSdM,
        boresight_sd_deg: s.boresightSdDeg,
        ...(s.camera
          ? {
              camera: {
                focal_length_mm: s.camera.focalLengthMm,
                sensor_mm: s.camera.sensorMm,
                pixels: s.camera.pixels,
                looks: s.camera.looks,
              },
            }
          : {}),
        ...(s.serial ? { serial: s.serial } : {}),
        ...(s.latencySdS === undefined ? {} : { latency_s: s.latencyS ?? 0, latency_sd_s: s.latencySdS }),
        ...(s.calibratedOn ? { calibrated_on: s.calibratedOn, serviced_on: s.servicedOn } : {}),
      },
    ]),
  );
  const water = m.waterlineM === undefined ? {} : { waterline_m: m.waterlineM, waterline_sd_m: m.waterlineSdM };
  return `${JSON.stringify({ ...water, gnss: { lever_arm_m: m.gnssLeverArmM, lever_arm_sd_m: m.gnssLeverArmSdM }, sensors }, null, 2)}\n`;
}

function marksText(marks: Mark[], crs: string): string {
  const rows = marks.map((m) =>
    [
      m.name,
      m.role,
      m.eastingM.toFixed(4),
      m.northingM.toFixed(4),
      m.heightM.toFixed(4),
      m.sdEM,
      m.sdNM,
      m.sdHM,
      `"${m.note ?? ''}"`,
    ].join(','),
  );
  return `# crs: ${crs}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note\n${rows.join('\n')}\n`;
}

/** Pixels of 0.01 mm. */
const PIXELS_A_CM = 1000;

async function photo(
  rgb: Uint8Array,
  { name, serial, widthPx, heightPx, engravedMm }: TrueCamera,
  takenS: number,
): Promise<Uint8Array> {
  const taken = new Date(1000 * takenS).toISOString().slice(0, 19).replace('T', ' ').replaceAll('-', ':');
  return sharp(rgb, { raw: { width: widthPx, height: heightPx, channels: 3 } })
    .withExif({
      IFD0: { Model: name },
      IFD2: {
        DateTimeOriginal: taken,
        BodySerialNumber: serial,
        ...(engravedMm
          ? {
              FocalLength: `${Math.round(10 * engravedMm)}/10`,
              FocalPlaneXResolution: `${PIXELS_A_CM}/1`,
              FocalPlaneYResolution: `${PIXELS_A_CM}/1`,
              FocalPlaneResolutionUnit: '3',
            }
          : {}),
      },
    })
    .jpeg({ quality: 88 })
    .toBuffer();
}

async function scanFile(path: string, scan: Scan): Promise<void> {
  const fields = { ...NO_FIELDS, intensity: true };
  const source = { name: path, fields, lost: [], details: [], batches, close: () => Promise.resolve() };
  async function* batches() {
    yield await Promise.resolve(scan);
  }
  await writeFromPoints(source, batches(), path, undefined, new Date(0));
}

export const siteWriters: SiteWriters = {
  photo,
  archive: (files) => zipSync(files, { level: 0 }),
  laser: writeLaserFile,
  inertial: writeInertialFile,
  sonar: writeSonarFile,
  trajectory: trajectoryText,
  mounting: mountingText,
  marks: marksText,
  scan: scanFile,
};
