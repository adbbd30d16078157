import { type Contents, type DatasetKind } from '@longheron/contract/kinds';
import { Problem } from '@longheron/core/shared';
import { loadComputation } from '../../computation/load';
import { question } from '../../computation/question';

interface Asked {
  /** Operation that has the export, and its name there. */
  operation: string;
  file: string;
  name: string;
  content: Contents[DatasetKind];
  unit: 'metre' | 'foot' | 'usSurveyFoot';
}

/** What a dataset holds, as text for somebody else. */
export default question<Asked, { text: string }>(async ({ operation, file, name, content, unit }, store) => {
  const write = (await loadComputation(operation)).exports?.[file];
  if (!write) throw new Problem('There is no such export of this dataset.', { code: 'not-found' });
  return { content: { text: write(content, { name, unit, path: (sha) => store.path(sha) }) } };
});
