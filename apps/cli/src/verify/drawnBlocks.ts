import { adjustBlock, orientByTies } from '@longheron/core/photo';
import {
  blockOf,
  cameraEffectPx,
  drawBlock,
  drawRoom,
  normalisedErrors,
  rejectedOf,
  ROOM_PLAN,
} from '@longheron/site/blocks';

type Line = (what: string, value: string, target: string, good: boolean) => void;
const SEEDS = 20;
const rms = (v: readonly number[]) => Math.sqrt(v.reduce((s, x) => s + x * x, 0) / v.length);

/** Blocks of photographs drawn at random: scatter, honesty, wrong rays, cameras; and chambers without any position. */
export function drawnBlocks(line: Line, seed = 1): void {
  const drawn = Array.from({ length: SEEDS }, (_, k) => {
    const t = drawBlock({ seed: seed + k, wrong: 0.03 });
    return { t, a: adjustBlock({ block: blockOf(t), calibrate: 'auto' }) };
  });
  const sigma = drawn.map(({ a }) => a.sigma0);
  const [low, high] = [Math.min(...sigma), Math.max(...sigma)];
  line(
    `sigma nought, ${SEEDS} blocks`,
    `${low.toFixed(3)} to ${high.toFixed(3)}`,
    '0.95 to 1.05',
    low > 0.95 && high < 1.05,
  );
  const all = new Map<string, number[]>();
  for (const { t, a } of drawn)
    for (const [what, v] of normalisedErrors(t, a)) all.set(what, [...(all.get(what) ?? []), ...v]);
  for (const [what, v] of all) {
    const size = rms(v);
    line(`errors over deviations, ${what}`, `${size.toFixed(2)} (${v.length})`, '0.7 to 1.4', size > 0.7 && size < 1.4);
  }
  const rays = drawn.map(({ t, a }) => rejectedOf(t, a));
  const sum = (key: 'wrong' | 'found' | 'good' | 'lost') => rays.reduce((s, r) => s + r[key], 0);
  const [found, lost] = [sum('found') / sum('wrong'), sum('lost') / sum('good')];
  line('wrong rays found', `${(100 * found).toFixed(1)} % of ${sum('wrong')}`, 'at least 98 %', found >= 0.98);
  line('good rays lost', `${(100 * lost).toFixed(2)} % of ${sum('good')}`, 'at most 0.3 %', lost <= 0.003);
  const effect = drawn.map(({ t, a }) => cameraEffectPx(t, a));
  const middle = [...effect].sort((a, b) => a - b)[SEEDS / 2];
  line(
    'what cameras do otherwise than truly, median',
    `${middle.toFixed(3)} px RMS`,
    'at most 0.15 px',
    middle <= 0.15,
  );
  chambers(line, seed);
}

function chambers(line: Line, seed: number): void {
  const off: number[] = [];
  let oriented = 0;
  for (let k = 0; k < SEEDS; k++) {
    const t = drawRoom(seed + k);
    const block = blockOf(t, ROOM_PLAN);
    const at = (name: string) => t.points.findIndex((p) => p.name === name);
    const { bar, door } = t;
    const whole = {
      ...block,
      distances: [
        { from: at(bar.from), to: at(bar.to), valueM: bar.lengthM, sdM: 0.0005, use: 'scale' as const },
        { from: at(door.from), to: at(door.to), valueM: door.lengthM, sdM: 0.001, use: 'check' as const },
      ],
    };
    const start = orientByTies(whole);
    if (!start.oriented.every(Boolean)) continue;
    oriented++;
    const a = adjustBlock({ block: whole, calibrate: 'auto', start: start.state });
    off.push((a.distances[1].foundM - door.lengthM) / a.distances[1].sdM);
  }
  line('chambers without positions oriented', `${oriented} of ${SEEDS}`, 'all', oriented === SEEDS);
  const within = off.filter((v) => Math.abs(v) <= 2).length;
  line(
    'their doors within 2 SD',
    `${within} of ${off.length}, ${rms(off).toFixed(2)} SD RMS`,
    '90 %',
    within >= 0.9 * off.length,
  );
}
