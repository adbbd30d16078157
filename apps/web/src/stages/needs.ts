import { type DatasetDto, type ProjectDto } from '@longheron/contract/api';
import { type DatasetKind } from '@longheron/contract/api';
import { type Stage } from '@longheron/contract/stages';

/** Something that has to be there before a stage can begin. */
export interface Need {
  what: string;
  met: (datasets: readonly DatasetDto[], project: ProjectDto | null) => boolean;
  /** Stage where it is made or brought in. */
  from?: Stage;
}

const some =
  (...kinds: DatasetKind[]) =>
  (datasets: readonly DatasetDto[]) =>
    datasets.some((d) => kinds.includes(d.kind));
const system: Need = {
  what: 'The coordinate system of the project: the line above sets it.',
  met: (_, project) => !!project?.reference,
};
const cloud: Need = {
  what: 'A cloud, placed here or imported as LAS, LAZ, E57, PLY or text.',
  met: some('point-cloud'),
  from: 'place',
};
const GROUND = '2';
const hasGround = (datasets: readonly DatasetDto[]) =>
  datasets.some((d) => d.kind === 'point-cloud' && !!d.revision.content.countsByClass?.[GROUND]);

/** What each stage makes, what it needs for that, and what comes after. */
export const NEEDS: Record<Stage, { makes: string; needs: Need[]; then?: string }> = {
  gather: {
    makes: 'Bring the files of one survey',
    needs: [
      {
        what: 'Where the sensors were: a trajectory, or GNSS observations of rover and base with inertial data.',
        met: some('trajectory', 'gnss-observations'),
      },
      {
        what: 'What they measured: laser returns with the mounting of the scanners, or clouds that are made already.',
        met: some('laser-returns', 'point-cloud'),
      },
      { what: 'What proves it: marks with known heights and places.', met: some('marks') },
    ],
    then: 'Out come a classified cloud, residuals at the marks, a terrain model and a report. Each file is recognised by its content; none is changed.',
  },
  position: {
    makes: 'Compute a trajectory',
    needs: [
      {
        what: 'GNSS observations of the receiver that moved, and of a base.',
        met: some('gnss-observations'),
        from: 'gather',
      },
      { what: 'Navigation data of the same hours.', met: some('gnss-navigation'), from: 'gather' },
      { what: 'For attitude: inertial data of the vehicle.', met: some('inertial'), from: 'gather' },
    ],
    then: 'Or import a trajectory that was computed elsewhere.',
  },
  place: {
    makes: 'Make the cloud',
    needs: [
      { what: 'A trajectory, computed here or imported.', met: some('trajectory'), from: 'position' },
      { what: 'Laser returns.', met: some('laser-returns'), from: 'gather' },
      { what: 'The mounting of the scanners.', met: some('mounting'), from: 'gather' },
      system,
    ],
  },
  clean: {
    makes: 'Classify the cloud',
    needs: [cloud],
    then: 'Noise points, ground and other classes are found by themselves and corrected by hand.',
  },
  prove: {
    makes: 'Check the cloud against the marks',
    needs: [cloud, { what: 'Marks that had no part in making it.', met: some('marks'), from: 'gather' }],
    then: 'Heights, plan, strips, density and classes are each checked in a panel of their own.',
  },
  deliver: {
    makes: 'Make the products',
    needs: [
      { what: 'A cloud with ground.', met: hasGround, from: 'clean' },
      { what: 'For the report: a check of heights.', met: some('residuals'), from: 'prove' },
    ],
    then: 'Terrain model, contours and TIN, clouds in any open format, and one report.',
  },
};
