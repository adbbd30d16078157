import { type SelectionCountDto } from '@longheron/contract/api';
import { type Selection } from '@longheron/core/cloud';
import { question } from '../../computation/question';
import { cloudOf, selectRows, sourcesOf, type EditedCloud } from '../../shared/stored';

/** How many points a selection holds. */
export default question<{ cloud: EditedCloud; selection: Selection }, SelectionCountDto>(
  async ({ cloud, selection }, store, watch) => {
    const opened = await cloudOf(store, cloud);
    const { counts } = await selectRows(opened, selection, watch, await sourcesOf(store, selection));
    return { content: counts };
  },
);
