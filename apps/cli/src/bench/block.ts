import { adjustBlock } from '@longheron/core/photo';
import { blockOf, drawBlock } from '@longheron/site/blocks';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;

/** A block of five hundred photographs with about two hundred thousand rays, adjusted with its camera, control and wrong rays. */
export function benchBlock(line: Line): void {
  const plan = { seed: 5, wrong: 0.01, lines: 20, ofLine: 25, alongM: 45, acrossM: 70, points: 32_500, checks: 40 };
  const block = blockOf(drawBlock(plan));
  const started = performance.now();
  const a = adjustBlock({ block, calibrate: 'auto' });
  const s = (performance.now() - started) / 1000;
  line(
    `${block.images.length} photographs adjusted, ${block.rays.count} rays`,
    `${s.toFixed(1)} s, sigma nought ${a.sigma0.toFixed(3)}`,
    'under 20 s',
    s < 20,
  );
}
