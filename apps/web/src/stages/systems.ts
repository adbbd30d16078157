import { type DatasetOf } from '@longheron/contract/api';

/** System that a cloud is in, as its file or the job that made it says; '' when nothing does. */
export function systemOf(d: DatasetOf<'point-cloud'>): string {
  const { crs, facts } = d.revision.content as { crs?: string; facts?: { extent?: { crs?: string | null } | null } };
  return crs ?? facts?.extent?.crs ?? '';
}

/** What the file of a coordinate system holds, by the facts that were found in it. */
export function systemHolds(d: DatasetOf<'system'>): { plan: boolean; heights: boolean } {
  const words = new Set((d.revision.content.facts.details ?? []).map(([word]) => word));
  return { plan: words.has('Plan'), heights: words.has('Heights') || words.has('Depths') };
}
