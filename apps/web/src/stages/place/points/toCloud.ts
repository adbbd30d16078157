import { isOf, type CloudIndex, type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../../../api/client';
import { type useCloudLook } from '../../../stores/cloudLook';
import { panelPath } from '../../address';

/** From where a place is looked at: south of it and above, metres. */
const FROM: readonly [number, number, number] = [0, -14, 10];

/** The cloud that a place is shown in: the one that was worked on last. */
export const shownCloud = (datasets: readonly DatasetDto[]): DatasetOf<'point-cloud'> | undefined =>
  datasets
    .filter((d) => isOf(d, 'point-cloud'))
    .filter((d) => d.revision.content.index && d.stage !== 'gather')
    .at(-1);

/** Turns the view of a cloud to a place of the project. @returns the address of the panel that shows it. */
export async function lookAtCloud(
  cloud: DatasetOf<'point-cloud'>,
  [e, n, h]: readonly [number, number, number],
  look: ReturnType<typeof useCloudLook>,
  project: number,
): Promise<string> {
  const { origin } = await objectJson<CloudIndex>(cloud.revision.content.index!);
  const target = [e - origin[0], n - origin[1], h - origin[2]];
  const position = target.map((v, k) => v + FROM[k]);
  look.cameras = { ...look.cameras, [String(cloud.id)]: { position, target, zoom: 1 } };
  const panel = cloud.stage === 'place' ? 'cloud' : 'clouds';
  return panelPath(String(project), cloud.stage, panel, cloud.id);
}
