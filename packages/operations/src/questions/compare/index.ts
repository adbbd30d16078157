import { compareTrajectories } from '@longheron/core/trajectory';
import { openAs } from '@longheron/formats/registry';
import { type ComparisonDto } from '@longheron/contract/api';
import { question } from '../../computation/question';

const BINS = 2400;

interface Asked {
  /** Of the trajectory, and of the one that is taken from it. */
  objects: [string, string];
  names: [string, string];
}

/** Two trajectories against each other: statistics, and lowest and highest difference by bin for plots. */
export default question<Asked, ComparisonDto>(async ({ objects, names }, store) => {
  const [a, b] = await Promise.all(
    objects.map(async (sha, i) => await openAs('trajectory', store.path(sha), names[i])),
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
  const content: ComparisonDto = {
    epochs: n,
    without: d.without,
    points: [a.point ?? '', b.point ?? ''],
    statistics: d.columns.map(({ name, unit, mean, sd, rms, max }) => ({ name, unit, mean, sd, rms, max })),
    series,
  };
  return { content };
});
