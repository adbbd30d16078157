import { tick, type Watch } from '@longheron/core/shared';
import { type ByteSource } from '../bytes';

const PIECE_BYTES = 1 << 20;

/** Lines of a text, ends of any kind taken off, blanks at both ends too. @param from byte of the first line. */
export async function* linesOf(
  source: ByteSource,
  from = 0,
  watch?: Watch,
): AsyncGenerator<{ line: string; number: number }> {
  const decoder = new TextDecoder('utf-8');
  let rest = '';
  let number = 0;
  for (let at = from; at < source.size; at += PIECE_BYTES) {
    tick(watch, at / source.size, 'Reading points');
    const bytes = await source.read(at, Math.min(PIECE_BYTES, source.size - at));
    const lines = (rest + decoder.decode(bytes, { stream: true })).split(/\r\n|\n|\r(?=[^\n])/);
    rest = lines.pop()!;
    for (const line of lines) yield { line: line.trim(), number: ++number };
  }
  if (rest.trim()) yield { line: rest.trim(), number: ++number };
}
