import { writeFile } from 'node:fs/promises';
import { type SiteContent } from '@longheron/contract/kinds';
import { fileFacts } from '@longheron/formats/format';
import { sha256Of, systemWkt2, type SystemWkt } from '@longheron/formats/crs';
import { type Output } from '../../computation/types';
import { factsOf } from '../inspect';

/** Writes a system as well-known text 2, and gives what is kept of it. */
export async function keepSystem(model: SystemWkt, site: SiteContent, out: Output) {
  const name = `${fileName(site.name)}.wkt`;
  const { sha256, bytes } = await out.file('system', 'system', (path) => writeFile(path, `${systemWkt2(model)}\n`));
  const facts = out.keeps ? await factsOf(out.store.path(sha256), name) : fileFacts(name, bytes, 'system');
  const base = model.heights?.base;
  const uses = typeof base === 'object' ? sha256Of(base) : undefined;
  return { name, content: { object: sha256, bytes, facts, site, ...(uses ? { uses } : {}) }, hash: sha256 };
}

/** A name as a file may be called. */
const fileName = (name: string) => name.replace(/[^\w.-]+/g, '_').replace(/^[_.]+|_+$/g, '') || 'system';
