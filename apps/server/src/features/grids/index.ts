import { type Router } from 'express';
import { type KnownPointDto } from '@longheron/contract/api';
import { KnownPoint } from '@longheron/contract/requests';
import { DEG, gridNameOf, judgeKnownPoint, parseAngle } from '@longheron/core/frames';
import { geoidNamed } from '@longheron/formats/crs';
import { bodyOf } from '../../http/body';
import { objectOf } from '../../trail';
import { heldOf } from '../datasets/find';
import { projectOf } from '../projects';

const NO_GEOID = 'Only a geoid grid can be held against a known point.';

/** Grids of the project against what is known. */
export function gridRoutes(api: Router): void {
  /** Holds a geoid against a point whose two heights are known. */
  api.post('/projects/:projectId/datasets/:id/known-point', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await heldOf(request, Number(project.id), 'geoid', NO_GEOID);
    const { latitude, longitude, hEllM, heightM } = bodyOf(request, KnownPoint);
    const [lat, lon] = [parseAngle(latitude, 'latitude') * DEG, parseAngle(longitude, 'longitude') * DEG];
    const geoid = geoidNamed(gridNameOf(dataset.name, objectOf(revision)!));
    response.json(judgeKnownPoint(geoid, lat, lon, hEllM, heightM) satisfies KnownPointDto);
  });
}
