import { adjustLines, Placer } from '@longheron/core/laser';
import { Painter, View } from '@longheron/core/photo';
import { Random } from '@longheron/core/numeric';
import { findStrips, stripRulesFor } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { drawFlightPlan, flyPlan } from '@longheron/site/flights';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;

const system = parseSystem('EPSG:25832+5773');
const WANTED = 20e6;

/** Strips of a flight adjusted: its returns over and over, twenty million of them, against placing them once. */
export function benchStrips(line: Line): void {
  const plan = drawFlightPlan(3);
  const { trajectory, returns, mounting } = flyPlan(plan, system, [467_200, 6_215_300]);
  const noise = { rangeSdM: plan.rangeSdM, angleSdDeg: plan.angleSdDeg };
  const times = Math.ceil(WANTED / returns.sow.length);
  const count = times * returns.sow.length;
  const placer = new Placer(trajectory, system, mounting, noise);
  const placing = performance.now();
  let placed = placer.place(returns);
  for (let k = 1; k < times; k++) placed = placer.place(returns, 0, returns.sow.length, placed);
  const once = performance.now() - placing;
  const started = performance.now();
  let most = 0;
  const found = adjustLines(
    {
      trajectory,
      system,
      plan: findStrips(trajectory, stripRulesFor(trajectory)),
      control: [],
      heads: [
        {
          name: 'scanner',
          mounting,
          noise,
          count,
          *blocks() {
            for (let k = 0; k < times; k++) yield returns;
          },
        },
      ],
      sought: { boresight: true, lever: false, shift: true, drift: true, range: false },
    },
    { progress: () => (most = Math.max(most, process.memoryUsage().rss)) },
  );
  const s = (performance.now() - started) / 1000;
  line(
    `strips adjusted, ${(count / 1e6).toFixed(0)} million returns, ${found.patches} differences`,
    `${s.toFixed(0)} s, ${((1000 * s) / once).toFixed(1)} times placing them once`,
    'at most 240 s',
    s <= 240,
  );
  line('its resident memory at most', `${(most / 1e9).toFixed(2)} GB`, 'under 2 GB', most < 2e9);
}

/** Points coloured through pictures of a block, each seen by several; pictures are decoded beforehand. */
export function benchColour(line: Line): void {
  const count = 2_000_000;
  const random = new Random(6, 'colour');
  const x = Float32Array.from({ length: count }, () => random.between(0, 420));
  const y = Float32Array.from({ length: count }, () => random.between(0, 400));
  const z = x.map((v) => 3 + 2 * Math.sin(v / 20));
  const pixels = { widthPx: 1200, heightPx: 800, rgb: new Uint8Array(3 * 1200 * 800).fill(120) };
  const camera = {
    widthPx: 1200,
    heightPx: 800,
    focalPx: 1480,
    cxPx: 599.5,
    cyPx: 399.5,
    k1: 0,
    k2: 0,
    k3: 0,
    p1: 0,
    p2: 0,
  };
  const rotation = Float64Array.of(0, -1, 0, 1, 0, 0, 0, 0, 1);
  for (const [across, along] of [
    [105, 90],
    [70, 55],
  ]) {
    const views: View[] = [];
    const geo = new Float64Array(3);
    for (let e = across / 2; e < 420; e += across)
      for (let n = 0; n < 420; n += along) {
        system.unproject(467_000 + e, 6_215_000 + n, 256, geo);
        views.push(new View({ latRad: geo[0], lonRad: geo[1], hEllM: geo[2], rotation }, camera, system));
      }
    const started = performance.now();
    const painter = new Painter({ count, origin: [467_000, 6_215_000, 0], x, y, z });
    painter.plan(views);
    let seen = 0;
    views.forEach((view, k) => (seen += painter.look(k, view, pixels).inFrame));
    painter.finish();
    const ms = performance.now() - started;
    const rate = count / ms / 1000;
    line(
      `coloured, each point in ${(seen / count).toFixed(1)} pictures`,
      `${rate.toFixed(2)} million points/s, ${(seen / ms / 1000).toFixed(1)} million looks/s`,
      'at least 1 million points/s',
      rate >= 1,
    );
  }
}
