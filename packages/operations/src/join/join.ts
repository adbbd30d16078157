import { basename } from 'node:path';
import { type Contents } from '@longheron/contract/kinds';
import { joinTrajectories, type Trajectory } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { openAs } from '@longheron/formats/registry';
import { ReportBuilder, type Report } from '../shared/report';

/** Overlapping sessions further apart than this disagree, metres. */
const DISAGREE_M = 0.1;

export interface JoinResult {
  report: Report;
  trajectory: Trajectory;
  joined: NonNullable<Contents['trajectory']['joined']>;
  overlaps: NonNullable<Contents['trajectory']['overlaps']>;
}

/** Joins trajectories of several sessions to one and writes it as CSV. */
export async function joinSessions(
  paths: string[],
  outPath: string,
  names: Record<string, string> = {},
): Promise<JoinResult> {
  const name = (path: string) => names[path] ?? basename(path);
  const builder = new ReportBuilder('join', {});
  const list = await Promise.all(paths.map(async (p) => await openAs('trajectory', p, name(p))));
  const { trajectory, overlaps, parts } = joinTrajectories(list, paths.map(name));
  for (const o of overlaps)
    if (o.apartM > DISAGREE_M)
      builder.notice({
        code: 'join-apart',
        severity: 'warning',
        place: `${name(paths[o.first])}, ${name(paths[o.second])}`,
        text: `Where ${name(paths[o.first])} and ${name(paths[o.second])} overlap they are up to ${(100 * o.apartM).toFixed(0)} cm apart.`,
        effect: 'The result jumps by that in the middle of the overlap.',
        remedy: 'See which of the two is wrong: their bases or antenna heights may differ.',
      });
  trajectory.source = `Long Heron 0.1, ${list.length} sessions joined`;
  await writeFileWhole(outPath, async (out) => {
    for (const text of trajectoryCsv(trajectory)) await out.write(text);
  });
  const joined = parts.map((p) => ({
    name: name(paths[p.part]),
    start_sow: p.startSow,
    end_sow: p.endSow,
    epochs: p.epochs,
  }));
  const over = overlaps.map((o) => ({
    first: name(paths[o.first]),
    second: name(paths[o.second]),
    length_s: o.lengthS,
    apart_m: o.apartM,
  }));
  const figures = { settings: {}, epochs: trajectory.sow.length, parts: joined, overlaps: over };
  return { report: builder.finish(trajectory.crs ?? '', figures), trajectory, joined, overlaps: over };
}
