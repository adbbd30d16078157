import { question } from '../../computation/question';
import { cloudOf, type EditedCloud } from '../../shared/stored';
import { groundOf } from '../find/find';

/** The ground under a cloud as a grid of heights, for filters and colours by height above ground. */
export default question(async ({ cloud }: { cloud: EditedCloud }, store, watch) => {
  const { heightM, ...layout } = await groundOf(await cloudOf(store, cloud), watch);
  const object = await store.bytes(Buffer.from(heightM.buffer), 'ground-heights');
  return {
    content: { object, ...layout },
    hash: object,
    log: [`Ground in ${layout.columns} by ${layout.rows} cells of ${layout.cellM} m.`],
  };
});
