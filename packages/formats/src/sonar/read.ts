import { basename } from 'node:path';
import { type Motion, type Navigation, type Pings } from '@longheron/core/sonar';
import { openHdf5, readRows, type Hdf5File } from '../hdf5';
import { describeSonar, USUAL_SD, type SidescanChannel, type SonarInfo } from './describe';

const DEG = Math.PI / 180;
/** Pings read at once: whole chunks as we write them. */
const BLOCK_PINGS = 256;

/** Side-scan pings: amplitudes in rows, sample k of a row at firstS + k · sampleS. */
export interface SidescanPings {
  first: number;
  sow: Float64Array;
  port: Uint16Array;
  starboard: Uint16Array;
}

/** Recording of an echo sounder, docs/formats/sonar.md. Only for worker threads and the command line. */
export class SonarFile {
  private constructor(
    readonly info: SonarInfo,
    readonly name: string,
    private readonly file: Hdf5File,
  ) {}

  /** @throws Problem naming file and place when the layout does not hold. */
  static async open(path: string, name = basename(path)): Promise<SonarFile> {
    const { file, info } = await openHdf5(path, 'sonar', name, describeSonar);
    return new SonarFile(info, name, file);
  }

  private column(place: string, from: number, to: number, width = 1): ArrayLike<number> {
    return readRows(this.file, place, from, to, width, 'sonar', this.name);
  }

  private there(place: string): boolean {
    return !!this.file.get(place);
  }

  private numbers(place: string, rows: number): Float64Array {
    return Float64Array.from(this.column(place, 0, rows));
  }

  private deviation(group: string, key: string, usual: number): number {
    const holder = this.file.get(group) as unknown as { attrs: Record<string, { value: unknown }> };
    const value = Number(holder.attrs[key]?.value ?? Number.NaN);
    return value > 0 ? value : usual;
  }

  /** Real-time navigation; undefined when there is none. */
  navigation(): Navigation | undefined {
    const n = this.info.fixes;
    if (!n) return undefined;
    const radians = (place: string) => this.numbers(place, n).map((v) => v * DEG);
    const missing = () => new Float64Array(n).fill(Number.NaN);
    return {
      week: this.info.week,
      sow: this.numbers('nav/gps_sow', n),
      latRad: radians('nav/lat_deg'),
      lonRad: radians('nav/lon_deg'),
      hEllM: this.there('nav/h_ell_m') ? this.numbers('nav/h_ell_m', n) : missing(),
      headingRad: this.there('nav/heading_deg') ? radians('nav/heading_deg') : missing(),
      planSdM: this.deviation('nav', 'plan_sd_m', USUAL_SD.planM),
      heightSdM: this.deviation('nav', 'height_sd_m', USUAL_SD.heightM),
    };
  }

  /** Roll, pitch, heading and heave; undefined when there are none. */
  motion(): Motion | undefined {
    const n = this.info.motions;
    if (!n) return undefined;
    const radians = (place: string) => this.numbers(place, n).map((v) => v * DEG);
    return {
      week: this.info.week,
      sow: this.numbers('motion/gps_sow', n),
      rollRad: radians('motion/roll_deg'),
      pitchRad: radians('motion/pitch_deg'),
      headingRad: radians('motion/heading_deg'),
      heaveM: this.there('motion/heave_m') ? this.numbers('motion/heave_m', n) : new Float64Array(n),
      rollSdRad: this.deviation('motion', 'roll_sd_deg', USUAL_SD.rollDeg) * DEG,
      pitchSdRad: this.deviation('motion', 'pitch_sd_deg', USUAL_SD.pitchDeg) * DEG,
      headingSdRad: this.deviation('motion', 'heading_sd_deg', USUAL_SD.headingDeg) * DEG,
      heaveSdM: this.deviation('motion', 'heave_sd_m', USUAL_SD.heaveM),
    };
  }

  /** Times of transmission of all pings, seconds of the week. */
  pingTimes(): Float64Array {
    return this.info.pings ? this.numbers('bathy/gps_sow', this.info.pings) : new Float64Array(0);
  }

  /** Pings [from, to). */
  readPings(from: number, to: number): Pings {
    const { week, beams, hasIntensity } = this.info;
    const n = to - from;
    const floats = (got: ArrayLike<number>) => (got instanceof Float64Array ? got : Float64Array.from(got));
    const single = (place: string, missing: number) =>
      this.there(place) ? floats(this.column(place, from, to)) : new Float64Array(n).fill(missing);
    const travelS = floats(this.column('bathy/travel_s', from, to, beams));
    const angles = this.column('bathy/angle_deg', from, to, beams);
    return {
      week,
      first: from,
      beams,
      sow: floats(this.column('bathy/gps_sow', from, to)),
      tiltDeg: single('bathy/tilt_deg', 0),
      surfaceMps: single('bathy/surface_speed_mps', Number.NaN),
      angleDeg: angles instanceof Float32Array ? angles : Float32Array.from(angles),
      travelS,
      quality: this.there('bathy/quality')
        ? Uint8Array.from(this.column('bathy/quality', from, to, beams))
        : Uint8Array.from(travelS, (t) => (t > 0 ? 1 : 0)),
      ...(hasIntensity ? { intensityDb: Float32Array.from(this.column('bathy/intensity_db', from, to, beams)) } : {}),
    };
  }

  /** Blocks of whole chunks. */
  *blocks(size = BLOCK_PINGS): Generator<Pings> {
    for (let from = 0; from < this.info.pings; from += size)
      yield this.readPings(from, Math.min(from + size, this.info.pings));
  }

  channel(name: string): SidescanChannel | undefined {
    return this.info.channels.find((c) => c.name === name);
  }

  /** Side-scan pings [from, to) of one pair of channels. */
  readSidescan({ name, samples }: SidescanChannel, from: number, to: number): SidescanPings {
    const side = (which: string) => {
      const got = this.column(`sidescan/${name}/${which}`, from, to, samples);
      return got instanceof Uint16Array ? got : Uint16Array.from(got);
    };
    return {
      first: from,
      sow: Float64Array.from(this.column(`sidescan/${name}/gps_sow`, from, to)),
      port: side('port'),
      starboard: side('starboard'),
    };
  }

  close(): void {
    this.file.close();
  }
}
