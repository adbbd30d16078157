import { readFile, writeFile } from 'node:fs/promises';
import { type PatchFigures, type PatchTerm } from '@longheron/contract/kinds/patch';
import declaration from '@longheron/contract/operations/patch';
import { mountingToJson, type Mounting } from '@longheron/core/frames';
import { part, tick, type Notice } from '@longheron/core/shared';
import {
  NEEDED,
  PATCH_TERMS,
  patchTest,
  soundingSpacingM,
  type LineFreedom,
  type PatchResult,
  type Soundings,
  type Vessel,
} from '@longheron/core/sonar';
import { type Trajectory } from '@longheron/core/trajectory';
import { openAs } from '@longheron/formats/registry';
import { mountingText } from '@longheron/formats/mounting';
import { readWaterLevel } from '@longheron/formats/water-level';
import { computation } from '../computation/types';
import { trajectoryFrame } from '../place';
import { ReportBuilder } from '../shared/report';
import { levelsOf, vesselOf } from '../shared/sonar';
import { finite, frameNotices, systemFrom } from '../shared/words';
import { patchChapter } from './chapter';
import { readLines, type ReadLine } from './lines';
import { slicesOf } from './slices';

/** Of the speed of sound, as a share: what a cast that is out of date bends outer beams by at most, and one that is not. */
const BEND = { free: 0.004, cast: 1e-5 };
/** Of a path that states no deviations. */
const UNSTATED = { planM: 0.05, heightM: 0.05, attitudeDeg: [0.03, 0.03, 0.1] as const };
/** Terms that hang together more are named. */
const TOGETHER = 0.9;
const CELLS_A_SPACING = 3;

/** Roll, pitch, heading and latency of an echo sounder from lines that overlap. */
export default computation(
  declaration,
  async ({ sonar, mounting, trajectory, casts, waterLevel }, settings, context, out, watch) => {
    const { minLengthM, turnDegPerS, trajectoryCrs, castBy, water } = settings;
    const system = systemFrom(context);
    const builder = new ReportBuilder('patch', { ...settings, mounting: mountingToJson(mounting.mounting) });
    const given = trajectory && (await openAs('trajectory', trajectory.path, trajectory.name));
    if (given)
      builder.notices.push(
        ...frameNotices(trajectoryFrame(given, trajectoryCrs, trajectory.name), system, trajectory.name),
      );
    const levels = waterLevel && levelsOf(readWaterLevel(await readFile(waterLevel.path), waterLevel.name));
    const vessel = vesselOf(mounting.mounting, mounting.name, () => undefined);
    tick(watch, 0.02, 'Reading lines');
    const lines = await readLines({
      sonar,
      mounting: mounting.mounting,
      trajectory: given,
      levels,
      casts: await openAs('casts', casts.path, casts.name),
      castBy,
      system,
      strips: { minLengthM, turnDegPerS },
    });
    const before = lines.map((l) => l.line.reduce(vessel));
    const cellM = settings.cellM ?? Math.max(1, CELLS_A_SPACING * spacingOf(before));
    const freedom = freedomOf(given, BEND[water]);
    const result = patchTest({ lines: lines.map((l) => l.line), vessel, cellM, freedom }, part(watch, 0.1, 0.9));
    const tested = testedMounting(mounting.mounting, result.vessel, result);
    const text = mountingText(tested);
    const file = await out.file('mounting', 'mounting', (path) => writeFile(path, text));
    const figures = figuresOf(lines, vessel, result, cellM, before);
    for (const n of noticesOf(figures)) builder.notice(n);
    const { keeps, store } = out;
    let slices: string | undefined;
    if (keeps) {
      tick(watch, 0.92, 'Cutting slices');
      const after = lines.map((l) => l.line.reduce(result.vessel));
      const made = slicesOf(
        lines.map((l) => l.of),
        result.pairs,
        before,
        after,
      );
      slices = await store.bytes(new TextEncoder().encode(JSON.stringify({ slices: made })), 'slices');
    }
    return {
      content: {
        figures,
        mounting: mountingToJson(tested),
        mountingObject: file.sha256,
        ...(slices ? { slices } : {}),
        crs: system.label,
      },
      hash: file.sha256,
      report: builder.finish(system.label, figures),
      log: [`${lines.length} lines, ${result.cells} cells, ${result.iterations} steps.`],
      lines: [
        ...PATCH_TERMS.map((t) => sentence(t, result)),
        `Lines differ by ${(100 * result.beforeM).toFixed(1)} cm before and ${(100 * result.afterM).toFixed(1)} cm after (RMS, ${result.cells} cells of ${cellM.toFixed(2)} m).`,
      ],
    };
  },
  { chapter: patchChapter },
);

function spacingOf(lines: readonly Soundings[]): number {
  const longest = lines.reduce((a, b) => (b.count > a.count ? b : a));
  const spacing = soundingSpacingM({
    eastingM: longest.eastingM.subarray(0, longest.count),
    northingM: longest.northingM.subarray(0, longest.count),
  });
  return Number.isFinite(spacing) ? spacing : 1;
}

/** What each line may be off by: the usual deviations of its path. */
function freedomOf(trajectory: Trajectory | undefined, bend: number): LineFreedom {
  const usual = (v: Float64Array | undefined) => (v?.length ? v.slice().sort()[v.length >> 1] : 0);
  const degrees = (v: Float64Array | undefined) => (usual(v) * 180) / Math.PI;
  if (!trajectory) return { planM: 0.5, heightM: 0.1, attitudeDeg: UNSTATED.attitudeDeg, bend };
  const { sdRollRad, sdPitchRad, sdHeadingRad } = trajectory;
  const attitude = [sdRollRad, sdPitchRad, sdHeadingRad].map((v, k) => degrees(v) || UNSTATED.attitudeDeg[k]);
  return {
    planM: Math.max(usual(trajectory.sdNM), usual(trajectory.sdEM)) || UNSTATED.planM,
    heightM: usual(trajectory.sdDM) || UNSTATED.heightM,
    attitudeDeg: [attitude[0], attitude[1], attitude[2]],
    bend,
  };
}

/** The mounting with what was found; the deviations of what was held stay. */
function testedMounting(mounting: Mounting, vessel: Vessel, r: PatchResult): Mounting {
  const name = mounting.sensors.sonar ? 'sonar' : Object.keys(mounting.sensors)[0];
  const old = mounting.sensors[name];
  const sds = typeof old.boresightSdDeg === 'number' ? undefined : old.boresightSdDeg;
  const sd = (t: 'roll' | 'pitch' | 'heading') =>
    Number.isFinite(r.sd[t]) ? r.sd[t] : (sds?.[t] ?? (old.boresightSdDeg as number));
  return {
    ...mounting,
    sensors: {
      ...mounting.sensors,
      [name]: {
        ...old,
        boresightDeg: vessel.sensor.boresightDeg,
        boresightSdDeg: { roll: sd('roll'), pitch: sd('pitch'), heading: sd('heading') },
        latencyS: vessel.latencyS,
        latencySdS: Number.isFinite(r.sd.latency) ? r.sd.latency : (old.latencySdS ?? vessel.latencySdS),
      },
    },
  };
}

function figuresOf(
  lines: readonly ReadLine[],
  vessel: Vessel,
  r: PatchResult,
  cellM: number,
  before: readonly Soundings[],
): PatchFigures {
  const angles = (v: Vessel) => {
    const { roll, pitch, heading } = v.sensor.boresightDeg;
    return { roll_deg: roll, pitch_deg: pitch, heading_deg: heading, latency_s: v.latencyS };
  };
  const together: PatchFigures['together'] = [];
  PATCH_TERMS.forEach((a, i) =>
    PATCH_TERMS.forEach((b, j) => {
      const correlation = r.correlation[i * PATCH_TERMS.length + j];
      if (j > i && Math.abs(correlation) > TOGETHER) together.push({ a, b, correlation });
    }),
  );
  return {
    roll_deg: finite(r.by.roll),
    roll_deg_sd: finite(r.sd.roll),
    pitch_deg: finite(r.by.pitch),
    pitch_deg_sd: finite(r.sd.pitch),
    heading_deg: finite(r.by.heading),
    heading_deg_sd: finite(r.sd.heading),
    latency_s: finite(r.by.latency),
    latency_s_sd: finite(r.sd.latency),
    held: r.held.map((term) => ({ term, needs: NEEDED[term] })),
    together,
    before_m: r.beforeM,
    after_m: r.afterM,
    cells: r.cells,
    cell_m: cellM,
    soundings: before.reduce((sum, s) => sum + s.count, 0),
    steps: r.iterations,
    sensor: 'sonar',
    before: angles(vessel),
    after: angles(r.vessel),
    lines: lines.map(({ of, line, path }) => ({
      id: of.id,
      file: of.file,
      pings: line.pings,
      heading_deg: (line.courseRad * 180) / Math.PI,
      speed_mps: line.speedMps,
      path,
    })),
    pairs: r.pairs.map((p) => ({
      a: lines[p.a].of.id,
      b: lines[p.b].of.id,
      cells: p.cells,
      turn_deg: p.turnDeg,
      speed_ratio: p.speedRatio,
      apart_deg: p.apartDeg,
      slope: p.slope,
      serves: p.serves,
    })),
  };
}

function noticesOf(f: PatchFigures): Notice[] {
  return [
    ...f.held.map(({ term, needs }) => ({
      code: 'patch-held',
      severity: 'warning' as const,
      text: `These lines do not tell ${WORDS[term]}; it stays as it was.`,
      remedy: `Run ${needs}.`,
    })),
    ...f.together.map(({ a, b, correlation }) => ({
      code: 'patch-together',
      severity: 'info' as const,
      text: `${capital(WORDS[a])} and ${WORDS[b]} are hardly told apart by these lines (correlation ${correlation.toFixed(2)}).`,
      effect: 'Their deviations say so; together they are known better than each.',
      remedy: `Run ${NEEDED[b]}.`,
    })),
  ];
}

const WORDS: { readonly [t in PatchTerm]: string } = {
  roll: 'roll',
  pitch: 'pitch',
  heading: 'heading',
  latency: 'the latency',
};
const capital = (text: string) => text[0].toUpperCase() + text.slice(1);

function sentence(t: PatchTerm, r: PatchResult): string {
  const name = capital(t);
  if (!Number.isFinite(r.by[t])) return `${name}: held, these lines do not tell it.`;
  return t === 'latency'
    ? `${name}: ${r.by[t].toFixed(4)} s, SD ${r.sd[t].toFixed(4)} s`
    : `${name}: ${r.by[t].toFixed(3)}°, SD ${r.sd[t].toFixed(3)}°`;
}
