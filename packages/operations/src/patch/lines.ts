import { type Mounting, type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import {
  SoundingReducer,
  VesselPath,
  type Cast,
  type CastRule,
  type Levels,
  type PatchLine,
  type Pings,
} from '@longheron/core/sonar';
import { stripRulesFor, type StripSettings, type Trajectory } from '@longheron/core/trajectory';
import { SonarFile } from '@longheron/formats/sonar';
import { linesOf, navigationPath, orderedMotion, wayOf, type SonarLine } from '../shared/sonar';

/** Soundings that take part at most: more make it slower and hardly sharper. */
const MOST_SOUNDINGS = 160_000;

export interface PatchFiles {
  sonar: ReadonlyArray<{ path: string; name: string }>;
  mounting: Mounting;
  trajectory?: Trajectory;
  levels?: Levels;
  casts: readonly Cast[];
  castBy: CastRule;
  system: ReferenceSystem;
  strips: { readonly [K in keyof StripSettings]?: StripSettings[K] };
}

/** A line with what the report says of it. */
export interface ReadLine {
  line: PatchLine;
  of: SonarLine;
  path: number[];
}

/** Reads all lines into memory, thinned evenly where there are more soundings than needed. */
export async function readLines(request: PatchFiles): Promise<ReadLine[]> {
  const out: ReadLine[] = [];
  const files: SonarFile[] = [];
  try {
    for (const { path, name } of request.sonar) files.push(await SonarFile.open(path, name));
    const all = files.reduce((sum, f) => sum + f.info.pings * f.info.beams, 0);
    const keep = Math.min(1, MOST_SOUNDINGS / Math.max(1, all));
    for (const file of files) {
      if (!file.info.pings)
        throw new Problem('The file holds side-scan and no soundings.', {
          code: 'sonar-no-bathy',
          file: file.name,
          place: '/bathy',
          remedy: 'Choose the file with the soundings.',
        });
      const path = request.trajectory ?? navigationPath(file, request.mounting, request.levels);
      const times = file.pingTimes();
      const lines = linesOf(file, times, path, stripRulesFor(path, request.strips), out.length + 1);
      const pings = thinned(file.readPings(0, file.info.pings), keep);
      const motion = file.motion();
      for (const of of lines) {
        const part = partOf(pings, of);
        const way = new VesselPath(path, request.system);
        if (!part.sow.length) continue;
        out.push({
          of,
          path: wayOf(path, of, request.system),
          line: {
            name: of.file,
            pings: part.sow.length,
            beams: part.beams,
            courseRad: of.headingRad,
            speedMps: of.lengthM / Math.max(1e-9, of.endSow - of.startSow),
            reduce: (vessel) =>
              new SoundingReducer(
                way,
                vessel,
                request.casts,
                request.castBy,
                file.info,
                motion && orderedMotion(motion),
              ).reduce(part),
          },
        });
      }
    }
  } finally {
    for (const f of files) f.close();
  }
  if (out.length < 2)
    throw new Problem('One line alone tells nothing of the mounting.', {
      code: 'patch-lines',
      file: request.sonar[0]?.name,
      remedy: 'Choose lines that overlap: one run both ways, one beside it, one at another speed.',
    });
  return out;
}

/** Detections that do not take part are marked as silent; which is drawn, the same at each run. */
function thinned(pings: Pings, keep: number): Pings {
  if (keep >= 1) return pings;
  const random = new Random(17, 'beams of the mounting test');
  return { ...pings, quality: pings.quality.map((q) => (q > 0 && random.uniform() < keep ? q : 0)) };
}

/** Pings of a line, in its span; numbers of pings count from 0 within it. */
function partOf(pings: Pings, { startSow, endSow }: SonarLine): Pings {
  const rows = [...pings.sow.keys()].filter((i) => pings.sow[i] >= startSow && pings.sow[i] <= endSow);
  const { beams } = pings;
  const single = (v: Float64Array) => Float64Array.from(rows, (i) => v[i]);
  const n = rows.length * beams;
  const [angleDeg, travelS, quality] = [new Float32Array(n), new Float64Array(n), new Uint8Array(n)];
  rows.forEach((i, k) => {
    const cut = [i * beams, (i + 1) * beams] as const;
    angleDeg.set(pings.angleDeg.subarray(...cut), k * beams);
    travelS.set(pings.travelS.subarray(...cut), k * beams);
    quality.set(pings.quality.subarray(...cut), k * beams);
  });
  return {
    week: pings.week,
    first: 0,
    beams,
    sow: single(pings.sow),
    tiltDeg: single(pings.tiltDeg),
    surfaceMps: single(pings.surfaceMps),
    angleDeg,
    travelS,
    quality,
  };
}
