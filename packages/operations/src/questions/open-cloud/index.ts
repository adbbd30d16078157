import { stat } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import { part, type Notice } from '@longheron/core/shared';
import { isWorkedOn, openPoints } from '@longheron/formats/registry';
import { inspectPoints, type PointColumns } from '@longheron/formats/points';
import { question } from '../../computation/question';
import { convertCloud, textColumns, type Converted } from '../../shared/convert';
import { emptyFacts, keptFacts } from '@longheron/formats/format';
import { storeCloud } from '../../shared/stored';

interface Asked {
  object: string;
  name: string;
  crs: string | null;
  /** What the columns of a text hold, when a person has said so. */
  columns?: PointColumns;
}

/** Builds the store of a cloud that was taken in as a file; one of another format is written as LAS first. */
export default question<Asked, Contents['point-cloud']>(async (p, store, watch) => {
  const path = store.path(p.object);
  const direct = await isWorkedOn(path);
  let las = p.object;
  const content: Contents['point-cloud'] = {};
  const log: string[] = [];
  const notices: Notice[] = [];
  if (!direct) {
    let made: Converted | undefined;
    const options = { name: p.name, columns: p.columns, crs: p.crs ?? undefined, created: new Date() };
    ({ sha256: las } = await store.file(async (out) => {
      made = await convertCloud(path, out, options, part(watch, 0, 0.4));
    }, 'las'));
    content.converted = made!;
    log.push(`${made!.points} points written as LAS, ${made!.left} without coordinates left out.`);
    if (made!.lost.length) log.push(`Not carried over: ${made!.lost.join(', ')}.`);
  }
  if (p.columns && !direct) {
    // where it lies and what was found on intake were by the guessed columns
    const facts = emptyFacts(path, p.name, (await stat(path)).size, 'point-cloud');
    const { source, format } = await openPoints(path, p.name, p.columns);
    await inspectPoints(source, format.about.name, facts, part(watch, 0.4, 0.5));
    notices.push(...facts.findings);
    content.facts = keptFacts(facts);
  }
  if (content.converted?.format === 'text') {
    const found = await textColumns(path, p.name);
    content.pointText = found && {
      header: found.layout.header ?? null,
      sample: found.layout.sample,
      columns: { ...(p.columns ?? found.columns) },
    };
  }
  const stored = await storeCloud(store, las, direct ? watch : part(watch, 0.4, 1));
  return { content: { las, ...content, ...stored }, hash: las, notices, log };
});
