import { readFile } from 'node:fs/promises';
import { compareTrajectories } from '@longheron/core/trajectory';
import { readTrajectory } from '@longheron/formats/trajectory';
import { objectPath, jsonHash } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

const BINS = 2400;

/** Two trajectories against each other: statistics, and lowest and highest difference by bin for plots. */
export async function compare(r: TaskRequest): Promise<TaskResult> {
  const p = r.payload as { first: string; second: string; names: [string, string] };
  const [a, b] = await Promise.all(
    [p.first, p.second].map(async (sha, i) =>
      readTrajectory(await readFile(objectPath(r.storeFolder, sha)), p.names[i]),
    ),
  );
  const d = compareTrajectories(a, b);
  const n = d.sow.length;
  const bins = Math.min(BINS, n);
  const edge = (k: number) => Math.floor((k * n) / bins);
  const time = Array.from({ length: bins }, (_, k) =>
    Number((a.week * 604800 + d.sow[(edge(k) + edge(k + 1) - 1) >> 1]).toFixed(3)),
  );
  const series = d.columns.map(({ name, unit, values }) => {
    const min: number[] = [];
    const max: number[] = [];
    for (let k = 0; k < bins; k++) {
      let low = Infinity;
      let high = -Infinity;
      for (let i = edge(k); i < edge(k + 1); i++) {
        if (values[i] < low) low = values[i];
        if (values[i] > high) high = values[i];
      }
      min.push(Number(low.toFixed(5)));
      max.push(Number(high.toFixed(5)));
    }
    return { name: `Difference ${name}`, unit, time, min, max };
  });
  const content = {
    ...{ epochs: n, without: d.without, points: [a.point ?? '', b.point ?? ''] },
    statistics: d.columns.map(({ name, unit, mean, sd, rms, max }) => ({ name, unit, mean, sd, rms, max })),
    series,
  };
  return { content, contentHash: jsonHash(p), objects: [], notices: [], log: [] };
}
