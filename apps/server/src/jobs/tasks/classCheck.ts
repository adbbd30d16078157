import { type Watch } from '@longheron/core/shared';
import { checkClasses, classNotices } from '@longheron/operations/edit';
import { cloudOf, type EditedCloud } from './edit';
import { jsonHash } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** A classification against a reference of the same points. */
export async function classCheck(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as { cloud: EditedCloud; reference: EditedCloud; names: Record<number, string> };
  const [reference, found] = [await cloudOf(r.storeFolder, p.reference), await cloudOf(r.storeFolder, p.cloud)];
  const figures = await checkClasses(reference, found, watch);
  const content = { figures, names: Object.fromEntries(figures.classes.map((c) => [c, p.names[c] ?? `class ${c}`])) };
  return {
    content,
    contentHash: jsonHash(content),
    objects: [],
    notices: classNotices(figures),
    log: [`${figures.matched} points are in both; ${figures.without} of the reference have no partner.`],
  };
}
