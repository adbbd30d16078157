import { readFile, stat } from 'node:fs/promises';
import { type RasterDto } from '@longheron/contract/api';
import { type FileFacts } from '@longheron/contract/kinds';
import { type GuessedColumns } from '@longheron/contract/kinds/table';
import { type Mark, type MarkContext } from '@longheron/core/accuracy';
import { type MountingJson } from '@longheron/core/frames';
import { part } from '@longheron/core/shared';
import { hashFile } from '@longheron/formats/bytes';
import { guessMapping } from '@longheron/formats/marks';
import { openAs, type FileKind } from '@longheron/formats/registry';
import { question } from '../../computation/question';
import { inspectFile } from '@longheron/formats/registry';
import { keptFacts } from '@longheron/formats/format';
import { storePreview } from '../../shared/preview';
import { rasterContent } from '../../shared/raster';
import { type Store } from '../../shared/store';

const PREVIEW_ROWS = 12;

interface Asked {
  path: string;
  name: string;
  context: MarkContext;
  /** Null while the project has no reference line. */
  crs: string | null;
}

/** What is kept of a file, whatever its kind. */
export interface Inspected {
  object: string;
  bytes: number;
  facts: FileFacts;
  kind: FileKind;
  /** What the kind of the file adds. */
  more: {
    marks?: Mark[];
    crs?: string | null;
    /** Of a table its first rows; of positions an object, which those of a file do not have. */
    table?: { header: string[]; rows: string[][]; count: number } | '';
    mapping?: GuessedColumns | null;
    mounting?: MountingJson;
    raster?: RasterDto | null;
    point?: string;
    figures?: { positions: number };
    photosAlone?: string[];
    preview?: string;
    previewCrs?: string;
    around?: { extent: [number, number, number, number]; undulationM: number; heightM: [number, number] };
  };
}

/** What the screen needs of a file of each kind, beside its facts. */
async function moreOf(kind: FileKind, { path, name, crs }: Asked, store: Store): Promise<Inspected['more']> {
  switch (kind) {
    case 'marks': {
      const read = await openAs('marks', path, name);
      return { marks: read.marks, crs: read.crs ?? null };
    }
    case 'table': {
      const table = await openAs('table', path, name);
      return {
        table: { header: table.header, rows: table.rows.slice(0, PREVIEW_ROWS), count: table.rows.length },
        mapping: guessMapping(table) ?? null,
        crs: table.comments.get('crs') ?? null,
      };
    }
    case 'mounting':
      await openAs('mounting', path, name);
      return { mounting: JSON.parse(await readFile(path, 'utf8')) as MountingJson };
    case 'positions': {
      const { rows, without, point } = await openAs('positions', path, name);
      // as events write them, but for what only their computation knows
      return { point: point ?? '', figures: { positions: rows.length }, photosAlone: without, table: '' };
    }
    case 'raster':
      return { raster: await rasterContent(path, name) };
    case 'trajectory':
      return crs ? storePreview(store, path, name, crs) : {};
    default:
      return {};
  }
}

/** Recognises a file by content, inspects it and prepares what the screen needs of it. */
export default question<Asked, Inspected>(async (asked, store, watch) => {
  const { path, name, context } = asked;
  const { sha256, bytes } = await hashFile(path, part(watch, 0, 0.4), (await stat(path)).size);
  const facts = await inspectFile(path, name, context, part(watch, 0.4, 0.9));
  const { kind, findings } = facts;
  const more = await moreOf(kind, asked, store);
  return { content: { object: sha256, bytes, facts: keptFacts(facts), kind, more }, hash: sha256, notices: findings };
});
