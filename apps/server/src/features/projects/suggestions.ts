import { findSystem, proposeSystem, systemParts } from '@longheron/formats/crs';
import { factsOf } from '../../trail';
import { Dataset, Revision } from '../../database/models';

export interface Suggestion {
  horizontal: number;
  name: string;
  vertical: number;
  because: string;
}

/** ETRS89 / UTM zones exist as EPSG codes for 28 to 38. */
const ETRS_ZONES: [number, number] = [28, 38];

/** UTM zone of a longitude, degrees. */
export const zoneOf = (lonDeg: number) => Math.min(60, Math.max(1, Math.floor((lonDeg + 180) / 6) + 1));

/** The UTM system of a place: ETRS89 when the frame says so and the zone exists, else WGS 84. */
export function utmCode(latDeg: number, lonDeg: number, frame: string | null): number {
  const zone = zoneOf(lonDeg);
  const european = /4937|4258|4936/.test(frame ?? '') && latDeg > 0 && zone >= ETRS_ZONES[0] && zone <= ETRS_ZONES[1];
  return european ? 25800 + zone : (latDeg >= 0 ? 32600 : 32700) + zone;
}

/** Kinds of files whose own system may be that of the project. */
const NAMING: readonly string[] = ['marks', 'point-cloud', 'raster', 'outlines'];
/** Positions in headers lie within some metres of the truth: good enough for a zone. */
const ROUGH: readonly string[] = ['gnss-observations', 'photos'];

/** Zones of a span of longitudes, in words when it is more than one. */
const acrossZones = (from: number, to: number) =>
  zoneOf(from) === zoneOf(to) ? '' : ', though it crosses into another zone';

/** What the files taken in say of the system to work in: trajectories first, then what names one, then headers. */
export async function suggestReferences(projectId: number): Promise<Suggestion[]> {
  const out: Array<Suggestion & { weight: number; heightsSaid: boolean }> = [];
  const add = (weight: number, horizontal: number, vertical: number, because: string, heightsSaid = true) => {
    const entry = findSystem(horizontal);
    if (entry?.kind === 'projected' && !out.some((s) => s.horizontal === horizontal && s.vertical === vertical))
      out.push({ horizontal, name: entry.name, vertical, because, weight, heightsSaid });
  };
  const around = (lat: number, lon: number) => `${lat.toFixed(3)}\u00b0, ${lon.toFixed(3)}\u00b0`;
  for (const d of await Dataset.findAll({ where: { projectId } })) {
    const revision = d.currentRevisionId ? await Revision.findByPk(d.currentRevisionId) : null;
    const facts = revision ? factsOf(revision) : undefined;
    const stated = revision && 'crs' in revision.content ? revision.content.crs : undefined;
    const said = facts?.extent?.crs ?? stated ?? null;
    const extent = facts?.extent;
    const inDegrees = extent && [...extent.min.slice(0, 2), ...extent.max.slice(0, 2)].every(Number.isFinite);
    const parts = systemParts(said ?? '');
    if ((d.kind === 'trajectory' || ROUGH.includes(d.kind)) && inDegrees) {
      const { min, max } = extent;
      const [lon, lat] = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2];
      const rough = d.kind !== 'trajectory';
      const where = `"${d.name}" lies around ${around(lat, lon)}${acrossZones(min[0], max[0])}`;
      if (rough) add(2, proposeSystem(lat, lon)?.code ?? 0, 5773, `${where}, by its header`);
      else add(0, utmCode(lat, lon, said), 5773, where);
    } else if (NAMING.includes(d.kind) && typeof parts?.plan === 'number') {
      const heights = typeof parts.heights === 'number' ? parts.heights : 0;
      add(1, parts.plan, heights, `"${d.name}" names it`, parts.heights !== undefined);
    }
  }
  // a plan without heights says nothing beside the same plan with them
  const isSaid = (s: (typeof out)[number]) =>
    s.heightsSaid || !out.some((o) => o !== s && o.heightsSaid && o.horizontal === s.horizontal);
  return out
    .filter(isSaid)
    .sort((a, b) => a.weight - b.weight)
    .map(({ weight: _weight, heightsSaid: _said, ...s }) => s);
}
