import { writeFile } from 'node:fs/promises';
import { type Profile, type ProfileFile } from '@longheron/contract/kinds/adjustment';
import declaration from '@longheron/contract/operations/strips';
import { mountingToJson, type Mounting } from '@longheron/core/frames';
import { adjustLines, type Adjustment, type Differences } from '@longheron/core/laser';
import { part } from '@longheron/core/shared';
import { findStrips, stripRulesFor } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { mountingText } from '@longheron/formats/mounting';
import { openAs } from '@longheron/formats/registry';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { computation } from '../computation/types';
import { placeReturns, trajectoryFrame } from '../place';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { frameNotices, systemFrom } from '../shared/words';
import { adjustmentChapter } from './chapter';
import { driftCsv, pairsCsv } from './csv';
import { figuresOf } from './figures';
import { linesOf } from './lines';
import { noticesOf } from './notices';
import { controlOf, openHeads } from './open';
import { mapsOf } from './pictures';
import { profilesOf } from './profiles';
import { reported } from './reported';

const MAX_VALUES = 20_000;

/** Overlapping strips to a calibrated mounting and a corrected trajectory; on the command line also to their cloud. */
export default computation(
  declaration,
  async ({ trajectory: path, returns, mounting: given, control: list }, settings, context, out, watch) => {
    const { minLengthM, turnDegPerS, trajectoryCrs, ...sought } = settings;
    const builder = new ReportBuilder('strips', { ...sought });
    const system = systemFrom(context);
    const trajectory = await openAs('trajectory', path.path, path.name);
    const frame = trajectoryFrame(trajectory, trajectoryCrs, path.name);
    builder.notices.push(...frameNotices(frame, system, path.name));
    if (!trajectory.sdNM)
      builder.notice({
        code: 'trajectory-sd',
        severity: 'warning',
        file: path.name,
        text: 'The trajectory states no standard deviations.',
        effect: 'Its errors are taken as 2 cm in plan, 3 cm in height, 0.01° in roll and pitch and 0.02° in heading.',
        remedy: 'Bring the trajectory with its deviations.',
      });
    const control = controlOf(list, system, (n) => builder.notice(n));
    const rules = stripRulesFor(trajectory, { minLengthM, turnDegPerS });
    const plan = findStrips(trajectory, rules);
    const { heads, sensors, close } = await openHeads(returns, given.mounting, trajectory, (n) => builder.notice(n));
    const share = out.wanted('cloud') ? 0.7 : 0.95;
    let found: Adjustment;
    let profiles: Profile[] | undefined;
    try {
      found = adjustLines({ trajectory, system, heads, plan, control, sought }, part(watch, 0.02, share));
      if (out.keeps) profiles = profilesOf(found, trajectory, system, heads, plan, part(watch, share, share + 0.05));
    } finally {
      close();
    }
    const figures = figuresOf(
      found,
      plan,
      sensors,
      heads.map((h) => h.mounting),
    );
    builder.notices.push(...noticesOf(found, figures, sensors));
    const mounting: Mounting = { ...given.mounting, sensors: { ...given.mounting.sensors } };
    sensors.forEach((name, i) => (mounting.sensors[name] = found.mountings[i]));
    const mountingFile = await out.file('mounting', 'mounting', (to) => writeFile(to, mountingText(mounting)));
    let trajectoryPath = '';
    const trajectoryFile = await out.file('trajectory', 'trajectory', async (to) => {
      trajectoryPath = to;
      await writeFileWhole(to, async (file) => {
        for (const text of trajectoryCsv({ ...found.trajectory, source: 'adjusted' })) await file.write(text);
      });
    });
    if (out.wanted('cloud'))
      await out.file('cloud', 'las', async (outPath) => {
        await placeReturns(
          {
            trajectoryPath,
            returnsPaths: returns.map((r) => r.path),
            mounting,
            system,
            outPath,
            trajectoryCrs,
            strips: rules,
          },
          part(watch, share, 1),
        );
      });
    const maps = out.keeps ? await mapsOf(found) : undefined;
    const content = {
      figures,
      mounting: mountingToJson(mounting),
      mountingObject: mountingFile.sha256,
      trajectoryObject: trajectoryFile.sha256,
      corrected: figures.drift.length > 0,
      solved: Object.entries(sought).flatMap(([key, yes]) => (yes === true ? [key] : [])),
      marks: figures.control.filter((m) => m.used).map((m) => m.name),
      crs: system.label,
      pictures: maps
        ? { before: await out.store.bytes(maps.before, 'png'), after: await out.store.bytes(maps.after, 'png') }
        : null,
      layout: maps?.layout ?? { cellM: found.cellM, columns: 0, rows: 0, westM: 0, northM: 0 },
      limitM: maps?.limitM ?? 0,
      values: out.keeps ? await out.store.json(valuesOf(found), 'differences') : '',
      profiles: profiles
        ? await out.store.json({ pieces: piecesOf(found, sensors), profiles } satisfies ProfileFile, 'profiles')
        : null,
    };
    if (out.wanted('pairs')) await out.file('pairs', 'csv', (to) => writeFile(to, pairsCsv(content, 'metre')));
    const lines = linesOf(figures);
    return {
      content,
      hash: jsonHash(content),
      report: builder.finish(system.label, { ...reported(figures, mounting, sensors) }),
      log: lines.slice(0, 2),
      lines,
    };
  },
  {
    chapter: adjustmentChapter,
    exports: {
      pairs: (content, { unit }) => pairsCsv(content, unit),
      drift: (content, { unit }) => driftCsv(content, unit),
    },
  },
);

/** Strip and head of each piece that profiles name. */
const piecesOf = ({ pieces }: Adjustment, heads: readonly string[]) =>
  pieces.map(({ line, head }) => ({ strip: line, head: heads[head] }));

/** Differences before and after, thinned. */
function valuesOf({ before, after }: Adjustment): { before: number[]; after: number[] } {
  const thin = ({ count, differenceM }: Differences) => {
    const step = Math.max(1, Math.ceil(count / MAX_VALUES));
    const values: number[] = [];
    for (let i = 0; i < count; i += step) values.push(Number(differenceM[i].toFixed(5)));
    return values;
  };
  return { before: thin(before.differences), after: thin(after.differences) };
}
