import { question } from '../../computation/question';
import { storePreview } from '../../shared/preview';

/** The plots and the path of a trajectory in another system, after the reference line has changed. */
export default question(async ({ object, name, crs }: { object: string; name: string; crs: string }, store) => {
  const content = await storePreview(store, store.path(object), name, crs);
  return { content, hash: content.preview };
});
