import { type Watch } from '@longheron/core/shared';
import { Problem } from '@longheron/core/shared';
import { checkClasses, checkSamples, classNotices, type SampleArea } from '@longheron/operations/edit';
import { outlinesIn } from '@longheron/operations/outlines';
import { cloudOf, type EditedCloud } from './edit';
import { jsonHash } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

async function samplesOf(outlines: { path: string; name: string }, crs: string): Promise<SampleArea[]> {
  const areas = (await outlinesIn(outlines.path, outlines.name, crs)).filter((o) => o.kind === 'area');
  const samples = areas.flatMap((o) => (o.cls === undefined ? [] : [{ cls: o.cls, rings: o.parts }]));
  if (samples.length > 0) return samples;
  throw new Problem('No area of the file says of which class its points are.', {
    ...{ code: 'classes-samples', file: outlines.name, place: 'properties' },
    remedy: 'Give each area a property "class" with the number of the class, for example 2 for ground.',
  });
}

/** A classification against a reference of the same points. */
export async function classCheck(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    reference?: EditedCloud;
    outlines?: { path: string; name: string };
    crs: string;
    names: Record<number, string>;
  };
  const found = await cloudOf(r.storeFolder, p.cloud);
  const figures = p.outlines
    ? await checkSamples(await samplesOf(p.outlines, p.crs), found, watch)
    : await checkClasses(await cloudOf(r.storeFolder, p.reference!), found, watch);
  const content = { figures, names: Object.fromEntries(figures.classes.map((c) => [c, p.names[c] ?? `class ${c}`])) };
  return {
    content,
    contentHash: jsonHash(content),
    objects: [],
    notices: classNotices(figures),
    log: [`${figures.matched} points are in both; ${figures.without} of the reference have no partner.`],
  };
}
