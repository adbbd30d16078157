import { copyFile, stat } from 'node:fs/promises';
import declaration from '@longheron/contract/operations/tested-mounting';
import { mountingToJson, parseMounting } from '@longheron/core/frames';
import { computation } from '../computation/types';
import { factsOf } from '../shared/inspect';
import { ReportBuilder } from '../shared/report';

/** The mounting of a test as a dataset of its own. */
export default computation(declaration, async ({ patch: { content } }, _settings, _context, out) => {
  const builder = new ReportBuilder('tested-mounting', {});
  const path = out.store.path(content.mountingObject);
  const file = await out.file('mounting', 'mounting', (to) => copyFile(path, to));
  return {
    content: {
      object: content.mountingObject,
      bytes: (await stat(path)).size,
      facts: await factsOf(path, 'tested_mounting.json'),
      mounting: mountingToJson(parseMounting(content.mounting)),
    },
    hash: file.sha256,
    report: builder.finish(null, { sensor: content.figures.sensor }),
    log: [`Tested: ${content.figures.sensor}.`],
  };
});
