import { confusion } from '@longheron/core/accuracy';
import { classifyThings, LAS_CLASS, type PointSet } from '@longheron/core/cloud';
import { type TrueReturns } from '@longheron/site/drive';
import { KIND } from '@longheron/site/objects';
import { trueHeight } from '@longheron/site/terrain';

/** Kinds of the site and the classes they should get. */
const THINGS: Array<[string, number[], number[]]> = [
  ['ground', [0, 1, 2, 3, 4, 5], [LAS_CLASS.ground]],
  ['building', [KIND.building], [LAS_CLASS.building]],
  ['pole', [KIND.pole], [LAS_CLASS.pole]],
  ['wire', [KIND.wire], [LAS_CLASS.wireConductor]],
  ['vegetation', [KIND.vegetation], [LAS_CLASS.lowVegetation, LAS_CLASS.mediumVegetation, LAS_CLASS.highVegetation]],
  ['bridge', [KIND.bridge], [LAS_CLASS.bridgeDeck]],
  ['heap', [KIND.heap], []],
  ['none', [], [LAS_CLASS.unclassified]],
];

/** Buildings, wires, poles, the deck and vegetation against the truth; not judged, since no figure was set. */
export function thingFigures(set: PointSet, strays: Uint8Array, ground: Uint8Array, truth: TrueReturns[]): void {
  const cls = ground.map((g) => (g ? LAS_CLASS.ground : LAS_CLASS.unclassified));
  const began = performance.now();
  classifyThings(set, cls, strays);
  const seconds = (performance.now() - began) / 1000;
  const reference: number[] = [];
  const found: number[] = [];
  const row = new Map(THINGS.flatMap(([, kinds], r) => kinds.map((k) => [k, r] as const)));
  const column = new Map(THINGS.flatMap(([, , classes], c) => classes.map((k) => [k, c] as const)));
  let at = 0;
  for (const part of truth)
    for (let i = 0; i < part.count; i++, at++) {
      if (part.kind[i] === KIND.stray || strays[at]) continue;
      // blades of grass are neither
      if (part.kind[i] < 6 && part.heightM[i] - trueHeight(part.eastingM[i], part.northingM[i]) > 0.05) continue;
      reference.push(row.get(part.kind[i])!);
      found.push(column.get(cls[at])!);
    }
  const names = THINGS.map(([n]) => n);
  const c = confusion(reference, found, { reference: names, found: names }, [0, 1, 2, 3, 4, 5, -1, -1]);
  console.log(
    `      things on the ground, not judged, ${seconds.toFixed(1)} s: ${(100 * c.overall).toFixed(2)} % agree`,
  );
  console.log(`        ${''.padEnd(12)}${names.map((n) => n.padStart(11)).join('')}   found`);
  names
    .slice(0, 7)
    .forEach((n, r) =>
      console.log(
        `        ${n.padEnd(12)}${c.counts[r].map((v) => String(v).padStart(11)).join('')}   ${Number.isFinite(c.recall[r]) ? `${(100 * c.recall[r]).toFixed(1)} %` : '-'}`,
      ),
    );
  console.log(
    `        ${'right'.padEnd(12)}${c.precision.map((v) => (Number.isFinite(v) ? `${(100 * v).toFixed(1)} %` : '-').padStart(11)).join('')}`,
  );
}
