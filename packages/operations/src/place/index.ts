import declaration from '@longheron/contract/operations/place';
import { type Contents } from '@longheron/contract/kinds';
import { type ReturnLimits } from '@longheron/core/laser';
import { part, type Notice } from '@longheron/core/shared';
import { computation } from '../computation/types';
import { centimetres, namesOf, systemFrom } from '../shared/words';
import { storeCloud } from '../shared/stored';
import { placeReturns, type PlaceResult } from './place';

export {
  placeReturns,
  sensorFor,
  trajectoryFrame,
  type PlaceRequest,
  type PlaceResult,
  type PlacedStrip,
} from './place';

/** Laser returns and a trajectory to a cloud. */
export default computation(declaration, async ({ trajectory, returns, mounting }, settings, context, out, watch) => {
  const { minLengthM, turnDegPerS, targetPerM2, trajectoryCrs, ...rest } = settings;
  const limits: ReturnLimits = rest;
  let made!: PlaceResult;
  const las = await out.file('cloud', 'las', async (outPath) => {
    made = await placeReturns(
      {
        trajectoryPath: trajectory.path,
        returnsPaths: returns.map((r) => r.path),
        mounting: mounting.mounting,
        system: systemFrom(context),
        outPath,
        trajectoryCrs,
        limits,
        names: namesOf([trajectory, ...returns]),
        strips: { minLengthM, turnDegPerS },
      },
      part(watch, 0, out.keeps ? 0.5 : 1),
    );
  });
  const { report, strips, leftOut, figures } = made;
  const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.5, 1), targetPerM2) : undefined;
  const notices = [...report.notices, ...densityNotices(stored?.density)];
  return {
    content: {
      las: las.sha256,
      bytes: las.bytes,
      ...stored,
      figures: { ...report, ...figures, inputs: undefined },
      crs: context.crs,
    },
    hash: las.sha256,
    report: { ...report, notices },
    log: [`${figures.points_out} points placed in ${report.seconds} s.`],
    lines: [
      `${figures.points_out} of ${figures.points_in} returns placed in ${report.crs}, ${figures.points_outside_trajectory} outside the trajectory.`,
      `Stated precision (1 SD, RMS): E ${centimetres(figures.sd_e_m)}, N ${centimetres(figures.sd_n_m)}, H ${centimetres(figures.sd_h_m)}.`,
      ...strips.map(
        (s) => `Strip ${s.id}: ${(s.endSow - s.startSow).toFixed(1)} s, ${s.lengthM.toFixed(0)} m, ${s.points} points`,
      ),
      ...leftOut.map(
        (s) => `Left out (${s.leftOut}): ${(s.endSow - s.startSow).toFixed(1)} s, ${s.lengthM.toFixed(0)} m`,
      ),
    ],
  };
});

function densityNotices(density: Contents['point-cloud']['density']): Notice[] {
  if (!density || density.belowShare < 0.5) return [];
  return [
    {
      code: 'density',
      severity: 'info',
      text: `${Math.round(100 * density.belowShare)} % of the square metres with points hold fewer than ${density.targetPerM2}.`,
      effect: 'Small things and steep edges may be missed there.',
      remedy: 'See the density in plan; far from the path it is always thinner.',
    },
  ];
}
