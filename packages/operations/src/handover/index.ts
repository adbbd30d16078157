import declaration from '@longheron/contract/operations/handover';
import { computation } from '../computation/types';
import { crsFrom, namesOf } from '../shared/words';
import { handOver } from './handover';

export { handOver, type HandoverRequest } from './handover';

/** A trajectory as a file for somebody else. */
export default computation(declaration, async ({ trajectory, geoid }, settings, context, out) => {
  const { plan, heights, rateHz, interpolation } = settings;
  const crs = crsFrom(context);
  let made!: Awaited<ReturnType<typeof handOver>>;
  const csv = await out.file('trajectory', 'trajectory', async (outPath) => {
    made = await handOver({
      trajectoryPath: trajectory.path,
      geoidPath: geoid?.path,
      crs,
      names: namesOf([trajectory, geoid]),
      outPath,
      plan,
      heights,
      rateHz,
      interpolation,
    });
  });
  const said = `${made.rows} rows, heights ${made.heights}.`;
  return {
    content: {
      object: csv.sha256,
      rows: made.rows,
      heights: made.heights,
      undulationM: made.undulationM,
      plan,
      kindOfHeight: heights,
      rateHz: rateHz ?? null,
      crs,
    },
    hash: csv.sha256,
    report: made.report,
    log: [said],
  };
});
