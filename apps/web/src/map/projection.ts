import { addProjection, get as getProjection, Projection } from 'ol/proj';
import { register } from 'ol/proj/proj4';
import proj4 from 'proj4';
import { planTextOf, type ProjectDto } from '@longheron/contract/api';

/** Code of the system that a map is drawn in: the project's plan in metres. Known to the map from then on. */
export function projectionOf(project: ProjectDto | null): string {
  const r = project?.reference;
  if (!r) return 'EPSG:3857';
  const code = planTextOf(r);
  if (!r.proj4) {
    // a local system lies on paper: metres east and north, without longitude and latitude
    if (!getProjection(code)) addProjection(new Projection({ code, units: 'm', metersPerUnit: 1 }));
    return code;
  }
  proj4.defs(code, `${r.proj4.replace(/\+units=\S+|\+to_meter=\S+/g, '')} +units=m`);
  register(proj4);
  if (r.bbox) {
    const [north, west, south, east] = r.bbox;
    getProjection(code)?.setWorldExtent([west, south, east, north]);
  }
  return code;
}
