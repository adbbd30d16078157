import { readFile } from 'node:fs/promises';
import { format } from '../format';
import { readTable } from '../marks';
import about from './about';

/** Tables whose columns a person tells. */
export default format({
  about,
  sniff: (look) =>
    !look.binary && look.first.split(/[,;\t]|\s+/).length >= 4 && /\d/.test(look.text) ? 'table' : undefined,
  async inspect({ name }, out) {
    out.findings.push({
      code: 'table-columns',
      severity: 'warning',
      file: name,
      text: 'A table whose columns are not recognised.',
      effect: 'It is not used yet.',
      remedy: 'If these are marks, choose what each column holds.',
    });
  },
  open: async (path, name) => readTable(await readFile(path), name),
});
