import { type DatasetOf } from '@longheron/contract/api';

/** System that a cloud is in, as its file or the job that made it says; '' when nothing does. */
export function systemOf(d: DatasetOf<'point-cloud'>): string {
  const { crs, facts } = d.revision.content as { crs?: string; facts?: { extent?: { crs?: string | null } | null } };
  return crs ?? facts?.extent?.crs ?? '';
}
