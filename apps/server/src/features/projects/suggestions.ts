import { findSystem } from '@longheron/formats/crs';
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

/** What the files taken in say of the system to work in. */
export async function suggestReferences(projectId: number): Promise<Suggestion[]> {
  const out: Suggestion[] = [];
  const add = (horizontal: number, vertical: number, because: string) => {
    const entry = findSystem(horizontal);
    if (entry && !out.some((s) => s.horizontal === horizontal && s.vertical === vertical))
      out.push({ horizontal, name: entry.name, vertical, because });
  };
  for (const d of await Dataset.findAll({ where: { projectId } })) {
    const revision = d.currentRevisionId ? await Revision.findByPk(d.currentRevisionId) : null;
    const facts = revision ? factsOf(revision) : undefined;
    const stated = revision && 'crs' in revision.content ? revision.content.crs : undefined;
    const said = facts?.extent?.crs ?? stated ?? null;
    const codes = /(\d{4,5})(?:\+(?:EPSG:)?(\d{4,5}))?/.exec(said ?? '');
    if (d.kind === 'trajectory' && facts?.extent) {
      const { min, max } = facts.extent;
      const [lon, lat] = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2];
      const zones = zoneOf(min[0]) !== zoneOf(max[0]) ? ', though the drive crosses into another zone' : '';
      add(
        utmCode(lat, lon, said),
        5773,
        `"${d.name}" lies around ${lat.toFixed(3)}\u00b0, ${lon.toFixed(3)}\u00b0${zones}`,
      );
    } else if ((d.kind === 'marks' || d.kind === 'point-cloud') && codes)
      add(Number(codes[1]), Number(codes[2] ?? 0), `"${d.name}" names it`);
  }
  return out;
}
