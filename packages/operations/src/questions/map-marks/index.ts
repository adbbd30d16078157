import { readFile } from 'node:fs/promises';
import { type Mark } from '@longheron/core/accuracy';
import { Problem } from '@longheron/core/shared';
import { suspectMarks, type MarkContext } from '@longheron/core/accuracy';
import { marksFromTable, readTable, type MarkMapping } from '@longheron/formats/marks';
import { question } from '../../computation/question';

interface Asked {
  object: string;
  name: string;
  mapping: MarkMapping;
  context: MarkContext;
}

/** Reads a table of another column order as marks. */
export default question<Asked, { marks: Mark[]; mapping: MarkMapping }>(async (p, store) => {
  const table = readTable(await readFile(store.path(p.object)), p.name);
  const columns = table.header.length;
  for (const [role, at] of Object.entries(p.mapping))
    if (typeof at === 'number' && (at < 0 || at >= columns))
      throw new Problem(`Column ${at + 1} for ${role} does not exist.`, {
        code: 'marks-columns',
        file: p.name,
        remedy: `Choose one of the ${columns} columns.`,
      });
  const marks = marksFromTable(table, p.mapping, p.name);
  return { content: { marks, mapping: p.mapping }, notices: suspectMarks(marks, p.name, p.context) };
});
