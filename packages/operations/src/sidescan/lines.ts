import { WEEK_S } from '@longheron/core/time';
import { type Mounting, type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { Problem, type Watch } from '@longheron/core/shared';
import {
  nearestCast,
  SidescanGround,
  trackBottom,
  VesselPath,
  type BottomSettings,
  type BottomTrack,
  type Cast,
  type CastRule,
  type PingGround,
  type SidescanRows,
} from '@longheron/core/sonar';
import { type Trajectory } from '@longheron/core/trajectory';
import { SonarFile } from '@longheron/formats/sonar';
import { navigationPath, sonarOf } from '../shared/sonar';

/** A cable sags and runs aslant: so much of it is way across. */
const CABLE_SHARE = 0.95;

/** A line with its first returns tracked and its pings placed. */
export interface ScannedLine {
  name: string;
  week: number;
  rows: SidescanRows;
  track: BottomTrack;
  /** Undefined where a ping lies outside the path. */
  ground: Array<PingGround | undefined>;
  sampleS: number;
}

export interface ScanRequest {
  channel: string;
  mounting: Mounting;
  mountingName: string;
  trajectory?: Trajectory;
  casts: readonly Cast[];
  castBy: CastRule;
  system: ReferenceSystem;
  bottom: BottomSettings;
}

/** Reads one pair of channels of a file, tracks the bed, and places its pings. @throws Problem for a channel that is not there. */
export async function scannedLine(
  { path: filePath, name }: { path: string; name: string },
  request: ScanRequest,
  watch?: Watch,
): Promise<ScannedLine> {
  const file = await SonarFile.open(filePath, name);
  try {
    const channel = file.channel(request.channel);
    if (!channel)
      throw new Problem(`The file has no side-scan channel "${request.channel}".`, {
        code: 'sonar-channel',
        file: name,
        place: '/sidescan',
        remedy: file.info.channels.length
          ? `It has ${file.info.channels.map((c) => c.name).join(', ')}: choose one of these.`
          : 'It holds no side-scan at all: choose another file.',
      });
    const { sow, port, starboard } = file.readSidescan(channel, 0, channel.pings);
    const { samples, sampleS, firstS } = channel;
    const rows: SidescanRows = { samples, sampleS, firstS, sow, port, starboard };
    const track = trackBottom(rows, request.bottom, undefined, watch);
    const way = request.trajectory ?? navigationPath(file, request.mounting, undefined);
    const towfish = request.mounting.sensors.towfish;
    const sensor: SensorMounting = towfish ?? sonarOf(request.mounting, request.mountingName);
    const latencyS = sensor.latencyS ?? request.mounting.sensors.sonar?.latencyS ?? 0;
    const first = file.info.week * WEEK_S + (sow[0] ?? 0);
    const cast = request.casts[nearestCast(request.casts, request.castBy, first, way.latRad[0], way.lonRad[0])];
    const placer = new SidescanGround(
      new VesselPath(way, request.system),
      sensor,
      latencyS,
      request.mounting.waterlineM ?? 0,
      cast,
      towfish?.cableOutM ? CABLE_SHARE * towfish.cableOutM : undefined,
    );
    const ground = Array.from(sow, (_, i) => placer.at(rows, file.info.week, i, track));
    return { name, week: file.info.week, rows, track, ground, sampleS };
  } finally {
    file.close();
  }
}

/** Tracks of all lines as a table. */
export function* tracksCsv(lines: readonly ScannedLine[], channel: string): Generator<string> {
  yield 'file,channel,ping,gps_sow,altitude_m,confidence,flagged,edited\n';
  for (const { name, rows, track, ground } of lines)
    for (let i = 0; i < rows.sow.length; i++)
      yield `${name},${channel},${i},${rows.sow[i].toFixed(4)},${ground[i]?.altitudeM.toFixed(3) ?? ''},${track.confidence[i].toFixed(3)},${track.flagged[i]},${track.edited[i]}\n`;
}
