import { makeLocalMap, applyLocalMap, exactFromLocal } from '@longheron/core/frames';
import { Placer } from '@longheron/core/laser';
import { outages, processedTrajectory, recordReturns, HEADS } from '@longheron/site/drive';
import { KIND } from '@longheron/site/objects';
import { trueHeight } from '@longheron/site/terrain';
import { system, line, noise, drive, truthOf, trajectory, mountTrue } from './truth';
import { pick, believedMounting } from './placed';

export function secondOrderMap(): void {
  const map = makeLocalMap(system, 0.9788, 0.1479, 45);
  let worst = 0;
  const a = new Float64Array(3),
    b = new Float64Array(3);
  for (let n = -300; n <= 300; n += 60)
    for (let e = -300; e <= 300; e += 60)
      for (const d of [-100, 0, 50]) {
        applyLocalMap(map, n, e, d, a);
        exactFromLocal(system, map.originEcef, map.axes, n, e, d, b);
        worst = Math.max(worst, Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]));
      }
  line(
    'second-order map against the exact chain at 300 m',
    `${(1000 * worst).toFixed(4)} mm`,
    'at most 0.1 mm',
    worst <= 1e-4,
  );
}

export function noiseFree(): void {
  let worst = 0,
    worstGround = 0,
    count = 0;
  for (const head of HEADS) {
    const truth = truthOf[head];
    const placed = new Placer(trajectory, system, mountTrue.sensors[head], noise).place(
      recordReturns(truth, 1, 'none'),
    );
    for (let i = 0; i < truth.count; i++) {
      if (truth.returnCount[i] !== 1 || truth.kind[i] === KIND.stray) continue;
      count++;
      worst = Math.max(
        worst,
        Math.hypot(
          placed.eastingM[i] - truth.eastingM[i],
          placed.northingM[i] - truth.northingM[i],
          placed.heightM[i] - truth.heightM[i],
        ),
      );
      const hard = truth.kind[i] === KIND.road || truth.kind[i] === KIND.footway || truth.kind[i] === KIND.slab;
      if (hard)
        worstGround = Math.max(
          worstGround,
          Math.abs(placed.heightM[i] - trueHeight(placed.eastingM[i], placed.northingM[i])),
        );
    }
  }
  line(
    `noise-free single echoes, place of the echo (${count})`,
    `${(1000 * worst).toFixed(3)} mm worst`,
    'at most 0.5 mm',
    worst <= 5e-4,
  );
  line(
    'noise-free hard ground against the closed form in height',
    `${(1000 * worstGround).toFixed(3)} mm worst`,
    'at most 0.5 mm',
    worstGround <= 5e-4,
  );
}

export function statedPrecision(): void {
  const truth = truthOf.head1;
  const hardKinds = new Set<number>([KIND.road, KIND.footway, KIND.slab, KIND.building, KIND.bridge]);
  const hard: number[] = [];
  for (let i = 0; i < truth.count; i++) if (truth.returnCount[i] === 1 && hardKinds.has(truth.kind[i])) hard.push(i);
  const step = hard.length / 2000;
  const rows = Int32Array.from({ length: 2000 }, (_, k) => hard[Math.floor(k * step)]);
  const sample = pick(truth, rows);
  const inside = [0, 0, 0],
    squares = [0, 0, 0];
  let n = 0;
  const gaps = outages(drive);
  for (let seed = 1; seed <= 200; seed++) {
    const given = processedTrajectory(trajectory, gaps, seed);
    const placer = new Placer(given, system, believedMounting(seed).sensors.head1, noise);
    const p = placer.place(recordReturns(sample, seed));
    for (let i = 0; i < sample.count; i++) {
      const t = [
        (p.eastingM[i] - sample.eastingM[i]) / p.sdEM[i],
        (p.northingM[i] - sample.northingM[i]) / p.sdNM[i],
        (p.heightM[i] - sample.heightM[i]) / p.sdHM[i],
      ];
      t.forEach((v, k) => {
        squares[k] += v * v;
        if (Math.abs(v) <= 1.96) inside[k]++;
      });
      n++;
    }
    if (seed === 1)
      console.log(
        `      one seed alone, not judged: RMS of error/SD ${squares.map((s) => Math.sqrt(s / n).toFixed(2)).join(', ')}`,
      );
  }
  ['E', 'N', 'H'].forEach((axis, k) => {
    const share = (100 * inside[k]) / n,
      rms = Math.sqrt(squares[k] / n);
    line(
      `stated precision of ${axis}, 200 seeds × 2000`,
      `${share.toFixed(1)} % inside, RMS ${rms.toFixed(3)}`,
      '93–97 %, 0.93–1.07',
      share >= 93 && share <= 97 && rms >= 0.93 && rms <= 1.07,
    );
  });
}
