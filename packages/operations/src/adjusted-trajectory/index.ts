import { copyFile } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/adjusted-trajectory';
import { Problem } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { trajectoryContent } from '../shared/preview';
import { ReportBuilder } from '../shared/report';
import { crsFrom } from '../shared/words';

/** The trajectory of an adjustment as a dataset of its own. */
export default computation(declaration, async ({ adjustment: { content } }, _settings, context, out) => {
  if (!content.corrected)
    throw new Problem('This adjustment corrected nothing of the trajectory.', {
      code: 'strips-uncorrected',
      remedy: 'Place the returns with the trajectory as it is, or adjust again with shift or drift.',
    });
  const builder = new ReportBuilder('adjusted-trajectory', {});
  const path = out.store.path(content.trajectoryObject);
  const file = await out.file('trajectory', 'trajectory', (to) => copyFile(path, to));
  const kept = await trajectoryContent(out.store, content.trajectoryObject, 'Corrected trajectory', crsFrom(context));
  return {
    content: { ...kept, point: 'imu' },
    hash: file.sha256,
    report: builder.finish(null, { corrections: content.figures.drift.length }),
    log: [`Corrected at ${content.figures.drift.length} moments of ${content.figures.strips.length} strips.`],
  };
});
