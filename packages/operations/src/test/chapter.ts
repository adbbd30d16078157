import { type Contents, type DatasetKind } from '@longheron/contract/kinds';
import { loadComputation } from '../computation';

/** All that a chapter writes, as one text; pictures and layout apart. */
export async function chapterOf<K extends DatasetKind>(
  operation: string,
  content: Contents[K],
  unit = 1,
): Promise<string> {
  const { chapter } = await loadComputation(operation);
  const tools = {
    factor: unit,
    symbol: unit === 1 ? 'm' : 'ft',
    toleranceM: 0.03,
    small: unit === 1 ? { factor: 1000, symbol: 'mm', digits: 1 } : { factor: unit, symbol: 'ft', digits: 4 },
    picture: () => Promise.resolve(Buffer.alloc(0)),
  };
  const part = { name: 'Result', content, operation, cloud: 'Cloud, revision 1' };
  // the chapter is that of the operation whose content it is
  return wordsOf(await chapter!(part as Parameters<NonNullable<typeof chapter>>[0], tools));
}

/** All words of parts of a page. */
export function wordsOf(nodes: unknown): string {
  const words: string[] = [];
  const walk = (v: unknown): void => {
    if (typeof v === 'string' || typeof v === 'number') words.push(String(v));
    else if (Array.isArray(v)) v.forEach(walk);
    else if (v && typeof v === 'object')
      for (const [key, inner] of Object.entries(v))
        if (!['image', 'style', 'widths', 'layout', 'color'].includes(key)) walk(inner);
  };
  walk(nodes);
  return words.join(' ').replace(/\u00a0|\u202f/g, ' ');
}
