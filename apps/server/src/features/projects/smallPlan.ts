import { readFile } from 'node:fs/promises';
import { type DatasetDto } from '@longheron/contract/api';
import { type ObjectStore } from '../../storage';

/** Places of a path that are kept: enough for a drawing as small as a stamp. */
const MAX_PLACES = 160;
const MAX_KEPT = 200;
/** By the object that they were read from; objects never change. */
const kept = new Map<string, Array<[number, number]>>();

/**
 * Lines of a small drawing of where a project lies: the path of its latest trajectory, else the outlines of its clouds
 * and other files that lie in its system. Eastings and northings, metres.
 * @param system the plan of the project, as `EPSG:…` or by its file.
 */
export async function smallPlan(
  store: ObjectStore,
  datasets: readonly DatasetDto[],
  system: string | null,
): Promise<Array<Array<[number, number]>>> {
  const drawn = datasets.filter((d) => d.kind === 'trajectory').map((d) => d.revision.content);
  // the vehicle's path before that of a receiver which was carried about
  const latest = (drawn.filter((c) => c.point !== 'antenna').at(-1) ?? drawn.at(-1))?.preview;
  const path = latest ? await pathOf(store, latest).catch(() => []) : [];
  if (path.length > 1) return [path];
  return datasets.flatMap((d) => {
    const extent = 'facts' in d.revision.content ? d.revision.content.facts?.extent : undefined;
    if (!extent || !system || !extent.crs?.startsWith(system)) return [];
    const [[w, s], [e, n]] = [extent.min, extent.max];
    if (![w, s, e, n].every(Number.isFinite)) return [];
    const corners: Array<[number, number]> = [
      [w, s],
      [e, s],
      [e, n],
      [w, n],
      [w, s],
    ];
    return [corners];
  });
}

async function pathOf(store: ObjectStore, object: string): Promise<Array<[number, number]>> {
  const had = kept.get(object);
  if (had) return had;
  const { eastingM, northingM } = JSON.parse(await readFile(store.path(object), 'utf8')) as {
    eastingM: number[];
    northingM: number[];
  };
  const step = Math.max(1, Math.ceil(eastingM.length / MAX_PLACES));
  const path = eastingM.flatMap((e, i): Array<[number, number]> =>
    i % step === 0 && Number.isFinite(e) && Number.isFinite(northingM[i])
      ? [[Math.round(10 * e) / 10, Math.round(10 * northingM[i]) / 10]]
      : [],
  );
  if (kept.size >= MAX_KEPT) kept.clear();
  kept.set(object, path);
  return path;
}
