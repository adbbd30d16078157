import declaration from '@longheron/contract/operations/correct';
import { fitHeight } from '@longheron/core/accuracy';
import { part, Problem } from '@longheron/core/shared';
import { LasFile, writeShifted } from '@longheron/formats/las';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { storeCloud } from '../shared/stored';
import { finite, systemFrom } from '../shared/words';

const FEWEST = 3;

/**
 * Takes the residual that marks have in common out of a cloud's heights, robustly, unless a shift would hide a tilt. The
 * marks that it is taken from are kept with the cloud: they cannot prove it afterwards.
 */
export default computation(declaration, async ({ cloud, check }, { by }, context, out, watch) => {
  const builder = new ReportBuilder('correct', { by });
  const used = check.content.figures.marks.filter(
    (m) => m.role === by && m.cover === 'hard' && m.residual_m !== null && !m.flagged && !m.left_out,
  );
  if (used.length < FEWEST)
    throw new Problem(`Only ${used.length} ${by} marks on hard ground agree and were found; ${FEWEST} are needed.`, {
      code: 'few-marks',
      remedy: 'Choose the other role, or survey more marks.',
    });
  const {
    shiftM: valueM,
    sdM,
    weight,
    trend,
    tiltM,
    tilted,
  } = fitHeight(
    used.map((m) => ({
      name: m.name,
      eastingM: m.easting_m,
      northingM: m.northing_m,
      residualM: m.residual_m!,
    })),
  );
  if (tilted && trend)
    throw new Problem(
      `The residuals are tilted by ${(100 * tiltM).toFixed(1)} cm from end to end of the marks (${(1000 * trend.east).toFixed(1)} mm on 100 m to the east, ${(1000 * trend.north).toFixed(1)} mm to the north; by chance in ${(100 * trend.chance).toFixed(2)} of 100).`,
      {
        code: 'correct-tilt',
        remedy:
          'A shift would hide that. Look for its cause: a strip that drifts, a wrong geoid, a base at a wrong height; or adjust the strips with control marks.',
      },
    );
  const { verticalMetresPerUnit } = systemFrom(context).definition;
  const file = await LasFile.openPath(await cloud.las());
  const move = -valueM / verticalMetresPerUnit;
  const las = await out
    .file('cloud', 'las', (path) => writeShifted(file, path, move, part(watch, 0, 0.3)))
    .finally(() => file.close());
  const stored = out.keeps ? await storeCloud(out.store, las.sha256, part(watch, 0.3, 1)) : undefined;
  const names = used.filter((_, i) => weight[i] > 0).map((m) => m.name);
  const least = used.filter((_, i) => weight[i] === 0).map((m) => m.name);
  builder.notice({
    code: 'bias-taken-out',
    severity: 'info',
    text: `All heights were moved by ${(-100 * valueM).toFixed(2)} cm, the mean of ${names.length} ${by} marks (1 SD ${(100 * sdM).toFixed(2)} cm).`,
    effect: `These marks cannot prove this cloud: ${names.join(', ')}.${least.length ? ` ${least.join(', ')} stood apart and did not count.` : ''}`,
    remedy: 'Check it with marks that were not used.',
  });
  return {
    content: {
      las: las.sha256,
      bytes: las.bytes,
      ...stored,
      crs: context.crs,
      corrected: { valueM, sdM, t: finite(valueM / sdM), by, marks: names },
    },
    hash: las.sha256,
    report: builder.finish(context.crs ?? null, { moved_m: -valueM, sd_m: sdM, marks: names }),
    log: [`Moved by ${(-valueM).toFixed(4)} m, from ${names.join(', ')}.`],
  };
});
