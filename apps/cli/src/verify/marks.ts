import { checkMarks, type Neighbourhood } from '@longheron/core/accuracy';
import { type Head, type TrueReturns, HEADS } from '@longheron/site/drive';
import { DISTURBED_MARK, surveyedMarks, trueMarks } from '@longheron/site/marks';
import { KIND } from '@longheron/site/objects';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { line, truthOf } from './truth';
import { pick, placeAll } from './placed';

export function marksOverSeeds(): void {
  const near: Record<string, TrueReturns> = {};
  const marks = trueMarks();
  for (const head of HEADS) {
    const truth = truthOf[head];
    const rows: number[] = [];
    for (let i = 0; i < truth.count; i++) {
      if (truth.kind[i] > KIND.footway) continue;
      const x = truth.eastingM[i] - SITE_ORIGIN_E,
        y = truth.northingM[i] - SITE_ORIGIN_N;
      if (marks.some((m) => Math.abs(m.x - x) < 0.8 && Math.abs(m.y - y) < 0.8)) rows.push(i);
    }
    near[head] = pick(truth, Int32Array.from(rows));
  }
  let good = 0,
    flagged = 0,
    wronglyFlagged = 0;
  const all: number[] = [];
  for (let seed = 1; seed <= 20; seed++) {
    const { set } = placeAll(seed, near as Record<Head, TrueReturns>);
    const given = surveyedMarks(seed);
    const check = checkMarks(
      given,
      (m): Neighbourhood => {
        const dx: number[] = [],
          dy: number[] = [],
          z: number[] = [];
        for (let i = 0; i < set.count; i++) {
          const ex = set.x[i] + set.origin[0] - m.eastingM,
            ey = set.y[i] + set.origin[1] - m.northingM;
          if (ex * ex + ey * ey < 1) {
            dx.push(ex);
            dy.push(ey);
            z.push(set.z[i]);
          }
        }
        return { dx: Float64Array.from(dx), dy: Float64Array.from(dy), z: Float64Array.from(z) };
      },
      0.0125,
    );
    const hard = check.residuals.filter((r) => r.used && r.cover === 'hard').map((r) => r.residualM);
    const rmse = Math.sqrt(hard.reduce((s, r) => s + r * r, 0) / hard.length);
    all.push(rmse);
    if (rmse <= 0.02) good++;
    for (const r of check.residuals)
      if (r.flagged) {
        if (r.mark.name === DISTURBED_MARK) flagged++;
        else wronglyFlagged++;
      }
  }
  line(
    'RMSE at check marks on hard ground at most 2 cm',
    `${good} of 20 seeds, worst ${(100 * Math.max(...all)).toFixed(2)} cm`,
    'at least 19 of 20',
    good >= 19,
  );
  line('disturbed control mark flagged', `${flagged} of 20 seeds`, 'all', flagged === 20);
  line('good marks flagged', `${wronglyFlagged} in 20 seeds`, 'none', wronglyFlagged === 0);
}
