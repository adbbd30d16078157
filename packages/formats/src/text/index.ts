import { LOOK_BYTES } from '../format/look';
import { pointFormat } from '../points/format';
import about from './about';
import { layoutOf } from './columns';
import { openXyz } from './read';
import { writeXyz } from './write';

export * from './columns';
export * from './read';
export * from './write';

/** Points as text, with or without names of columns. */
export default pointFormat({
  about,
  sniff(look) {
    if (look.binary) return undefined;
    if (look.has('intensity', 'classification')) return 'columns';
    // a list of marks in numbers alone fits into the look; a cloud goes on
    return look.head.length >= LOOK_BYTES && layoutOf(look.lines.slice(0, -1)) ? 'numbers' : undefined;
  },
  points: openXyz,
  write: { csv: writeXyz },
});
