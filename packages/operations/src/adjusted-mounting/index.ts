import { copyFile, stat } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/adjusted-mounting';
import { mountingToJson, parseMounting } from '@longheron/core/frames';
import { computation } from '../computation/types';
import { factsOf } from '../shared/inspect';
import { ReportBuilder } from '../shared/report';

/** The mounting of an adjustment as a dataset of its own. */
export default computation(declaration, async ({ adjustment: { content } }, _settings, _context, out) => {
  const builder = new ReportBuilder('adjusted-mounting', {});
  const path = out.store.path(content.mountingObject);
  const file = await out.file('mounting', 'mounting', (to) => copyFile(path, to));
  const sensors = content.figures.parameters.filter((p) => p.solved).map((p) => p.head);
  return {
    content: {
      object: content.mountingObject,
      bytes: (await stat(path)).size,
      facts: await factsOf(path, 'calibrated_mounting.json'),
      mounting: mountingToJson(parseMounting(content.mounting)),
    },
    hash: file.sha256,
    report: builder.finish(null, { heads: [...new Set(sensors)] }),
    log: [`Calibrated: ${[...new Set(sensors)].join(', ') || 'nothing'}.`],
  };
});
