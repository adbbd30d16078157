import { question } from '../../computation/question';
import { bringEditsIn, type EditedCloud } from '../../shared/stored';

/** The cloud's file with what was done to it by hand, for who wants the file. */
export default question<{ cloud: EditedCloud }, { las: string }>(async ({ cloud }, store, watch) => ({
  content: { las: await bringEditsIn(store, cloud, watch) },
}));
