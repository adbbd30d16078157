import { mountingToJson, type Mounting } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { writeSonarFile } from '@longheron/formats/sonar';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import {
  castsOf,
  castsText,
  CHANNELS,
  gaugeText,
  LATENCY_S,
  realTime,
  scanLine,
  SOUNDER,
  soundLine,
  tideOf,
  TRUE_HEAD,
  WATERLINE_M,
} from '@longheron/site/boat';
import { trueTrajectory, type TrueDrive } from '@longheron/site/drive';
import { trueVoyage } from '@longheron/site/journeys';
import { type OnFiles } from './onFiles';

export const BOAT_CRS = 'EPSG:25832+5773';
const START_SOW = 207_000;

let voyage: TrueDrive | undefined;
/** The voyage, made once. */
export const boatVoyage = () => (voyage ??= trueVoyage(START_SOW));

/** The mounting as it truly is. */
export const TRUE_MOUNTING: Mounting = {
  waterlineM: WATERLINE_M,
  waterlineSdM: 0.01,
  sensors: {
    sonar: { ...TRUE_HEAD, leverArmSdM: 0.003, boresightSdDeg: 0.01, latencyS: LATENCY_S, latencySdS: 0.001 },
  },
};

export interface BoatLine {
  /** Which line, from 0, and which part of it, in seconds from its beginning. */
  line: number;
  fromS: number;
  toS: number;
}

interface BoatPlan {
  lines: BoatLine[];
  beams?: number;
  pingsPerS?: number;
  /** Of the noise of all sensors. */
  factor?: number;
  seed?: number;
  sidescan?: boolean;
}

/** Recordings of parts of lines, true trajectory, casts, gauge and mounting as files, with what is true of the soundings. */
export async function boatFiles(
  files: OnFiles,
  { lines, beams = 64, pingsPerS = 5, factor = 0, seed = 1, sidescan = false }: BoatPlan,
) {
  const system = parseSystem(BOAT_CRS);
  const drive = boatVoyage();
  const tide = tideOf(drive);
  const sonar: string[] = [];
  const truth: Array<ReturnType<typeof soundLine>> = [];
  const scans: Array<ReturnType<typeof scanLine>[]> = [];
  for (const [k, { line, fromS, toS }] of lines.entries()) {
    const { startSow } = drive.passes[line];
    const span = { startSow: startSow + fromS, endSow: startSow + toS };
    const t = soundLine(drive, system, span, tide, seed + line, factor, undefined, { beams, pingsPerS });
    truth.push(t);
    const path = files.path(`line${k + 1}.sonar.h5`);
    const scanned = sidescan ? CHANNELS.map((c) => scanLine(drive, system, span, tide, c, seed + line, factor)) : [];
    scans.push(scanned);
    const channels = scanned.map(({ channel, sow, port, starboard }) => {
      const { name, samples, sampleS, frequencyHz } = channel;
      return { name, samples, sampleS, firstS: 0, frequencyHz, sow, port, starboard };
    });
    await writeSonarFile(path, {
      info: {
        week: t.pings.week,
        sonar: SOUNDER.name,
        frequencyHz: SOUNDER.frequencyHz,
        beamwidthAcrossDeg: 1,
        beamwidthAlongDeg: 1,
        pulseS: SOUNDER.pulseS,
        binned: false,
        rangeSdM: SOUNDER.rangeM,
        angleSdDeg: SOUNDER.angleDeg,
        surfaceSpeedSdMps: SOUNDER.surfaceMps,
      },
      ...realTime(drive, system, span, seed + line, factor),
      pings: t.pings,
      channels,
    });
    sonar.push(path);
  }
  const from = Math.min(...lines.map((l) => drive.passes[l.line].startSow + l.fromS)) - 3;
  const to = Math.max(...lines.map((l) => drive.passes[l.line].startSow + l.toS)) + 3;
  const trajectory = await files.put(
    'boat.csv',
    [...trajectoryCsv(trueTrajectory(drive, system, 100, from, to))].join(''),
  );
  const mounting = await files.put('mount.json', JSON.stringify(mountingToJson(TRUE_MOUNTING)));
  const casts = await files.put('casts.csv', castsText(castsOf(drive, system, tide, seed, factor)));
  const waterLevel = await files.put('gauge.csv', gaugeText(drive, system, seed, factor));
  return {
    truth,
    scans,
    paths: { sonar, trajectory: [trajectory], mounting: [mounting], casts: [casts], waterLevel: [waterLevel] },
  };
}
