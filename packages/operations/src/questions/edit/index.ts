import { type CloudEditEntry, type SelectionCountDto } from '@longheron/contract/api';
import { LAS_CLASS_NAMES, type EditAct, type Selection } from '@longheron/core/cloud';
import { part, Problem } from '@longheron/core/shared';
import { question } from '../../computation/question';
import { jsonHash } from '../../shared/store';
import {
  actWords,
  cloudOf,
  figuresOf,
  packRuns,
  refuseForFormat,
  selectRows,
  sourcesOf,
  withAct,
  type EditedCloud,
} from '../../shared/stored';

interface Asked {
  cloud: EditedCloud;
  selection: Selection;
  act: EditAct;
  how?: CloudEditEntry['how'];
}

/** What an act leaves of a cloud: its acts and counts. */
export type ActFigures = ReturnType<typeof figuresOf>;

const nameOf = (c: number) => (LAS_CLASS_NAMES[c] ?? `class ${c}`).toLowerCase();

/** Stands for the content of an edited cloud. */
export const editedHash = ({ las, edits }: EditedCloud) => jsonHash([las, (edits ?? []).map((e) => [e.object, e.act])]);

/** Does an act on a selection: what is kept are the rows and the act. */
export default question<Asked, ActFigures & { entry: CloudEditEntry; counts: SelectionCountDto }>(
  async ({ cloud, selection, act, how }, store, watch) => {
    await refuseForFormat(store.path(cloud.las), act);
    const sources = await sourcesOf(store, selection);
    const { runs, counts } = await selectRows(await cloudOf(store, cloud), selection, part(watch, 0, 0.95), sources);
    if (counts.count === 0)
      throw new Problem('The selection holds no points.', {
        code: 'selection-empty',
        remedy: 'Show the classes that are meant, or draw it anew.',
      });
    const object = await store.bytes(packRuns(runs), 'cloud-edit');
    const entry: CloudEditEntry = { object, act, points: counts.count, at: new Date().toISOString(), how };
    const after = withAct(cloud, entry, counts);
    return {
      content: { ...figuresOf(after), entry, counts },
      hash: editedHash(after),
      log: [`${counts.count} points ${actWords(act, nameOf)}.`],
    };
  },
);
