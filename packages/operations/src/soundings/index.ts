import { readFile } from 'node:fs/promises';
import { type SoundingFigures } from '@longheron/contract/kinds/parts/soundings';
import declaration from '@longheron/contract/operations/soundings';
import { mountingToJson } from '@longheron/core/frames';
import { part } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { openAs } from '@longheron/formats/registry';
import { readWaterLevel } from '@longheron/formats/water-level';
import { computation } from '../computation/types';
import { trajectoryFrame } from '../place';
import { depthPicture } from '../depths';
import { extremesOf } from '../shared/raster';
import { ReportBuilder } from '../shared/report';
import { levelsOf } from '../shared/sonar';
import { type Store } from '../shared/store';
import { storeCloud } from '../shared/stored';
import { centimetres, frameNotices, systemFrom } from '../shared/words';
import { soundingsChapter } from './chapter';
import { noticesOf } from './notices';
import { PlanSums } from './plan';
import { reduceSoundings } from './reduce';

/** Squares of the first look, metres. */
const PLAN_CELL_M = 1;
/** Points a square metre that density in plan is compared with. */
const TARGET_PER_M2 = 10;

/** Sonar recordings to soundings. */
export default computation(
  declaration,
  async ({ sonar, mounting, trajectory, casts, waterLevel }, settings, context, out, watch) => {
    const { minLengthM, turnDegPerS, trajectoryCrs, castBy, leastQuality } = settings;
    const full = systemFrom(context);
    const given = trajectory && (await openAs('trajectory', trajectory.path, trajectory.name));
    const frame = given && trajectoryFrame(given, trajectoryCrs, trajectory.name);
    const levels = waterLevel && readWaterLevel(await readFile(waterLevel.path), waterLevel.name);
    const heights: SoundingFigures['heights'] = given
      ? 'trajectory'
      : levels && levels.datumEllM !== null && mounting.mounting.waterlineM !== undefined
        ? 'gauge'
        : 'relative';
    // relative heights must not look like those of the project
    const system = heights === 'relative' ? parseSystem(full.label.split('+')[0]) : full;
    const builder = new ReportBuilder('soundings', {
      ...settings,
      trajectory_crs: frame ?? null,
      mounting: mountingToJson(mounting.mounting),
    });
    if (frame) builder.notices.push(...frameNotices(frame, system, trajectory.name));
    if (given && !given.sdNM)
      builder.notice({
        code: 'trajectory-sd',
        severity: 'warning',
        file: trajectory.name,
        text: 'The trajectory states no standard deviations.',
        effect: 'The precision of the soundings leaves the trajectory out.',
      });
    let figures!: SoundingFigures;
    const plan = out.keeps ? new PlanSums(PLAN_CELL_M) : undefined;
    const list = await openAs('casts', casts.path, casts.name);
    const las = await out.file('cloud', 'las', async (outPath) => {
      figures = await reduceSoundings(
        {
          sonar,
          mounting: mounting.mounting,
          mountingName: mounting.name,
          trajectory: given,
          casts: list,
          levels: levels && levelsOf(levels),
          levelsAbove: levels?.above ?? '',
          castBy,
          leastQuality,
          strips: { minLengthM, turnDegPerS },
          system,
          heights,
          outPath,
          plan,
        },
        (n) => builder.notice(n),
        part(watch, 0, out.keeps ? 0.5 : 1),
      );
    });
    builder.notices.push(...noticesOf(figures));
    const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.5, 1), TARGET_PER_M2) : undefined;
    return {
      content: {
        las: las.sha256,
        bytes: las.bytes,
        ...stored,
        sounded: figures,
        ...(plan ? { plan: await drawn(plan, out.store) } : {}),
        crs: system.label,
      },
      hash: las.sha256,
      report: builder.finish(system.label, figures),
      log: [`${figures.soundings} soundings of ${figures.pings} pings reduced.`],
      lines: linesFor(figures, system.label),
    };
  },
  { chapter: soundingsChapter },
);

/** A first look at the bed, from the deepest to the shoalest square. */
async function drawn(plan: PlanSums, store: Store) {
  const grid = plan.grid();
  const [lowM, highM] = extremesOf(grid);
  const { cellM, westM, northM, columns, rows } = grid;
  const picture = await store.bytes(await depthPicture(grid), 'png');
  return { picture, layout: { cellM, westM, northM, columns, rows }, lowM, highM };
}

/** What the command says. */
function linesFor(f: SoundingFigures, system: string): string[] {
  const from = {
    trajectory: 'the trajectory',
    gauge: 'the gauge',
    relative: `nothing: relative to ${f.heights_above}`,
  };
  return [
    `${f.soundings} soundings of ${f.pings} pings in ${system}; heights from ${from[f.heights]}.`,
    `Stated uncertainty (1 SD, RMS): height ${centimetres(f.sd_h_m)}, plan ${centimetres(f.sd_plan_m)}.`,
    ...f.lines.map(
      (l) =>
        `Line ${l.id} (${l.file}): ${l.length_m.toFixed(0)} m, ${l.pings} pings, ${l.soundings} soundings from ${l.lowest_m.toFixed(2)} to ${l.highest_m.toFixed(2)} m`,
    ),
    ...f.casts.map(
      (c) =>
        `Cast ${c.name}: ${c.pings} pings, up to ${(c.age_s / 60).toFixed(0)} min and ${c.away_m.toFixed(0)} m away`,
    ),
  ];
}
