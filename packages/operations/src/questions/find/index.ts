import { type FoundDto } from '@longheron/contract/api';
import { type FinderName } from '@longheron/core/cloud';
import { question } from '../../computation/question';
import { cloudOf, packRuns, type EditedCloud } from '../../shared/stored';
import { findRows } from './find';

interface Asked {
  cloud: EditedCloud;
  finder: FinderName;
  settings: { [setting: string]: number };
  /** Of a picked point. */
  row?: number;
}

/** Finds points by themselves; what is kept are their rows, for a selection. */
export default question<Asked, FoundDto>(async ({ cloud, finder, settings, row }, store, watch) => {
  const { runs, note } = await findRows(await cloudOf(store, cloud), finder, settings, row, watch);
  const object = await store.bytes(packRuns(runs), 'found-rows');
  return {
    content: { object, count: runs.count, note },
    hash: object,
    log: [`${runs.count} points found.${note ? ` ${note}` : ''}`],
  };
});
