import { readFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/classify';
import { type SettingsOf } from '@longheron/contract/declare';
import { LAS_CLASS, THING_DEFAULTS } from '@longheron/core/cloud';
import { part } from '@longheron/core/shared';
import { rewriteClasses, WITHHELD } from '@longheron/formats/las';
import { computation, type OpenedCloud, type Output } from '../computation/types';
import { packClasses } from '../shared/packs';
import { ReportBuilder } from '../shared/report';
import { withheldAct } from '../shared/stored';
import { classifyPoints, countsByClass, type ClassifiedColumns, type ClassifyHow } from './classify';

export { classifyPoints, countsByClass, type ClassifiedColumns, type ClassifyHow } from './classify';

/** How points are classified, by the settings of the operation. */
export function howOf(s: SettingsOf<(typeof declaration)['settings']>): ClassifyHow {
  const { clothCellM, clothWithinM, largestObjectM, steepestDeg, cellM, withinM } = s;
  const { neighbours, keepWithinM, ratio, aloneBeyondM, lowM, mediumM, wireM, longM } = s;
  return {
    ground: s.ground,
    noise: s.noise,
    cloth: s.method === 'cloth' ? { clothCellM, stiffness: s.stiffness as 1 | 2 | 3, clothWithinM } : undefined,
    things: s.things ? { ...THING_DEFAULTS, lowM, mediumM, wireM, longM } : undefined,
    groundSettings: { largestObjectM, steepestDeg, cellM, withinM },
    straySettings: { neighbours, keepWithinM, ratio, aloneBeyondM },
  };
}

const rounded = (metres: number) => Math.round(metres * 1e4) / 1e4;

/** Strays, ground, and what stands on it. */
export default computation(declaration, async ({ cloud }, settings, _context, out, watch) => {
  const how = howOf(settings);
  const builder = new ReportBuilder('classify', {
    ground: how.ground ? (how.cloth ?? how.groundSettings) : false,
    noise: how.noise ? how.straySettings : false,
  });
  const loaded = await cloud.load(part(watch, 0, 0.1));
  try {
    const { classification, flags } = loaded.points;
    const before = { classification, withheld: flags.map((f) => (f & WITHHELD ? 1 : 0)) };
    const found = classifyPoints(loaded.set, before, how, part(watch, 0.1, 0.8));
    const las = await out.file('cloud', 'las', (path) =>
      rewriteClasses(loaded.file, path, found.classification, found.withheld, part(watch, 0.8, 0.95, 'Writing')),
    );
    const counts = countsByClass(found.classification);
    const { strays, ground, surface } = found;
    const report = builder.finish(loaded.system?.label ?? null, {
      points: loaded.set.count,
      strays,
      ground,
      counts_by_class: counts,
      withheld: found.withheld.reduce((a, b) => a + b, 0),
      ...(surface && { noise_sd_m: rounded(surface.noiseM), ground_within_m: rounded(surface.withinM) }),
    });
    return {
      content: {
        las: las.sha256,
        bytes: las.bytes,
        ...(await sharedStore(out, cloud, found)),
        crs: cloud.crs,
        figures: { points: loaded.set.count, strays, ground },
        countsByClass: counts,
      },
      hash: las.sha256,
      report,
      log: [
        `${strays} noise points, ${ground} ground points.`,
        ...(surface
          ? [
              `The points scatter by ${(1000 * surface.noiseM).toFixed(0)} mm (1 SD) where the cloud is smooth; ground is what lies within ${(100 * surface.withinM).toFixed(0)} cm of its surface.`,
            ]
          : []),
      ],
      lines: Object.entries(counts).map(([c, n]) => `class ${c}: ${n} points`),
    };
  } finally {
    await loaded.file.close();
  }
});

/** The points of the store stay where they are: classes alone are packed anew. */
async function sharedStore(out: Output, { shared }: OpenedCloud, found: ClassifiedColumns) {
  if (!out.keeps || !shared) return {};
  const { store } = out;
  const bytes = await readFile(store.path(shared.order));
  const order = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  const index = JSON.parse(await readFile(store.path(shared.index), 'utf8')) as { objects: { classes: string } };
  index.objects.classes = await store.bytes(packClasses(found.classification, order), 'classes');
  return {
    index: await store.json(index, 'cloud-index'),
    order: shared.order,
    ...(await withheldAct(store, shared.order, keptOut(found))),
  };
}

/** What was rejected before and is no noise stays rejected: a bit for each row of the file. */
function keptOut({ withheld, classification }: ClassifiedColumns): Uint8Array {
  const bits = new Uint8Array(Math.ceil(withheld.length / 8));
  for (let i = 0; i < withheld.length; i++) {
    const noise = classification[i] === LAS_CLASS.lowNoise || classification[i] === LAS_CLASS.highNoise;
    if (withheld[i] && !noise) bits[i >> 3] |= 1 << (i & 7);
  }
  return bits;
}
