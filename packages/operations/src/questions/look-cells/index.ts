import { type CloudCell } from '@longheron/core/cloud';
import { question } from '../../computation/question';
import { cloudOf, lookCells, type EditedCloud } from '../../shared/stored';

/** Where a cloud has points and where they were changed, by the cells of the looked-at map. */
export default question<{ cloud: EditedCloud }, { cells: CloudCell[] }>(async ({ cloud }, store, watch) => ({
  content: { cells: await lookCells(await cloudOf(store, cloud), watch) },
}));
